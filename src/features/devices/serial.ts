import { readSerialLine, type LineFormat } from "@/core/ingest/serialLine";
import { Outbox } from "@/ui/outbox";
import { SaidError } from "@/ui/said";

/** What is used of the browser's serial port. */
export interface SerialPortLike {
  open(options: { baudRate: number }): Promise<void>;
  close(): Promise<void>;
  readable: ReadableStream<Uint8Array> | null;
}

interface StampedFrame {
  time: number;
  values: Record<string, number>;
}

const BATCH = 500;
/** Frames kept without a link: a day of one a second is more than a browser's store holds, so the oldest go. */
const MOST_WAITING = 20_000;

const isFrame = (value: unknown): boolean => {
  const { time, values } = (value ?? {}) as Partial<StampedFrame>;
  return Number.isFinite(time) && typeof values === "object" && values !== null;
};

const frames = new Outbox<StampedFrame>("bravel-serial-waiting", isFrame, MOST_WAITING);
export const framesWaiting = (): number => frames.waiting().length;
export const putFrame = (frame: StampedFrame): void => frames.put(frame);

/** What waits behind a batch that has arrived; meanwhile the oldest of it may have gone. */
function behind(list: readonly StampedFrame[], batch: readonly StampedFrame[]): StampedFrame[] {
  const last = batch[batch.length - 1].time;
  const from = list.findIndex((frame, i) => i >= batch.length || frame.time > last);
  return from < 0 ? [] : list.slice(from);
}

/**
 * Sends the frames that wait, in order, until they are acknowledged.
 * @returns what was left out, in words; null when all was kept or nothing could be sent
 */
export async function sendFrames(token: string | null): Promise<string | null> {
  if (!token) return null;
  let left: string | null = null;
  await frames.send(
    (list) => list.slice(0, BATCH),
    (batch) =>
      fetch("/api/readings", {
        method: "POST",
        headers: { authorization: `Bearer ${token}`, "content-type": "application/json" },
        body: JSON.stringify({ frames: batch }),
      }),
    async (batch, response) => {
      if (response.status !== 200 && response.status !== 422) return false;
      const { rejected } = (await response.json()) as { rejected: { at?: string; why: string }[] };
      frames.keep(behind(frames.waiting(), batch));
      if (rejected.length) left = `${rejected[0].at ?? "a line"}: ${rejected[0].why}`;
      return true;
    },
  );
  return left;
}

/** Lines of a port, until it is closed or pulled out. The first is thrown away: nobody knows where it began. */
export async function readLines(
  port: SerialPortLike,
  onLine: (line: string) => void,
  signal: AbortSignal,
): Promise<void> {
  if (!port.readable) throw new SaidError("The port gives nothing to read.");
  const decoder = new TextDecoder();
  const reader = port.readable.getReader();
  signal.addEventListener("abort", () => void reader.cancel().catch(() => undefined));
  let carry = "";
  let first = true;
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done || signal.aborted) return;
      carry += decoder.decode(value, { stream: true });
      const lines = carry.split(/\r?\n/);
      carry = lines.pop()!.slice(-4000);
      for (const line of lines) {
        if (!first && line.trim() !== "") onLine(line);
        first = false;
      }
    }
  } finally {
    reader.releaseLock();
  }
}

/** A line as a frame of now; words for one that cannot be taken. */
export function frameOf(line: string, format: LineFormat, nowMs: number): StampedFrame | string {
  const read = readSerialLine(line, format);
  return read.ok ? { time: nowMs, values: Object.fromEntries(read.values) } : read.why;
}
