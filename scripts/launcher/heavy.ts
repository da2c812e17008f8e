import { join, resolve } from "node:path";
import { build } from "esbuild";

/** Where the threads' file lies within a build. */
export const heavyFile = (dist: string): string => resolve(join(dist, "heavy", "worker.cjs"));

/** Builds the file of the computing threads: one file beside the application, with the packages that must stay packages left out. */
export async function buildHeavy(dist: string): Promise<void> {
  await build({
    entryPoints: ["src/services/heavy/worker.ts"],
    outfile: heavyFile(dist),
    bundle: true,
    platform: "node",
    target: "node20",
    format: "cjs",
    external: ["knex", "mysql2", "pino"],
    sourcemap: "linked",
    logLevel: "error",
  });
}
