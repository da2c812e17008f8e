import Papa from "papaparse";
import { decoded, LONGEST_HEADER, suffixUnit } from "./headerUnit";
import { findUnit } from "../quantity/quantities";
import { BY_PRECEDENCE, CHANNEL_KINDS, CHANNEL_NAMES, channelOf, EVERY_LANE, type ChannelKind } from "./channel";
import { guessTimeFormat, type TimeFormat } from "./timestamp";

export type Delimiter = "," | ";" | "\t" | "|" | " ";

export interface ColumnGuess {
  index: number;
  header: string;
  /** What the column seems to stand for; null when it is stored without being used. */
  kind: ChannelKind | null;
  /** Lane letter for lane kinds, null when the header does not say. */
  lane: string | null;
  /** Unit symbol from the header or unit row, else the quantity's usual unit. */
  unit: string | null;
  samples: string[];
}

export interface LogLayout {
  delimiter: Delimiter;
  decimal: "." | ",";
  /** Row of the column names, counted from 0 with empty lines left out; −1 when the file has none. */
  headerRow: number;
  /** Row of the first reading, same counting. */
  firstDataRow: number;
  /** Columns that hold the time: one, or date and time of day. */
  timeColumns: number[];
  timeFormat: TimeFormat;
  timeAmbiguous: boolean;
  /** The text carries an offset or Z of its own, so the zone setting is not used. */
  timeHasZone: boolean;
  columns: ColumnGuess[];
}

export type SniffProblem =
  | { kind: "empty" }
  | { kind: "longLine"; bytes: number }
  | { kind: "tooManyColumns"; columns: number }
  | { kind: "noColumns"; firstLine: string }
  | { kind: "headerOnly"; columns: string[] }
  | { kind: "noTime"; columns: string[] };

export type SniffResult =
  { ok: true; layout: LogLayout; rows: string[][] } | { ok: false; problem: SniffProblem; rows: string[][] };

/** A line beyond this is no log line: two thousand columns are shorter. Longer ones are refused rather than read. */
export const LONGEST_LINE = 1 << 16;

/**
 * The text with its overlong lines emptied, so that lines keep their numbers.
 * @param found called for each, with its number from 1 and its length
 */
export function withoutLongLines(text: string, found: (line: number, length: number) => void): string {
  if (text.length <= LONGEST_LINE) return text;
  let from = 0;
  let line = 1;
  let kept = "";
  let copied = 0;
  while (from <= text.length) {
    const end = text.indexOf("\n", from);
    const to = end < 0 ? text.length : end;
    if (to - from > LONGEST_LINE) {
      found(line, to - from);
      kept += text.slice(copied, from);
      copied = to;
    }
    if (end < 0) break;
    from = end + 1;
    line++;
  }
  return copied === 0 ? text : kept + text.slice(copied);
}

/** No logger has more columns; the import's settings hold no more. */
export const MOST_COLUMNS = 2000;
/** Rows whose cells say whether a delimiter is right, from all over what is looked at. */
const SCORED_ROWS = 200;
const DELIMITERS: Delimiter[] = ["\t", ";", ",", "|", " "];
const NUMERIC = /^[+\-−]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d+)?$/;
const CLOCK_ONLY = /^\d{1,2}:\d{2}(?::\d{2})?(?:[.,]\d+)?(?:\s*[ap]\.?m\.?)?$/i;

/** How much of a file is looked at to find out how it is written, characters. */
export const HEAD_LENGTH = 256 * 1024;

/** Splits text into rows of cells; empty lines are left out, lone CR and CRLF are line ends too. */
export function tokenise(text: string, delimiter: Delimiter): string[][] {
  const lines = text.includes("\r") ? text.replace(/\r\n?/g, "\n") : text;
  // Inside quotes an empty line may be part of a cell.
  const clean = lines.includes('"') ? lines : lines.replace(/\n{2,}/g, "\n");
  const ready = delimiter === " " ? clean.replace(/[ ]+/g, " ").replace(/^ | $/gm, "") : clean;
  const rows = Papa.parse<string[]>(ready, { delimiter, newline: "\n" }).data;
  return rows.filter((cells) => cells[0] !== "" || cells.some((c) => c.trim() !== ""));
}

