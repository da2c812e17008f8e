import { spawn, type SpawnOptions } from "node:child_process";
import { createWriteStream } from "node:fs";

export interface Finished {
  code: number;
  output: string;
}

/** Runs a command to its end; output goes to the terminal or, when quiet, is kept (last 64 kB). */
export function run(
  command: string,
  args: string[],
  options: SpawnOptions & {
    quiet?: boolean;
    logFile?: string;
    onSpawn?: (pid: number | undefined) => void;
    /** Fed to it; for what must not stand on its command line. */
    input?: string;
  } = {},
): Promise<Finished> {
  const { quiet = false, logFile, input, onSpawn, ...spawnOptions } = options;
  const fed = input === undefined ? "ignore" : "pipe";
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      ...spawnOptions,
      stdio: quiet ? [fed, "pipe", "pipe"] : [fed, "inherit", "inherit"],
    });
    onSpawn?.(child.pid);
    if (input !== undefined) child.stdin?.end(input);
    const log = logFile ? createWriteStream(logFile) : undefined;
    let output = "";
    for (const stream of [child.stdout, child.stderr]) {
      stream?.on("data", (data: Buffer) => {
        output = (output + data.toString()).slice(-65536);
        log?.write(data);
      });
    }
    child.on("error", reject);
    child.on("close", (code) => {
      log?.end();
      resolve({ code: code ?? 1, output });
    });
  });
}

/** Whether a command can be found on the PATH (and in the system folders Debian keeps off a user's PATH). */
export async function which(command: string): Promise<string | null> {
  const path = `${process.env.PATH ?? ""}:/usr/sbin:/sbin`;
  const { code, output } = await run("sh", ["-c", `command -v ${command}`], {
    quiet: true,
    env: { ...process.env, PATH: path },
  });
  return code === 0 ? output.trim() : null;
}
