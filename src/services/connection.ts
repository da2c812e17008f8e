import "server-only";
import type { Knex } from "knex";
import { createDatabase } from "@/data/database";

const holder = globalThis as { bravelDatabase?: Knex };

/** The process's pool, made at first use. Throws when the address is not configured. */
export function database(): Knex {
  const url = process.env.BRAVEL_DATABASE_URL;
  if (!url) throw new Error("BRAVEL_DATABASE_URL is not set; start Bravel with ./bravel start or ./bravel demo");
  return (holder.bravelDatabase ??= createDatabase(url));
}