interface Cut {
  delimiter: Delimiter;
  rows: string[][];
  width: number;
  score: number;
}

/** The delimiter that cuts a text best, the first of those that do it alike. Rows of the others are let go at once: cells weigh far more than text. */
function bestDelimiter(text: string, delimiters: readonly Delimiter[]): { best: Cut; widest: number } {
  let best: Cut | null = null;
  let widest = 0;
  for (const delimiter of delimiters) {
    const rows = tokenise(text, delimiter);
    const width = modalWidth(rows);
    widest = Math.max(widest, width);
    const score = width > MOST_COLUMNS ? 0 : scoreRows(rows, width, delimiter);
    if (!best || score > best.score) best = { delimiter, rows, width, score };
  }
  return { best: best!, widest };
}

/**
 * Finds out how a log file is written from its first part (at least 50 lines are wise).
 * A guess is only a proposal: every field can be overruled before the import.
 *
 * @param head decoded start of the file; the last line may be cut off, and no more than HEAD_LENGTH of it is looked at
 * @param options.delimiter overrules the guess
 * @param options.whole the head is the whole file
 * @example sniffLog("Time;T in (C)\n2026-10-05 10:00;14.2\n2026-10-05 10:01;14.3\n", { whole: true }).ok // true
 */
export function sniffLog(head: string, options: { whole: boolean; delimiter?: Delimiter }): SniffResult {
  const text = head.slice(0, HEAD_LENGTH).replace(/^\uFEFF/, "");
  const whole = options.whole && head.length <= HEAD_LENGTH;
  if (text.trim() === "") return { ok: false, problem: { kind: "empty" }, rows: [] };
  const lastBreak = Math.max(text.lastIndexOf("\n"), text.lastIndexOf("\r"));
  if (lastBreak < 0 && text.length > LONGEST_LINE)
    return { ok: false, problem: { kind: "longLine", bytes: text.length }, rows: [] };
  const { complete, longest } = completeLines(text, whole || lastBreak < 0 ? text.length : lastBreak);
  // The reader leaves overlong lines out too; where nothing else is there, that is the answer.
  if (longest && complete.trim() === "") return { ok: false, problem: { kind: "longLine", bytes: longest }, rows: [] };

  const { best, widest } = bestDelimiter(complete, options.delimiter ? [options.delimiter] : DELIMITERS);
  const rows = best.rows;
  if (widest > MOST_COLUMNS && best.score === 0)
    return { ok: false, problem: { kind: "tooManyColumns", columns: widest }, rows: [] };
  if (best.width < 2)
    return {
      ok: false,
      problem: { kind: "noColumns", firstLine: (rows[0] ?? []).join(best.delimiter).slice(0, 200) },
      rows,
    };

  const firstDataRow = rows.findIndex(
    (row, i) => isDataRow(row, best.width) && (rows[i + 1] === undefined || isDataRow(rows[i + 1], best.width)),
  );
  if (firstDataRow < 0) {
    const header = rows.find((r) => r.length === best.width) ?? rows[0];
    return { ok: false, problem: { kind: "headerOnly", columns: header }, rows };
  }
  const { headerRow, headers, unitRow } = findHeader(rows, firstDataRow, best.width);
  const data = rows.slice(firstDataRow, firstDataRow + 400).filter((r) => r.length === best.width);
  const column = (i: number) => data.map((r) => r[i] ?? "");
  const known = headers.map((h) => h.slice(0, LONGEST_HEADER));
  const time = findTime(known, column, best.width);
  const decimal = guessDecimal(data, best.delimiter, time?.columns ?? []);
  const letter = unitLetter(known);
  const columns: ColumnGuess[] = headers.map((header, index) => {
    const guess = guessColumn(known[index], (unitRow?.[index] ?? "").slice(0, LONGEST_HEADER), letter);
    return { index, header, ...guess, samples: column(index).slice(0, 8) };
  });
  if (!time) return { ok: false, problem: { kind: "noTime", columns: headers }, rows };
  for (const i of time.columns) Object.assign(columns[i], { kind: null, lane: null, unit: null });
  return {
    ok: true,
    rows,
    layout: {
      delimiter: best.delimiter,
      decimal,
      headerRow,
      firstDataRow,
      timeColumns: time.columns,
      timeFormat: time.format,
      timeAmbiguous: time.ambiguous,
      timeHasZone: time.zoned,
      columns: dropRepeats(secondSun(oneForAll(columns))),
    },
  };
}

