import { readSerialLine, type LineFormat } from "@/core/ingest/serialLine";
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

const STORE = "bravel-serial-waiting";
const BATCH = 500;
/** Frames kept without a link: a day of one a second is more than a browser's store holds, so the oldest go. */
const MOST_WAITING = 20_000;

const kept = (): StampedFrame[] => {
  try {
    return JSON.parse(localStorage.getItem(STORE) ?? "[]") as StampedFrame[];
  } catch {
    return [];
  }
};

/** Frames on their way: kept in the browser until they are acknowledged, sent in order. */
export class SerialOutbox {
  private waiting: StampedFrame[] = kept();
  private sending = false;

  constructor(private readonly token: () => string | null) {}

  get count(): number {
    return this.waiting.length;
  }

  add(frame: StampedFrame): void {
    this.waiting.push(frame);
    if (this.waiting.length > MOST_WAITING) this.waiting.splice(0, this.waiting.length - MOST_WAITING);
    localStorage.setItem(STORE, JSON.stringify(this.waiting));
  }

  /** @returns what was left out, in words; null when all was kept or nothing could be sent */
  async send(): Promise<string | null> {
    const token = this.token();
    if (this.sending || !token || !this.waiting.length) return null;
    this.sending = true;
    try {
      const batch = this.waiting.slice(0, BATCH);
      const response = await fetch("/api/readings", {
        method: "POST",
        headers: { authorization: `Bearer ${token}`, "content-type": "application/json" },
        body: JSON.stringify({ frames: batch }),
      }).catch(() => null);
      if (!response || (response.status !== 200 && response.status !== 422)) return null;
      this.waiting.splice(0, batch.length);
      localStorage.setItem(STORE, JSON.stringify(this.waiting));
      const { rejected } = (await response.json()) as { rejected: { at?: string; why: string }[] };
      return rejected.length ? `${rejected[0].at ?? "a line"}: ${rejected[0].why}` : null;
    } finally {
      this.sending = false;
    }
  }
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
