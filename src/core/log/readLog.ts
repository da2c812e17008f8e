import { toSi, unitOf, type Unit } from "../quantity/quantities";
import { CHANNEL_KINDS, type ChannelKind } from "./channel";
import { LONGEST_LINE, tokenise, type Delimiter } from "./sniff";
import { TimestampReader, type TimeFormat } from "./timestamp";

export interface ColumnUse {
  index: number;
  header: string;
  kind: ChannelKind | null;
  lane: string | null;
  /** Unit symbol of the column's kind; null for an unused column, kept as written. */
  unit: string | null;
}

export interface LogSettings {
  delimiter: Delimiter;
  decimal: "." | ",";
  headerRow: number;
  firstDataRow: number;
  timeColumns: number[];
  timeFormat: TimeFormat;
  zone: string;
  columns: ColumnUse[];
}

/** Something in the file that could not be taken as it stands. Rows count from 1 as an editor shows them. */
export type ImportProblem =
  | { kind: "fieldCount"; row: number; found: number; expected: number }
  | { kind: "badTime"; row: number; column: string; text: string; reason: "unreadable" | "noSuchDate" | "skippedHour" }
  | { kind: "notANumber"; row: number; column: string; text: string }
  | { kind: "columnsChanged"; row: number; missing: string[] }
  | { kind: "longLine"; row: number; bytes: number };

export interface ImportSummary {
  rowsRead: number;
  rowsKept: number;
  rowsRejected: number;
  duplicateTimes: number;
  /** Rows that came after a later one; sorted into place. */
  backwardTimes: number;
  largestBackwardStepMs: number;
  repeatedHourRows: number;
  cellsUnreadable: number;
  /** How many problems of each kind, whether or not listed. */
  problemCounts: Partial<Record<ImportProblem["kind"], number>>;
}

export interface ChannelData {
  use: ColumnUse;
  values: Float64Array;
}

export interface LogData {
  times: Float64Array;
  channels: ChannelData[];
  problems: ImportProblem[];
  summary: ImportSummary;
}

const MISSING = new Set([
  "",
  "nan",
  "na",
  "n/a",
  "#n/a",
  "null",
  "none",
  "-",
  "--",
  "---",
  "----",
  "ol",
  "o.l.",
  "err",
  "error",
  "open",
  "short",
  "fault",
  "inf",
  "-inf",
  "overrange",
  "????",
  "nc",
  "disconnected",
]);
const LISTED_PER_KIND = 100;
const FIRST_CAPACITY = 4096;
const LONGEST_QUOTED = 65536;
const QUOTE = 0x22;
const LINE_FEED = 0x0a;

/**
 * Reads a log file piece by piece: feed decoded text in order, then take the result.
 *
 * Bad cells become gaps and bad rows are left out; each is reported with row, column and reason
 * (the first hundred of a kind are listed, all are counted). Rows out of order are sorted; of rows
 * with one time the last read wins. Memory grows with the readings kept, not with the text.
 */
export class LogReader {
  private carry = "";
  private inLongLine = false;
  private lineEndPending = false;
  private row = 0;
  private line = 0;
  private times = new Float64Array(FIRST_CAPACITY);
  private readonly columns: { use: ColumnUse; unit: Unit | null; values: Float64Array; at: number }[];
  private count = 0;
  private last = -Infinity;
  private width: number;
  private timeColumns: number[];
  private readonly headers: string[];
  private readonly clock: TimestampReader;
  private readonly problems: ImportProblem[] = [];
  private readonly summary: ImportSummary = {
    rowsRead: 0,
    rowsKept: 0,
    rowsRejected: 0,
    duplicateTimes: 0,
    backwardTimes: 0,
    largestBackwardStepMs: 0,
    repeatedHourRows: 0,
    cellsUnreadable: 0,
    problemCounts: {},
  };

  constructor(private readonly settings: LogSettings) {
    this.width = settings.columns.length;
    this.timeColumns = [...settings.timeColumns];
    this.headers = settings.columns.map((c) => c.header);
    this.clock = new TimestampReader(settings.timeFormat, settings.zone);
    this.columns = settings.columns
      .filter((c) => !settings.timeColumns.includes(c.index))
      .map((use) => ({
        use,
        unit: use.kind && use.unit ? unitOf(CHANNEL_KINDS[use.kind].quantity, use.unit) : null,
        values: new Float64Array(FIRST_CAPACITY),
        at: use.index,
      }));
  }

  /** Rows seen so far, for progress. */
  get rowsRead(): number {
    return this.summary.rowsRead;
  }