/** The lines that are whole, without overlong ones, and how long the longest of those was. */
function completeLines(text: string, end: number): { complete: string; longest: number } {
  let longest = 0;
  const complete = withoutLongLines(text.slice(0, end).replace(/\r\n?/g, "\n"), (_, length) => {
    longest = Math.max(longest, length);
  });
  return { complete, longest };
}

function modalWidth(rows: string[][]): number {
  const counts = new Map<number, number>();
  for (const row of rows) counts.set(row.length, (counts.get(row.length) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]?.[0] ?? 0;
}

/** Words are parted by blanks, and numbers by decimal commas. */
const PREFERENCE: Partial<Record<Delimiter, number>> = { " ": 0.55, ",": 0.95 };

/** Consistent width and many numeric cells make a delimiter right; a decimal comma split in two makes odd widths. */
function scoreRows(rows: string[][], width: number, delimiter: Delimiter): number {
  if (width < 2) return 0;
  const even = rows.filter((r) => r.length === width);
  const step = Math.max(1, Math.floor(even.length / SCORED_ROWS));
  const cells = even.filter((_, i) => i % step === 0).flat();
  const good = cells.filter(
    (c) => NUMERIC.test(c.trim()) || c.trim() === "" || guessTimeFormat([c]) !== null || CLOCK_ONLY.test(c.trim()),
  ).length;
  const preference = PREFERENCE[delimiter] ?? 1;
  return (even.length / rows.length) * (0.3 + (0.7 * good) / Math.max(1, cells.length)) * preference;
}

const readingLike = (cell: string) => {
  const c = cell.trim();
  return c === "" || NUMERIC.test(c) || CLOCK_ONLY.test(c) || guessTimeFormat([c]) !== null;
};

function isDataRow(row: string[], width: number): boolean {
  if (row.length !== width) return false;
  const filled = row.filter((c) => c.trim() !== "");
  return filled.length >= 2 && filled.filter(readingLike).length >= Math.max(2, filled.length * 0.5);
}

function findHeader(rows: string[][], firstDataRow: number, width: number) {
  const above = rows
    .slice(0, firstDataRow)
    .map((row, index) => ({ row, index }))
    .filter(({ row }) => row.length === width);
  const last = above.at(-1);
  if (!last)
    return { headerRow: -1, headers: Array.from({ length: width }, (_, i) => `column ${i + 1}`), unitRow: undefined };
  const looksLikeUnits = (row: string[]) => {
    const filled = row.filter((c) => c.trim() !== "").map((c) => c.slice(0, LONGEST_HEADER));
    return (
      filled.length > 0 &&
      filled.filter((c) => unitIn(c) !== null || /^[[(]?[°%\w²³/·.^*-]{1,8}[\])]?$/.test(c.trim())).length >=
        filled.length * 0.8 &&
      filled.some((c) => unitIn(c) !== null)
    );
  };
  const previous = above.at(-2);
  if (previous && looksLikeUnits(last.row))
    return { headerRow: previous.index, headers: previous.row.map((h) => h.trim()), unitRow: last.row };
  return { headerRow: last.index, headers: last.row.map((h, i) => h.trim() || `column ${i + 1}`), unitRow: undefined };
}

function findTime(headers: string[], column: (i: number) => string[], width: number) {
  const guesses = Array.from({ length: width }, (_, i) => ({
    i,
    samples: column(i),
    guess: guessTimeFormat(column(i), headers[i]),
  }));
  const dated = guesses.filter((g) => g.guess && g.guess.format.kind !== "elapsed");
  const named = dated.find((g) => /time|date|zeit|datum|fecha|heure|hora|ora|tijd|stamp/i.test(headers[g.i]));
  const first = named ?? dated[0];
  if (first?.guess) {
    const hasClock = first.samples.some((s) => /\d{1,2}:\d{2}/.test(s)) || first.guess.format.kind === "unix";
    const clock = hasClock
      ? undefined
      : guesses.find(
          (g) => g.i !== first.i && g.samples.length > 0 && g.samples.every((s) => CLOCK_ONLY.test(s.trim())),
        );
    const zoned =
      first.samples.every((s) => /(?:z|[+\-−]\d{2}:?\d{2})\s*$/i.test(s.trim()) && /\d:\d/.test(s)) ||
      first.guess.format.kind === "unix";
    return {
      columns: clock ? [first.i, clock.i] : [first.i],
      format: first.guess.format,
      ambiguous: first.guess.ambiguous,
      zoned,
    };
  }
  const elapsed = guesses.find((g) => g.guess);
  return elapsed?.guess ? { columns: [elapsed.i], format: elapsed.guess.format, ambiguous: false, zoned: true } : null;
}

function guessDecimal(data: string[][], delimiter: Delimiter, timeColumns: number[]): "." | "," {
  let comma = 0;
  let point = 0;
  for (const row of data) {
    row.forEach((cell, i) => {
      if (timeColumns.includes(i)) return;
      if (/^[+\-−]?\d*,\d+$/.test(cell.trim())) comma++;
      else if (/^[+\-−]?\d*\.\d+$/.test(cell.trim())) point++;
    });
  }
  return delimiter !== "," && comma > point ? "," : ".";
}

/** Unit spelled in a header's brackets or after a comma or slash: `T_in (°C)`, `Sun [W/m2]`. */
function unitIn(text: string): string | null {
  const inside = /[[(]([^\])]+)[\])]\s*$/.exec(text)?.[1] ?? text.trim();
  for (const kind of Object.values(CHANNEL_KINDS)) {
    const unit = findUnit(kind.quantity, inside);
    if (unit) return unit.symbol;
  }
  return null;
}

