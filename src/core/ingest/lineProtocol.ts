import { emptyMessage, reportProblem, takeFrame, type Bounds, type ReadMessage } from "./frame";

/** Ticks a millisecond. */
export const PRECISIONS = { ns: 1e6, us: 1e3, ms: 1, s: 1e-3 } as const;
export type LinePrecision = keyof typeof PRECISIONS;

const NUMBER = /^[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d{1,3})?$/;
const INTEGER = /^[+-]?\d+[iu]$/;
const TRUTHS: Record<string, number> = {
  t: 1,
  T: 1,
  true: 1,
  True: 1,
  TRUE: 1,
  f: 0,
  F: 0,
  false: 0,
  False: 0,
  FALSE: 0,
};
const TICKS = /^-?\d{1,19}$/;
const LONGEST_LINE = 8192;

/**
 * Frames as line protocol: `bench,lane=A in=21.4,out=44.1 1795687200000000000`, one a line, `#` for remarks.
 * A channel's name is measurement, tag values in their order, and field, apart by blanks: `bench A in`. Integers end in i or u; true and
 * false are 1 and 0; texts are no readings. Times count in nanoseconds unless said otherwise, and a line needs one.
 */
export function readLineProtocol(text: string, precision: LinePrecision, bounds: Bounds): ReadMessage {
  const message = emptyMessage();
  for (let from = 0, no = 1; from <= text.length; no++) {
    const to = text.indexOf("\n", from);
    const end = to < 0 ? text.length : to;
    const line = text.slice(from, text[end - 1] === "\r" ? Math.max(from, end - 1) : end);
    from = end + 1;
    if (line.trim() === "" || line.startsWith("#")) continue;
    const read = readLine(line, precision);
    if ("why" in read) reportProblem(message, () => ({ line: no, ...read }));
    else takeFrame(message, no, read, bounds);
  }
  return message;
}

type Read = { atMs: number; values: [string, number][] } | { why: string; at?: string };

function readLine(line: string, precision: LinePrecision): Read {
  if (line.length > LONGEST_LINE) return { why: `a line has at most ${LONGEST_LINE} characters` };
  const parts = splitAt(line, " ");
  if (parts === null) return { why: "a quote or a backslash is not closed" };
  if (parts.length < 2) return { why: "a line is: measurement, a blank, fields, a blank, time" };
  if (parts.length === 2) return { why: "the time is missing at the end of the line", at: "time" };
  if (parts.length > 3) return { why: "there are more blanks than two; a blank in a name is written “\\ ”" };
  const [head, fields, ticks] = parts;
  if (!TICKS.test(ticks)) return { why: `“${ticks.slice(0, 30)}” is no whole number of ticks`, at: "time" };
  const prefix = prefixOf(head);
  if (typeof prefix !== "string") return prefix;
  const values: [string, number][] = [];
  for (const field of splitAt(fields, ",")!) {
    const [name, value, ...more] = splitAt(field, "=")!;
    if (!name || value === undefined || more.length) return { why: `“${field.slice(0, 40)}” is not name=value` };
    const channel = `${prefix} ${unescape(name)}`;
    const reading = readingOf(value);
    if (reading === null) return { why: `“${value.slice(0, 20)}” is no number`, at: channel };
    values.push([channel, reading]);
  }
  // Nanoseconds are beyond what a number holds exactly; milliseconds are not.
  const atMs =
    precision === "ns" ? Number(BigInt(ticks) / 1_000_000n) : Math.round(Number(ticks) / PRECISIONS[precision]);
  return { atMs, values };
}

function prefixOf(head: string): string | { why: string; at?: string } {
  const [measurement, ...tags] = splitAt(head, ",")!;
  if (!measurement) return { why: "the measurement's name is missing" };
  const names = [unescape(measurement)];
  for (const tag of tags) {
    const [key, value, ...more] = splitAt(tag, "=")!;
    if (!key || !value || more.length) return { why: `“${tag.slice(0, 40)}” is not tag=value` };
    names.push(unescape(value));
  }
  return names.join(" ");
}

function readingOf(text: string): number | null {
  if (NUMBER.test(text)) return finite(Number(text));
  if (INTEGER.test(text)) return finite(Number(text.slice(0, -1)));
  return TRUTHS[text] ?? null;
}

const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);

const unescape = (text: string): string => text.replace(/\\([ ,=\\"])/g, "$1");

/** Splits at a mark outside of quotes that no backslash stands before. null: a quote stays open. */
function splitAt(text: string, mark: string): string[] | null {
  const parts: string[] = [];
  let from = 0;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    if (text[i] === "\\") i++;
    else if (text[i] === '"') quoted = !quoted;
    else if (text[i] === mark && !quoted) {
      parts.push(text.slice(from, i));
      from = i + 1;
    }
  }
  if (quoted) return null;
  parts.push(text.slice(from));
  return parts;
}
