import type { Knex } from "knex";
import { removeFile } from "../../data/file/files";
import { PackageRefused } from "./open";
import { readPackage, type OpenedPackage } from "./read";

export type PackageEnd = ({ ok: true } & OpenedPackage) | { ok: false; error: string };

/** Opens a package that was sent, and says how it ended, as plain data. Of one that is refused nothing stays. */
export async function openPackage(knex: Knex, fileId: number): Promise<PackageEnd> {
  try {
    return { ok: true, ...(await readPackage(knex, fileId)) };
  } catch (error) {
    await removeFile(knex, fileId);
    if (error instanceof PackageRefused)
      return { ok: false, error: `This is no package Bravel opens. ${error.message}` };
    throw error;
  }
}
