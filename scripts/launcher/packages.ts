import { pause } from "./owned";
import { run, which, type Finished } from "./run";
import { LaunchError, step } from "./progress";

/**
 * Installs a Debian package when its program is missing. Uses root, or sudo where that works; says what to type where neither does.
 */
export async function ensureProgram(program: string, packageName: string, purpose: string): Promise<string> {
  const found = await which(program);
  if (found) return found;
  const apt = await which("apt-get");
  if (!apt) {
    throw new LaunchError(
      `${purpose} needs ${program}, and this system has no apt-get to install it with. Install ${packageName} by your system's own means${program === "mariadbd" ? ", or set BRAVEL_DATABASE_URL to a MariaDB you have" : ""}, then run this again.`,
    );
  }
  const prefix = await rootPrefix(packageName);
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
  const once = (args: string[]) =>
    run(prefix[0] ?? args[0], prefix.length ? [...prefix.slice(1), ...args] : args.slice(1), { quiet: true, env });
  await step(`Debian package ${packageName}`, async (note) => {
    const aptRun = (args: string[]) => untilFree(() => once(args), note);
    note("reading package lists");
    await aptRun([apt, "update", "-qq"]);
    note("installing");
    const install = [apt, "install", "-y", "-qq", "--no-install-recommends", packageName];
    let result = await aptRun(install);
    if (result.code !== 0) {
      // A half-installed package (power cut, killed install) is finished first, then tried once more.
      note("finishing an interrupted installation");
      await aptRun(["dpkg", "--configure", "-a"]);
      await aptRun([apt, "install", "-y", "-qq", "-f"]);
      result = await aptRun(install);
    }
    if (result.code !== 0)
      throw new LaunchError(
        `installing ${packageName} failed. Debian's tools said:\n${result.output.trim().split("\n").slice(-12).join("\n")}\nMend that (often: no network, or another apt is running), then run this again.`,
      );
    note("");
  });
  const now = await which(program);
  if (!now) throw new LaunchError(`${packageName} is installed, yet ${program} cannot be found. Check your PATH.`);
  return now;
}

const BUSY = /Could not get lock|is another process using it|Unable to (?:acquire|lock)/;
const LOOK_AGAIN_MS = 5000;
const PATIENCE_MS = 900_000;

/** Debian's tools let one at a time install: waits for the other, saying so. */
export async function untilFree(
  work: () => Promise<Finished>,
  note: (text: string) => void,
  wait: (ms: number) => Promise<void> = pause,
): Promise<Finished> {
  for (let waited = 0; ; waited += LOOK_AGAIN_MS) {
    const result = await work();
    if (result.code === 0 || !BUSY.test(result.output) || waited >= PATIENCE_MS) return result;
    note("waiting: another program is installing packages");
    await wait(LOOK_AGAIN_MS);
  }
}

async function rootPrefix(packageName: string): Promise<string[]> {
  if (process.getuid?.() === 0) return [];
  const sudo = await which("sudo");
  const hint = `Ask somebody who may install packages to run:  apt-get install ${packageName}\nthen run this again.`;
  if (!sudo)
    throw new LaunchError(
      `${packageName} is missing, and installing it needs administrator rights that this account lacks.\n${hint}`,
    );
  const silent = await run(sudo, ["-n", "true"], { quiet: true });
  if (silent.code === 0) return [sudo, "-n"];
  if (!process.stdin.isTTY)
    throw new LaunchError(
      `${packageName} is missing, and sudo asks for a password that nobody can type here.\n${hint}`,
    );
  console.log(`Installing ${packageName} needs your password for sudo.`);
  return [sudo];
}
