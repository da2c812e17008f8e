import { emptyMessage, LONGEST_NAME, reportProblem, takeFrame, type Bounds, type ReadMessage } from "./frame";

const OFFSET = /(?:Z|[+-]\d\d:?\d\d)$/;
const SHAPE = /^\d{4}-\d\d-\d\dT\d\d:\d\d(?::\d\d(?:\.\d{1,9})?)?(?:Z|[+-]\d\d:?\d\d)$/;
const PRECISIONS = { ms: 1, s: 1000 } as const;
type Precision = keyof typeof PRECISIONS;

const isObject = (v: unknown): v is Record<string, unknown> => typeof v === "object" && v !== null && !Array.isArray(v);

/**
 * Frames as JSON: `{"frames":[{"time":"2026-11-26T10:00:00Z","values":{"A in":21.4}}]}`, a bare list of frames, or one frame.
 * Times are ISO 8601 with their offset, or whole milliseconds since 1970 (`"precision":"s"` beside `frames`: seconds). A device without
 * a clock sends `"time":"now"`. `null` is "no reading". Whatever is not exactly that is refused with its place; good frames are taken.
 */
export function readJsonFrames(body: unknown, bounds: Bounds): ReadMessage {
  const message = emptyMessage();
  const whole = (why: string): ReadMessage => ({ frames: [], problems: [{ line: 1, why }], problemCount: 1 });
  let list: unknown = body;
  let precision: Precision = "ms";
  if (isObject(body) && "frames" in body) {
    const odd = Object.keys(body).find((k) => k !== "frames" && k !== "precision");
    if (odd) return whole(`“${odd.slice(0, 40)}” is not known here; a message holds frames and precision`);
    if (body.precision !== undefined) {
      if (body.precision !== "ms" && body.precision !== "s") return whole("precision is “ms” or “s”");
      precision = body.precision;
    }
    list = body.frames;
  } else if (isObject(body)) list = [body];
  if (!Array.isArray(list)) return whole("a message is a frame, a list of frames, or an object with frames");
  list.forEach((entry: unknown, i) => readFrame(message, entry, i + 1, precision, bounds));
  return message;
}

function readFrame(message: ReadMessage, entry: unknown, line: number, precision: Precision, bounds: Bounds): void {
  const report = (why: string, at?: string) => reportProblem(message, () => ({ line, at, why }));
  if (!isObject(entry)) return report("a frame is an object with time and values");
  const odd = Object.keys(entry).find((k) => k !== "time" && k !== "values");
  if (odd) return report("a frame holds time and values, nothing else", odd.slice(0, 40));
  const time = timeOf(entry.time, precision);
  if (typeof time === "string") return report(time, "time");
  if (!isObject(entry.values)) return report("values is an object of readings by channel name", "values");
  const values: [string, number][] = [];
  for (const [name, value] of Object.entries(entry.values)) {
    if (value === null) continue;
    if (typeof value !== "number")
      return report(
        `a reading is a number, not ${typeof value === "string" ? `the text “${value.slice(0, 20)}”` : "this"}`,
        name.slice(0, LONGEST_NAME),
      );
    values.push([name, value]);
  }
  const dated = typeof entry.time === "string";
  takeFrame(message, line, { atMs: time.atMs, values }, { ...bounds, dated });
}

/** @returns words for what is wrong */
function timeOf(time: unknown, precision: Precision): { atMs: number | null } | string {
  if (time === undefined)
    return "the time is missing; a device without a clock sends “now”, and what it sends twice is then kept twice";
  if (time === "now") return { atMs: null };
  if (typeof time === "number") return { atMs: time * PRECISIONS[precision] };
  if (typeof time !== "string") return "the time is a text or a whole number";
  if (!OFFSET.test(time))
    return `“${time.slice(0, 30)}” does not say its offset: end it with Z for UTC, or with +01:00`;
  const atMs = SHAPE.test(time) ? parseIso(time) : NaN;
  return Number.isNaN(atMs) ? `“${time.slice(0, 30)}” is no time of the calendar` : { atMs };
}

/** Date.parse rolls 30 February over; here it is no date. */
function parseIso(text: string): number {
  const ms = Date.parse(text.replace(/(\.\d{3})\d+/, "$1").replace(/([+-]\d\d)(\d\d)$/, "$1:$2"));
  const [, y, m, d] = /^(\d{4})-(\d\d)-(\d\d)/.exec(text)!.map(Number);
  const day = new Date(Date.UTC(y, m - 1, d));
  return day.getUTCMonth() === m - 1 && day.getUTCDate() === d ? ms : NaN;
}
