import { join, resolve } from "node:path";
import { build } from "esbuild";

/** Where the threads' file lies within a build. */
export const heavyFile = (dist: string): string => resolve(join(dist, "heavy", "worker.cjs"));

/** What runs in the server's process before the server itself. */
export const beforehandFile = (dist: string): string => resolve(join(dist, "heavy", "beforehand.cjs"));

/**
 * Builds what the framework does not: the file of the computing threads, with the packages that must stay packages left out, and what runs
 * before the server.
 */
export async function buildHeavy(dist: string): Promise<void> {
  await Promise.all([
    bundle("src/services/heavy/worker.ts", heavyFile(dist)),
    bundle("scripts/launcher/beforehand.ts", beforehandFile(dist)),
  ]);
}

async function bundle(entry: string, outfile: string): Promise<void> {
  await build({
    entryPoints: [entry],
    outfile,
    bundle: true,
    platform: "node",
    target: "node20",
    format: "cjs",
    external: ["knex", "mysql2", "pino"],
    sourcemap: "linked",
    logLevel: "error",
  });
}