  push(text: string): void {
    // A CR at the end of a piece may be half a CRLF.
    const joined = (this.lineEndPending ? "\r" : "") + text;
    this.lineEndPending = joined.endsWith("\r");
    const ended = this.lineEndPending ? joined.slice(0, -1) : joined;
    const body = ended.includes("\r") ? ended.replace(/\r\n?/g, "\n") : ended;
    const rest = this.pastLongLine(body);
    const whole = this.carry + (this.line === 0 && this.carry === "" ? rest.replace(/^\uFEFF/, "") : rest);
    // A quoted cell may hold a line break: only cut where quotes are closed.
    let cut = lastClosedBreak(whole);
    // A stray inch mark never closes; no real quoted cell is this long.
    if (cut < 0 && whole.length > LONGEST_QUOTED) cut = whole.lastIndexOf("\n");
    if (cut < 0) {
      this.carry = whole;
      this.dropLongLine();
      return;
    }
    this.carry = whole.slice(cut + 1);
    this.take(whole.slice(0, cut));
    this.dropLongLine();
  }

  finish(): LogData {
    if (this.carry !== "") this.take(this.carry);
    this.carry = "";
    return this.inOrder();
  }

  private dropLongLine(): void {
    if (this.carry.length <= LONGEST_LINE) return;
    this.report({ kind: "longLine", row: this.line + 1, bytes: this.carry.length });
    this.summary.rowsRejected++;
    this.carry = "";
    this.inLongLine = true;
  }

  /** What follows a line that was dropped; its end must never be taken for a row of its own. */
  private pastLongLine(text: string): string {
    if (!this.inLongLine) return text;
    const end = text.indexOf("\n");
    if (end < 0) return "";
    this.inLongLine = false;
    this.line++;
    return text.slice(end + 1);
  }

  private take(text: string): void {
    const blankAware = text.includes("\n\n") || text.startsWith("\n");
    const rows = tokenise(text, this.settings.delimiter);
    if (!blankAware) {
      for (const cells of rows) this.takeRow(cells, ++this.line);
      return;
    }
    // With blank lines about, editor line numbers come from the text itself.
    const lines = text.split("\n");
    let at = 0;
    for (const cells of rows) {
      while (at < lines.length && lines[at].split(this.settings.delimiter).join("").trim() === "") at++;
      this.takeRow(cells, this.line + ++at);
    }
    this.line += lines.length;
  }

  private takeRow(cells: string[], line: number): void {
    if (this.row++ < this.settings.firstDataRow) return;
    if (this.isHeaderAgain(cells)) {
      this.remap(cells, line);
      return;
    }
    this.summary.rowsRead++;
    if (cells.length !== this.width) {
      // A trailing delimiter adds one empty cell and means nothing.
      if (cells.length === this.width + 1 && cells[this.width].trim() === "") cells.pop();
      else {
        this.reject({ kind: "fieldCount", row: line, found: cells.length, expected: this.width });
        return;
      }
    }
    const utcMs = this.readTime(cells, line);
    if (utcMs === null) return;
    if (this.count === this.times.length) this.grow();
    const i = this.count++;
    this.times[i] = utcMs;
    if (utcMs < this.last) {
      this.summary.backwardTimes++;
      this.summary.largestBackwardStepMs = Math.max(this.summary.largestBackwardStepMs, this.last - utcMs);
    } else this.last = utcMs;
    for (const column of this.columns)
      column.values[i] = column.at < 0 ? NaN : this.readCell(cells[column.at], column, line);
  }

  private readTime(cells: string[], line: number): number | null {
    const text =
      this.timeColumns.length === 1 ? cells[this.timeColumns[0]] : this.timeColumns.map((c) => cells[c]).join(" ");
    const time = this.clock.read(text);
    if (!time.ok) {
      this.reject({
        kind: "badTime",
        row: line,
        column: this.headers[this.settings.timeColumns[0]],
        text: text.slice(0, 60),
        reason: time.reason,
      });
      return null;
    }
    if (!time.repeated) return time.utcMs;
    this.summary.repeatedHourRows++;
    // In the hour shown twice, going back on the wall clock means the second showing has begun.
    return time.repeated[0] > this.last || time.repeated[1] <= this.last ? time.repeated[0] : time.repeated[1];
  }

