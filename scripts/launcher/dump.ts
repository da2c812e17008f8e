import { spawn } from "node:child_process";
import { createReadStream, createWriteStream, mkdirSync, readdirSync, renameSync, rmSync } from "node:fs";
import { dirname, join } from "node:path";
import { pipeline } from "node:stream/promises";
import { createGunzip, createGzip } from "node:zlib";
import { ensureProgram } from "./packages";
import { LaunchError } from "./progress";

/** Table that holds who a database is. No copy takes it along, and no upgrade removes it: no other database ever has the same. */
export const IDENTITY = "bravel_identity";

/** How a database client reaches an address; the password goes by the environment, which no process list shows. */
function reach(url: string): { args: string[]; env: NodeJS.ProcessEnv; database: string } {
  const at = new URL(url);
  const args = [
    "--no-defaults",
    "--protocol=tcp",
    `--host=${at.hostname.replace(/^\[|\]$/g, "")}`,
    `--port=${at.port || 3306}`,
    `--user=${decodeURIComponent(at.username)}`,
    "--default-character-set=utf8mb4",
  ];
  return {
    args,
    env: { ...process.env, MYSQL_PWD: decodeURIComponent(at.password) },
    database: decodeURIComponent(at.pathname.slice(1)),
  };
}

function ended(child: ReturnType<typeof spawn>, what: string): Promise<void> {
  let said = "";
  child.stderr?.on("data", (d: Buffer) => {
    said = (said + d.toString()).slice(-4000);
  });
  return new Promise((resolve, reject) => {
    child.on("error", reject);
    child.on("close", (code) =>
      code === 0 ? resolve() : reject(new LaunchError(`${what} failed: ${said.trim() || `code ${code}`}`)),
    );
  });
}

/** Writes a database as one compressed file, as it was at one moment, while others go on using it. Whole or not at all. @param head first line of the file: a comment of SQL */
export async function dumpDatabase(url: string, file: string, head = ""): Promise<void> {
  const program = await ensureProgram("mariadb-dump", "mariadb-client", "A copy of the database");
  const { args, env, database } = reach(url);
  mkdirSync(dirname(file), { recursive: true, mode: 0o700 });
  const beside = `${file}.${process.pid}.new`;
  const child = spawn(
    program,
    [
      ...args,
      "--single-transaction",
      "--quick",
      "--hex-blob",
      "--skip-comments",
      `--ignore-table=${database}.${IDENTITY}`,
      database,
    ],
    {
      stdio: ["ignore", "pipe", "pipe"],
      env,
    },
  );
  try {
    await Promise.all([
      pipeline(
        async function* () {
          yield head;
          yield* child.stdout;
        },
        createGzip({ level: 3 }),
        createWriteStream(beside, { mode: 0o600, flush: true }),
      ),
      ended(child, "Writing the copy"),
    ]);
    renameSync(beside, file);
  } catch (error) {
    rmSync(beside, { force: true });
    throw error;
  }
}

/** Reads such a file into a database that holds none of its tables. */
export async function loadDatabase(url: string, file: string): Promise<void> {
  const program = await ensureProgram("mariadb", "mariadb-client", "A copy of the database");
  const { args, env, database } = reach(url);
  const child = spawn(program, [...args, "--max-allowed-packet=64M", database], {
    stdio: ["pipe", "ignore", "pipe"],
    env,
  });
  const done = ended(child, "Reading the copy");
  // When the client ends early its pipe breaks; what it said is the reason to show.
  const fed = pipeline(createReadStream(file), createGunzip(), child.stdin!).catch((e: NodeJS.ErrnoException) => {
    if (e.code !== "EPIPE") throw e;
  });
  await Promise.all([done, fed]);
}

/** Removes all but the newest files of a folder that match. @param needed never removed */
export function keepNewest(folder: string, match: RegExp, keep: number, needed: ReadonlySet<string> = new Set()): void {
  const files = readdirSync(folder)
    .filter((f) => match.test(f))
    .sort();
  for (const old of files.slice(0, Math.max(0, files.length - keep)))
    if (!needed.has(old)) rmSync(join(folder, old), { force: true });
}
