/** Shows a slow step with its running time; on a pipe one line at the start, every half minute, and the end. */
export async function step<T>(title: string, work: (note: (text: string) => void) => Promise<T>): Promise<T> {
  const started = Date.now();
  const seconds = () => Math.round((Date.now() - started) / 1000);
  const live = process.stdout.isTTY;
  let detail = "";
  const draw = () => process.stdout.write(`\r\x1b[2K${title}: ${detail ? `${detail}, ` : ""}${seconds()} s`);
  let timer: NodeJS.Timeout | undefined;
  if (live) timer = setInterval(draw, 250);
  else {
    console.log(`${title} …`);
    timer = setInterval(() => console.log(`  ${title}: ${detail ? `${detail}, ` : ""}${seconds()} s`), 30000);
  }
  try {
    const result = await work((text) => {
      detail = text;
    });
    clearInterval(timer);
    if (live) process.stdout.write("\r\x1b[2K");
    console.log(`${title}: done${detail ? `, ${detail}` : ""}${seconds() > 0 ? ` (${seconds()} s)` : ""}`);
    return result;
  } catch (error) {
    clearInterval(timer);
    if (live) process.stdout.write("\n");
    throw error;
  }
}

export const DISK_FULL =
  "the disk is full. Nothing that was stored before is lost: free some space, then start Bravel again.";

/** Whether a failure comes from a disk without space, by its code or by what a program said of it. */
export const isDiskFull = (error: unknown): boolean =>
  (error as NodeJS.ErrnoException | null)?.code === "ENOSPC" ||
  /No space left on device|ENOSPC|Disk full|errno: 28\b/i.test(error instanceof Error ? error.message : "");

/** A failure whose message already says what, why and the way out. */
export class LaunchError extends Error {}
