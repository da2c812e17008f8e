import { spawn, type ChildProcess } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { buildHeavy, heavyFile } from "./heavy";
import { LaunchError, step } from "./progress";
import { run } from "./run";

/** Where builds lie: the one people use, and the tests’ own. */
export const DIST = ".next";
export const TEST_DIST = ".next-test";
const SOURCES = ["src", "package-lock.json", "next.config.ts", "postcss.config.mjs", "tsconfig.json"];

/** Builds the application into `dist` unless the last build there came from the very same sources. */
export async function ensureBuild(dist: string): Promise<void> {
  const fingerprint = sourceFingerprint();
  const stamp = join(dist, "bravel-stamp");
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === fingerprint && existsSync(join(dist, "BUILD_ID"))) return;
  await step("Application: building (about a minute)", async () => {
    dropRouteTypes();
    const built = await run(process.execPath, ["node_modules/next/dist/bin/next", "build"], {
      quiet: true,
      env: { ...process.env, NEXT_TELEMETRY_DISABLED: "1", NODE_ENV: "production", BRAVEL_DIST: dist },
    });
    if (built.code !== 0)
      throw new LaunchError(`building failed:\n${built.output.trim().split("\n").slice(-40).join("\n")}`);
  });
  await buildHeavy(dist);
  writeFileSync(stamp, fingerprint);
}

/** What an earlier build wrote about its routes: a route that is gone since would fail the type check of this one. */
export function dropRouteTypes(): void {
  for (const dist of [DIST, TEST_DIST]) rmSync(join(dist, "types"), { recursive: true, force: true });
}

function sourceFingerprint(): string {
  const hash = createHash("sha256");
  const visit = (path: string) => {
    if (!existsSync(path)) return;
    if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) visit(join(path, name));
    else if (!/\.test\.tsx?$/.test(path)) hash.update(path).update(readFileSync(path));
  };
  for (const source of SOURCES) visit(source);
  return hash.digest("hex");
}

export interface WebServer {
  address: string;
  process: ChildProcess;
  stop(): Promise<void>;
}

/** Starts the built application and waits until its first page really answers. */
export async function startWeb(options: {
  port: number;
  databaseUrl: string;
  dist: string;
  quiet: boolean;
}): Promise<WebServer> {
  const address = `http://127.0.0.1:${options.port}`;
  const child = spawn(
    process.execPath,
    ["node_modules/next/dist/bin/next", "start", "-H", "127.0.0.1", "-p", String(options.port)],
    {
      env: {
        ...process.env,
        BRAVEL_DATABASE_URL: options.databaseUrl,
        NODE_ENV: "production",
        NEXT_TELEMETRY_DISABLED: "1",
        BRAVEL_DIST: options.dist,
        BRAVEL_HEAVY: heavyFile(options.dist),
      },
      stdio: ["ignore", "pipe", "pipe"],
    },
  );
  let output = "";
  for (const stream of [child.stdout, child.stderr]) {
    stream?.on("data", (data: Buffer) => {
      output = (output + data.toString()).slice(-16384);
      if (!options.quiet && stream === child.stderr) process.stderr.write(data);
    });
  }
  let exited = false;
  child.on("exit", () => {
    exited = true;
  });
  const stop = async () => {
    if (exited) return;
    child.kill("SIGTERM");
    for (let i = 0; i < 50 && !exited; i++) await new Promise((r) => setTimeout(r, 100));
    if (!exited) child.kill("SIGKILL");
  };
  await step("Application: starting", async () => {
    for (let i = 0; i < 600; i++) {
      if (exited) throw new LaunchError(`the application ended while starting:\n${output.trim()}`);
      try {
        const page = await fetch(`${address}/`, { signal: AbortSignal.timeout(60000) });
        const text = await page.text();
        if (page.ok && text.includes("Bravel")) return;
        if (page.status >= 500)
          throw new LaunchError(
            `the application answers with an error (${page.status}):\n${output.trim().split("\n").slice(-20).join("\n")}`,
          );
      } catch (error) {
        if (error instanceof LaunchError) throw error;
      }
      await new Promise((r) => setTimeout(r, 200));
    }
    throw new LaunchError(`the application did not answer at ${address} within two minutes.\n${output.trim()}`);
  }).catch(async (error) => {
    await stop();
    throw error;
  });
  return { address, process: child, stop };
}