  private readCell(cell: string, column: { use: ColumnUse; unit: Unit | null }, line: number): number {
    // Nearly every cell is a plain number. Blank text also makes 0, so zeros are looked at again below.
    const plain = this.settings.decimal === "." ? Number(cell) : NaN;
    if (plain !== 0 && Number.isFinite(plain)) return column.unit ? toSi(plain, column.unit) : plain;
    const text = cell.trim();
    const value = Number(this.settings.decimal === "," ? text.replace(",", ".") : text);
    if (text !== "" && Number.isFinite(value)) return column.unit ? toSi(value, column.unit) : value;
    if (MISSING.has(text.toLowerCase())) return NaN;
    const loose = Number(
      text
        .replace("−", "-")
        .replace(/[\s\u00a0\u2009']/g, "")
        .replace(this.settings.decimal === "," ? "," : "\0", "."),
    );
    if (Number.isFinite(loose)) return column.unit ? toSi(loose, column.unit) : loose;
    // Text in a column nobody uses is a remark, not a fault.
    if (column.use.kind) {
      this.summary.cellsUnreadable++;
      this.report({ kind: "notANumber", row: line, column: column.use.header, text: text.slice(0, 60) });
    }
    return NaN;
  }

  /** Some loggers write their header again after a restart, sometimes with other columns. */
  private isHeaderAgain(cells: string[]): boolean {
    // A reading's first cell is a time or a number, a header's is a name.
    if (!this.headers.includes(cells[0].trim()) && !this.headers.includes((cells[1] ?? "").trim())) return false;
    const named = cells.filter((c) => c.trim() !== "" && this.headers.includes(c.trim())).length;
    return named >= 2 && named >= cells.length / 2;
  }

  private remap(cells: string[], line: number): void {
    const names = cells.map((c) => c.trim());
    this.width = names.length;
    const missing: string[] = [];
    for (const column of this.columns) {
      column.at = names.indexOf(column.use.header);
      if (column.at < 0 && column.use.kind) missing.push(column.use.header);
    }
    const time = this.settings.timeColumns.map((c) => names.indexOf(this.headers[c]));
    if (time.every((c) => c >= 0)) this.timeColumns = time;
    const same = names.length === this.headers.length && names.every((n, i) => n === this.headers[i]);
    if (!same) this.report({ kind: "columnsChanged", row: line, missing });
  }

  private reject(problem: ImportProblem): void {
    this.summary.rowsRejected++;
    this.report(problem);
  }

  private report(problem: ImportProblem): void {
    const counts = this.summary.problemCounts;
    const seen = (counts[problem.kind] = (counts[problem.kind] ?? 0) + 1);
    if (seen <= LISTED_PER_KIND) this.problems.push(problem);
  }

  private grow(): void {
    const wider = (old: Float64Array) => {
      const next = new Float64Array(old.length * 2);
      next.set(old);
      return next;
    };
    this.times = wider(this.times);
    for (const column of this.columns) column.values = wider(column.values);
  }

  private inOrder(): LogData {
    const order = new Uint32Array(this.count);
    for (let i = 0; i < this.count; i++) order[i] = i;
    // Typed-array sort is not promised stable for equal keys by comparator, so ties fall back to reading order.
    if (this.summary.backwardTimes > 0) order.sort((a, b) => this.times[a] - this.times[b] || a - b);
    let kept = 0;
    for (let i = 0; i < order.length; i++) {
      if (kept > 0 && this.times[order[kept - 1]] === this.times[order[i]]) {
        this.summary.duplicateTimes++;
        order[kept - 1] = order[i];
      } else order[kept++] = order[i];
    }
    this.summary.rowsKept = kept;
    // Most logs are in order already; then the columns are only cut to length.
    const asRead = this.summary.backwardTimes === 0 && this.summary.duplicateTimes === 0;
    const pick = (source: Float64Array) => {
      if (asRead) return source.slice(0, kept);
      const picked = new Float64Array(kept);
      for (let i = 0; i < kept; i++) picked[i] = source[order[i]];
      return picked;
    };
    return {
      times: pick(this.times),
      channels: this.columns.map(({ use, values }) => ({ use, values: pick(values) })),
      problems: this.problems,
      summary: this.summary,
    };
  }
}

/** Where the last line ends outside of quotes; −1 when none does. */
function lastClosedBreak(text: string): number {
  let cut = -1;
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c === QUOTE) quoted = !quoted;
    else if (c === LINE_FEED && !quoted) cut = i;
  }
  return cut;
}

/** Reads a whole text at once. */
export function readLog(text: string, settings: LogSettings): LogData {
  const reader = new LogReader(settings);
  reader.push(text);
  return reader.finish();
}
