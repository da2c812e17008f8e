import type { Knex } from "knex";
import { PackageRefused } from "./open";
import { readPackage, type OpenedPackage } from "./read";

export type PackageEnd = ({ ok: true } & OpenedPackage) | { ok: false; error: string };

/** Opens a package that was sent, and says how it ended, as plain data. */
export async function openPackage(knex: Knex, fileId: number): Promise<PackageEnd> {
  try {
    return { ok: true, ...(await readPackage(knex, fileId)) };
  } catch (error) {
    if (error instanceof PackageRefused)
      return { ok: false, error: `This is no package Bravel opens. ${error.message}` };
    throw error;
  }
}
