import { spawn, type ChildProcess } from "node:child_process";
import { createHash } from "node:crypto";
import { appendFileSync, existsSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { buildHeavy, beforehandFile, heavyFile } from "./heavy";
import { LaunchError, step } from "./progress";
import { run } from "./run";

/** Where builds lie: the one people use, and the tests’ own. */
export const DIST = ".next";
export const TEST_DIST = ".next-test";
const SOURCES = ["src", "package-lock.json", "next.config.ts", "postcss.config.mjs", "tsconfig.json"];

/** Builds the application into `dist` unless the last build there came from the very same sources. */
export async function ensureBuild(
  dist: string,
  onSpawn: (pid: number | undefined) => void = () => undefined,
  options: { anew?: boolean } = {},
): Promise<void> {
  const fingerprint = sourceFingerprint();
  const stamp = join(dist, "bravel-stamp");
  const kept = existsSync(stamp) ? readFileSync(stamp, "utf8") : "";
  if (!options.anew && kept === `${fingerprint} ${builtFiles(dist)}`) return;
  if (kept.startsWith(fingerprint))
    console.log("Application: files of its build are missing or cut; building it anew.");
  // From here on there is no whole build: one interrupted half way is never taken for one.
  rmSync(stamp, { force: true });
  if (options.anew) rmSync(dist, { recursive: true, force: true });
  await step("Application: building (about a minute)", async () => {
    dropRouteTypes();
    const built = await run(process.execPath, ["node_modules/next/dist/bin/next", "build"], {
      quiet: true,
      onSpawn,
      env: { ...process.env, NEXT_TELEMETRY_DISABLED: "1", NODE_ENV: "production", BRAVEL_DIST: dist },
    });
    if (built.code !== 0)
      throw new LaunchError(`building failed:\n${built.output.trim().split("\n").slice(-40).join("\n")}`);
  });
  await buildHeavy(dist);
  writeFileSync(stamp, `${fingerprint} ${builtFiles(dist)}`);
}

/** Whether the application did not start because files of its build are missing or broken. */
export const isDamagedBuild = (error: Error): boolean =>
  /Cannot find module|MODULE_NOT_FOUND|ENOENT|production build|SyntaxError|Unexpected (?:token|end)|ChunkLoadError|did not answer|answers with an error \(500\)/.test(
    error.message,
  );

/** What an earlier build wrote about its routes: a route that is gone since would fail the type check of this one. */
export function dropRouteTypes(): void {
  for (const dist of [DIST, TEST_DIST]) rmSync(join(dist, "types"), { recursive: true, force: true });
}

/** Names and lengths of what a build made and nothing changes while it runs: a file lost or cut is noticed before the start. */
function builtFiles(dist: string): string {
  const hash = createHash("sha256");
  const visit = (path: string) => {
    if (!existsSync(path)) return;
    const found = statSync(path);
    if (found.isDirectory()) for (const name of readdirSync(path).sort()) visit(join(path, name));
    else if (/\.(?:js|cjs|mjs|css|woff2)$|BUILD_ID$/.test(path)) hash.update(`${path} ${found.size}\n`);
  };
  for (const part of ["BUILD_ID", "server", "static", "heavy"]) visit(join(dist, part));
  return hash.digest("hex");
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
  /** How it ended: a code, or the signal that ended it. */
  ended: Promise<number | string>;
  stop(): Promise<void>;
}

/** Starts the built application and waits until its first page really answers. */
export async function startWeb(options: {
  port: number;
  databaseUrl: string;
  dist: string;
  quiet: boolean;
  /** Takes everything it prints, beside or instead of the terminal. */
  log?: string;
  /** Where to listen; this computer only unless said. */
  host?: string;
  env?: Record<string, string>;
  /** Told at once, so that what is killed before it answers can be found again. */
  onSpawn?: (pid: number | undefined) => void;
  /** Ends it, also while it still starts. */
  signal?: AbortSignal;
}): Promise<WebServer> {
  const address = `http://127.0.0.1:${options.port}`;
  const child = spawn(
    process.execPath,
    // Pages are small; what computes has threads with heaps of their own (services/heavy).
    [
      "--max-semi-space-size=4",
      "--max-old-space-size=512",
      "--require",
      beforehandFile(options.dist),
      "node_modules/next/dist/bin/next",
      "start",
      "-H",
      options.host ?? "127.0.0.1",
      "-p",
      String(options.port),
    ],
    {
      env: {
        ...process.env,
        ...options.env,
        BRAVEL_DATABASE_URL: options.databaseUrl,
        NODE_ENV: "production",
        NEXT_TELEMETRY_DISABLED: "1",
        // A pool of memory for each thread would keep what none of them uses any more.
        MALLOC_ARENA_MAX: "2",
        BRAVEL_DIST: options.dist,
        BRAVEL_HEAVY: heavyFile(options.dist),
      },
      stdio: ["ignore", "pipe", "pipe"],
    },
  );
  options.onSpawn?.(child.pid);
  let output = "";
  for (const stream of [child.stdout, child.stderr]) {
    stream?.on("data", (data: Buffer) => {
      output = (output + data.toString()).slice(-16384);
      if (options.log) appendFileSync(options.log, data);
      if (!options.quiet && stream === child.stderr) process.stderr.write(data);
    });
  }
  let exited = false;
  const ended = new Promise<number | string>((done) =>
    child.on("exit", (code, signal) => {
      exited = true;
      done(code ?? signal ?? "unknown");
    }),
  );
  const stop = async () => {
    if (exited) return;
    child.kill("SIGTERM");
    for (let i = 0; i < 50 && !exited; i++) await new Promise((r) => setTimeout(r, 100));
    if (!exited) child.kill("SIGKILL");
  };
  options.signal?.addEventListener("abort", () => void stop());
  await step("Application: starting", async () => {
    for (let i = 0; i < 600; i++) {
      if (exited) throw new LaunchError(`the application ended while starting:\n${output.trim()}`);
      try {
        // A page that computes nothing; open to a network, the first that answers without a sign-in is the sign-in itself.
        const page = await fetch(`${address}${options.env?.BRAVEL_GUARD ? "/login" : "/new"}`, {
          signal: AbortSignal.timeout(60000),
        });
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
  // Whoever comes first finds the bench looked through.
  if (!options.env?.BRAVEL_GUARD) void fetch(address).catch(() => undefined);
  return { address, process: child, ended, stop };
}