/** The words of a header, its unit in brackets taken off. */
const wordsOf = (header: string): string =>
  header
    .replace(/[[(][^\])]*[\])]/g, " ")
    .replace(/([a-z])([A-Z])/g, "$1 $2")
    .replace(/([A-Za-z])(\d)/g, "$1 $2")
    .replace(/[_\-./:°,]+/g, " ")
    .trim();

/**
 * The letter that ends every temperature's header where it can only be their unit: `T_out_C`, `T_in_C`, `amb_C` are degrees,
 * not three lanes called C. null where headers differ or there are too few to tell.
 */
function unitLetter(headers: readonly string[]): "C" | "F" | null {
  const warm = headers.flatMap((header) => {
    const name = decoded(header);
    const words = wordsOf(name);
    const kinds = kindsOf(words);
    const temperatures = kinds.filter((k) => CHANNEL_KINDS[k].quantity === "temperature");
    // "Flow 1 m3/h" may be the hot side by its word, and is no temperature by its unit.
    const unit = suffixUnit(name, kinds);
    const other = unit !== "" && !temperatures.some((k) => findUnit(CHANNEL_KINDS[k].quantity, unit));
    return temperatures.length > 0 && !other ? [words] : [];
  });
  const letter = /\s([CF])$/.exec(warm[0] ?? "")?.[1];
  if (!letter || warm.length < 2 || !warm.every((w) => w.endsWith(` ${letter}`))) return null;
  return letter as "C" | "F";
}

/** Kinds whose words stand in a header, the likeliest first. */
function kindsOf(words: string): ChannelKind[] {
  const loose = words.toLowerCase();
  // "outside temp of supply" is the air outside, whatever else it names.
  if (/\b(outside|outdoor|ambient|amb)\b/.test(loose)) return ["ambient"];
  const found = BY_PRECEDENCE.filter((k) => channelOf(k).header.test(loose));
  // Heating people call the hot side the flow: told from a flow by its unit.
  return found.includes("volumeFlow") && !found.includes("inlet") && !found.includes("outlet")
    ? [...found, "outlet"]
    : found;
}

