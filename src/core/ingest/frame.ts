import { looksReset } from "./resetClock";

/** What one device measured at one instant, as it was sent. */
export interface Frame {
  /** UTC, ms; null: the device has no clock, and its arrival counts. */
  atMs: number | null;
  /** Reading by channel name, in whatever unit the device uses. */
  values: [name: string, value: number][];
}

/** What of a message could not be taken. Lines and frames count from 1. */
export interface FrameProblem {
  line: number;
  /** The channel or part at fault, where it is one. */
  at?: string;
  why: string;
}

export interface ReadMessage {
  frames: { line: number; frame: Frame }[];
  /** The first of them; all are counted. */
  problems: FrameProblem[];
  problemCount: number;
}

export const emptyMessage = (): ReadMessage => ({ frames: [], problems: [], problemCount: 0 });

/** Names what could not be taken, while there is room for it, and counts it. A message of nothing but faults must not fill the memory. */
export function reportProblem(message: ReadMessage, problem: () => FrameProblem): void {
  message.problemCount++;
  if (message.problems.length < LISTED) message.problems.push(problem());
}

/** Bounds of one message. */
export const MOST_FRAMES = 20_000;
export const MOST_CHANNELS = 64;
/** Well above what a device may have: the channels beyond those are named one by one. */
const MOST_READINGS = 1000;
export const LONGEST_NAME = 80;
/** Problems listed of one message; the rest is counted. */
export const LISTED = 50;

const EARLIEST = Date.UTC(2000, 0, 1);
const DAY = 86400000;
const CONTROL = /[\u0000-\u001f\u007f]/;

/** What is wrong with a channel's name; null for a good one. */
export function nameFault(name: string): string | null {
  if (name.trim() === "") return "a channel needs a name";
  if (name.length > LONGEST_NAME) return `a channel's name has at most ${LONGEST_NAME} characters`;
  return CONTROL.test(name) ? "a channel's name holds a control character" : null;
}

export interface Bounds {
  nowMs: number;
  /** A simulated bench has its own clock. */
  simulated?: boolean;
  /** The time was written as a date: its precision is no question. */
  dated?: boolean;
}

/** What is wrong with an instant; null for one that may be. */
export function instantFault(ms: number, { nowMs, simulated, dated }: Bounds): string | null {
  if (!Number.isInteger(ms)) return "the time is not a whole number";
  // Held apart, and asked about. A number of that size may as well be of another precision.
  if (dated && !simulated && looksReset(ms, nowMs)) return null;
  if (ms < EARLIEST)
    return ms >= EARLIEST / 1000 && ms < EARLIEST / 100
      ? "the time looks like seconds where milliseconds are meant; name its precision"
      : `the time is ${iso(ms)}: the device's clock is not set, or the precision is another one`;
  if (ms > 8.64e15 / 2) return "the time lies beyond every calendar; the precision is another one";
  if (!simulated && ms > nowMs + DAY)
    return `the time is ${iso(ms)}, more than a day from now: the device's clock or its zone is wrong, or the precision is another one`;
  return null;
}

const iso = (ms: number): string => (Math.abs(ms) < 8.64e15 ? new Date(ms).toISOString() : "beyond every calendar");

/** Takes a frame that was read, or says why not. */
export function takeFrame(message: ReadMessage, line: number, frame: Frame, bounds: Bounds): void {
  const { atMs } = frame;
  const report = (why: string, at?: string) => reportProblem(message, () => ({ line, at, why }));
  if (message.frames.length >= MOST_FRAMES)
    return report(`a message holds at most ${MOST_FRAMES} frames; send the rest in another`);
  if (frame.values.length > MOST_READINGS) return report(`a frame holds at most ${MOST_READINGS} readings`);
  const values = frame.values.map(([name, value]): [string, number] => [name.trim(), value]);
  if (values.length === 0) return report("there is no reading in it");
  const fault = atMs === null ? null : instantFault(atMs, bounds);
  if (fault) return report(fault, "time");
  const seen = new Set<string>();
  for (const [name, value] of values) {
    const wrong = nameFault(name);
    if (wrong) return report(wrong, name.slice(0, LONGEST_NAME));
    if (seen.has(name)) return report("this channel stands in it twice", name);
    if (!Number.isFinite(value)) return report("a reading is a finite number", name);
    seen.add(name);
  }
  message.frames.push({ line, frame: { atMs, values } });
}
