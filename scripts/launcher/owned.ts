import { readFileSync } from "node:fs";

/** A process as it was when it was started: its number alone may belong to another by now. */
export interface Owned {
  pid: number;
  /** Clock ticks since boot at which it began (field 22 of /proc/pid/stat, proc(5)), with the boot it belongs to. */
  began: string;
  /** Its command line, for a person who reads it; a program may change its own. */
  command: string;
}

const read = (path: string): string => {
  try {
    return readFileSync(path, "utf8");
  } catch {
    return "";
  }
};

/** What a living process is; null for a dead one, or for a zombie that only waits to be counted. */
export function describe(pid: number): Owned | null {
  const stat = read(`/proc/${pid}/stat`);
  // The name in brackets may hold blanks and brackets: the fields begin behind the last one.
  const fields = stat.slice(stat.lastIndexOf(")") + 2).split(" ");
  if (!stat || fields[0] === "Z") return null;
  const boot = read("/proc/sys/kernel/random/boot_id").trim();
  return { pid, began: `${boot} ${fields[19]}`, command: read(`/proc/${pid}/cmdline`).replaceAll("\0", " ").trim() };
}

/** Whether the very process is still alive: no other can have begun at the same tick under the same number. */
export const isAlive = (owned: Owned): boolean => describe(owned.pid)?.began === owned.began;

/** Ends a process, if it is still the one it was; by force when it does not go. */
export async function end(owned: Owned, patienceMs = 8000): Promise<void> {
  const signal = (name: "SIGTERM" | "SIGKILL") => {
    if (isAlive(owned)) process.kill(owned.pid, name);
  };
  signal("SIGTERM");
  for (let waited = 0; waited < patienceMs && isAlive(owned); waited += 100) await pause(100);
  signal("SIGKILL");
  for (let waited = 0; waited < 2000 && isAlive(owned); waited += 50) await pause(50);
}

export const pause = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));