function guessColumn(
  header: string,
  unitCell: string,
  letter: "C" | "F" | null,
): { kind: ChannelKind | null; lane: string | null; unit: string | null } {
  const name = decoded(header);
  const all = wordsOf(name);
  const words = letter && all.endsWith(` ${letter}`) ? all.slice(0, -2) : all;
  const kinds = kindsOf(words);
  const stated = unitCell.trim() || (/[[(]([^\])]+)[\])]/.exec(name)?.[1] ?? "");
  const unitText =
    stated || (letter && words !== all ? `°${letter}` : suffixUnit(name, kinds.length ? kinds : UNIT_KINDS));
  const accepts = (k: ChannelKind) => findUnit(CHANNEL_KINDS[k].quantity, unitText) !== undefined;
  // A unit that contradicts the word decides against the word: "out (m/s)" is a speed.
  const kind = unitText ? (kinds.find(accepts) ?? kindOfUnit(unitText)) : kinds[0];
  if (!kind) return { kind: null, lane: null, unit: unitText ? unitIn(unitText) : null };
  const unit = findUnit(CHANNEL_KINDS[kind].quantity, unitText)?.symbol ?? null;
  const bare = stated ? words : withoutUnit(words, unitText);
  return { kind, lane: CHANNEL_KINDS[kind].scope === "lane" ? laneIn(bare) : null, unit };
}

const withoutUnit = (words: string, unitText: string): string =>
  unitText && words.endsWith(unitText) ? words.slice(0, -unitText.length).trim() : words;

const UNIT_KINDS = [...CHANNEL_NAMES].filter((k) => channelOf(k).knownByUnit);

function kindOfUnit(unitText: string): ChannelKind | null {
  if (!unitText) return null;
  return UNIT_KINDS.find((k) => findUnit(CHANNEL_KINDS[k].quantity, unitText)) ?? null;
}

/** `A in`, `lane B out`, `T_out_3`, `box 2 outlet`: a single letter A to H, or a number 1 to 8. */
function laneIn(words: string): string | null {
  const letter =
    /(?:^|\s)([A-H])(?=\s|$)/.exec(words)?.[1] ??
    /\b(?:lane|box|panel|collector|unit|kollektor|capteur|collettore|colector)\s*([A-Ha-h])\b/i.exec(words)?.[1];
  if (letter) return letter.toUpperCase();
  const number = /(?:^|\s|[a-z])([1-8])(?=\s|$)/i.exec(words)?.[1];
  return number ? "ABCDEFGH"[Number(number) - 1] : null;
}

/** The one inlet of a log whose boxes have letters is the air that all of them draw. */
function oneForAll(columns: ColumnGuess[]): ColumnGuess[] {
  const lanes = new Set(columns.flatMap((c) => (c.lane ? [c.lane] : [])));
  return columns.map((c) => {
    const own = columns.filter((o) => o.kind === c.kind);
    const all = c.kind !== null && channelOf(c.kind).servesAll && !c.lane && own.length === 1 && lanes.size > 1;
    return all ? { ...c, lane: EVERY_LANE } : c;
  });
}

/** Two suns of which one header says horizontal: that one splits the light of the other. Alone it is the sun, however it is mounted. */
function secondSun(columns: ColumnGuess[]): ColumnGuess[] {
  const suns = columns.filter((c) => c.kind === "irradiance");
  const flat = suns.filter((c) => HORIZONTAL.test(c.header.toLowerCase()));
  if (suns.length !== 2 || flat.length !== 1) return columns;
  return columns.map((c) => (c === flat[0] ? { ...c, kind: "horizontalSun" } : c));
}

const HORIZONTAL = /ghi|horiz|global/;

/** Two columns never stand for the same channel: the later one is left unassigned. */
function dropRepeats(columns: ColumnGuess[]): ColumnGuess[] {
  const seen = new Set<string>();
  return columns.map((c) => {
    if (!c.kind) return c;
    const key = `${c.kind}/${c.lane ?? ""}`;
    if (CHANNEL_KINDS[c.kind].scope === "lane" && !c.lane) return c;
    if (seen.has(key)) return { ...c, kind: null, lane: null };
    seen.add(key);
    return c;
  });
}
