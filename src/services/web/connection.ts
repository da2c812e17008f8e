import "server-only";
import type { Knex } from "knex";
import { createDatabase } from "@/data/database";
import { readSettings } from "./settings";

const holder = globalThis as { bravelDatabase?: Knex };

/** The process's pool, made at first use. Throws when the address is not configured. */
export const database = (): Knex =>
  (holder.bravelDatabase ??= createDatabase(readSettings(process.env).BRAVEL_DATABASE_URL, { limited: true }));
