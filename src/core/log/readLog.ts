import { toSi, type Unit } from "../quantity/quantities";
import { readCell } from "./cell";
import { Column } from "./column";
import {
  ChannelData,
  columnUnit,
  emptySummary,
  type ColumnUse,
  type ImportProblem,
  type LogData,
  type LogSettings,
} from "./logData";
import { MarkedCells } from "./marks";
import { putInOrder, type OrderedRows } from "./order";
import type { LogQuestion } from "./question";
import { RowScan } from "./rowScan";
import { MOST_COLUMNS, tokenise, withoutLongLines } from "./sniff";
import { TimestampReader } from "./timestamp";
import { WholeLines } from "./wholeLines";

/** A column while it is read. */
interface ReadColumn {
  use: ColumnUse;
  values: Column;
  at: number;
  marks: MarkedCells;
}

const isSi = ({ factor, offset }: Unit): boolean => factor === 1 && !offset;

const LISTED_PER_KIND = 100;
const MOST_PATTERNS = 255;
/** Restarts and cut lines leave out a row now and then; more is another way of writing. */
const ASK_ABOVE_LEFT_OUT = 0.05;
const FEW_LEFT_OUT = 3;
const DAY = 86400000;
const FIRST_CAPACITY = 4096;

/**
 * Reads a log file piece by piece: feed decoded text in order, then take the result.
 *
 * Bad cells become gaps and bad rows are left out; each is reported with row, column and reason
 * (the first hundred of a kind are listed, all are counted). Rows are put into the order of time by `putInOrder`.
 * Memory grows with the readings kept, not with the text.
 */
export class LogReader {
  private readonly pieces = new WholeLines({
    lines: (text) => this.take(text),
    dropped: (bytes) => {
      this.report({ kind: "longLine", row: this.line + 1, bytes });
      this.summary.rowsRejected++;
    },
    droppedEnded: () => this.line++,
  });
  private row = 0;
  private line = 0;
  private times = new Float64Array(FIRST_CAPACITY);
  private lines = new Uint32Array(FIRST_CAPACITY);
  private patterns = new Uint8Array(FIRST_CAPACITY);
  /** The ways in which times are written, and the first rows of each. */
  private readonly seen: { name: string; rows: { line: number; text: string }[] }[] = [];
  private readonly columns: ReadColumn[];
  private readonly questions: LogQuestion[] = [];
  private count = 0;
  private previous = NaN;
  private pattern = 0;
  private width: number;
  private timeColumns: number[];
  private readonly headers: string[];
  private readonly clock: TimestampReader;
  private readonly scan: RowScan;
  /** A column whose name is a number: a header written again looks like readings. */
  private readonly namedByNumber: boolean;
  private readonly problems: ImportProblem[] = [];
  private readonly summary = emptySummary();

  /** @param latestMs now, ms UTC: what lies beyond it is asked about */
  constructor(
    private readonly settings: LogSettings,
    private readonly latestMs = Infinity,
  ) {
    this.width = settings.columns.length;
    this.timeColumns = [...settings.timeColumns];
    this.headers = settings.columns.map((c) => c.header);
    this.clock = new TimestampReader(settings.timeFormat, settings.zone);
    this.scan = new RowScan(settings.delimiter, settings.decimal, MOST_COLUMNS + 2);
    this.namedByNumber = this.headers.some((h) => readCell(h, settings.decimal).kind === "number");
    this.columns = settings.columns
      .filter((c) => !settings.timeColumns.includes(c.index))
      .map((use) => {
        const unit = use.kind ? columnUnit(use.kind, use) : null;
        const values = new Column();
        return {
          use,
          values: unit && !isSi(unit) ? values.in((v) => toSi(v, unit)) : values,
          at: use.index,
          marks: new MarkedCells(),
        };
      });
  }

  /** Rows seen so far, for progress. */
  get rowsRead(): number {
    return this.summary.rowsRead;
  }

  push(text: string): void {
    this.pieces.push(text);
  }

  finish(): LogData {
    this.pieces.finish();
    for (const column of this.columns) this.settleMarks(column);
    return this.inOrder();
  }

  private take(whole: string): void {
    const text = withoutLongLines(whole, (line, bytes) => {
      this.report({ kind: "longLine", row: this.line + line, bytes });
      this.summary.rowsRejected++;
    });
    // Blanks between columns are joined before they are told apart.
    const from = this.settings.delimiter === " " ? 0 : this.takeScanned(text);
    if (from < text.length) this.takeFully(from === 0 ? text : text.slice(from));
  }

  /**
   * Takes rows where they stand in the text, for as long as their quotes are plain.
   * @returns where the full way must go on
   */
  private takeScanned(text: string): number {
    for (let from = 0; from < text.length;) {
      const end = text.indexOf("\n", from);
      const to = end < 0 ? text.length : end;
      if (!this.scan.scan(text, from, to)) return from;
      this.line++;
      if (!this.scan.blank) this.takeRow(this.line);
      from = to + 1;
    }
    return text.length;
  }

  private takeFully(text: string): void {
    const blankAware = text.includes("\n\n") || text.startsWith("\n");
    const rows = tokenise(text, this.settings.delimiter);
    if (!blankAware) {
      for (const cells of rows) this.takeCells(cells, ++this.line);
      return;
    }
    // With blank lines about, editor line numbers come from the text itself.
    const lines = text.split("\n");
    let at = 0;
    for (const cells of rows) {
      while (at < lines.length && lines[at].split(this.settings.delimiter).join("").trim() === "") at++;
      this.takeCells(cells, this.line + ++at);
    }
    this.line += lines.length;
  }

  private takeCells(cells: readonly string[], line: number): void {
    this.scan.load(cells);
    this.takeRow(line);
  }

  private takeRow(line: number): void {
    const { scan } = this;
    if (this.row++ < this.settings.firstDataRow) return;
    const quick = this.quickTime();
    // A header names two columns or more; where no name reads as a number, its cells are no numbers.
    const mayBeHeader = this.namedByNumber || scan.odd >= (Number.isNaN(quick) ? 2 : 3);
    if (mayBeHeader && this.isHeaderAgain(scan.cells())) {
      this.remap(scan.cells(), line);
      return;
    }
    this.summary.rowsRead++;
    if (scan.count !== this.width) {
      // A trailing delimiter adds one empty cell and means nothing.
      if (!(scan.count === this.width + 1 && scan.text(this.width).trim() === "")) {
        this.reject({ kind: "fieldCount", row: line, found: scan.count, expected: this.width });
        return;
      }
    }
    const utcMs = Number.isNaN(quick) ? this.readTime(line) : quick;
    if (utcMs === null) return;
    if (utcMs === quick) this.notePattern(this.clock.quickPattern, line);
    if (this.count === this.times.length) this.grow();
    const i = this.count++;
    this.times[i] = utcMs;
    this.lines[i] = line;
    this.patterns[i] = this.pattern;
    this.previous = utcMs;
    // Nothing has no sign: what a logger writes as −0.0 is 0.
    for (const column of this.columns) column.values.push(column.at < 0 ? NaN : this.readValue(column, line) + 0);
  }

  /** The row's time where it is of the day read last; NaN where it must be read fully. */
  private quickTime(): number {
    const [at] = this.timeColumns;
    const { scan } = this;
    if (this.timeColumns.length > 1 || at >= scan.count) return NaN;
    return this.clock.quickAt(scan.source, scan.from[at], scan.to[at]);
  }

  private timeText(): string {
    return this.timeColumns.map((c) => this.scan.text(c)).join(" ");
  }

  private readTime(line: number): number | null {
    const text = this.timeText();
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
    this.notePattern(time.pattern, line);
    if (!time.repeated) return time.utcMs;
    this.summary.repeatedHourRows++;
    const [first, second] = time.repeated;
    // In the hour shown twice, going back on the wall clock means the second showing has begun.
    return this.previous >= first && this.previous < first + DAY ? second : first;
  }

  private notePattern(name: string, line: number): void {
    if (this.seen[this.pattern]?.name !== name) this.pattern = this.patternOf(name);
    const { rows } = this.seen[this.pattern];
    if (rows.length < LISTED_PER_KIND) rows.push({ line, text: this.timeText().slice(0, 60) });
  }

  private patternOf(name: string): number {
    const at = this.seen.findIndex((p) => p.name === name);
    if (at >= 0) return at;
    return this.seen.length < MOST_PATTERNS ? this.seen.push({ name, rows: [] }) - 1 : this.seen.length - 1;
  }

  private readValue(column: ReadColumn, line: number): number {
    const { scan } = this;
    // Nearly every cell is a plain number.
    if (scan.isOdd[column.at] === 0) {
      column.marks.sawPlain(scan.values[column.at]);
      return scan.values[column.at];
    }
    const cell = scan.text(column.at);
    const read = readCell(cell, this.settings.decimal);
    switch (read.kind) {
      case "number":
        column.marks.sawPlain(read.value);
        return read.value;
      case "marked":
        column.marks.add(read, { row: this.count - 1, line, text: cell.slice(0, 60) });
        return read.value;
      case "notANumber":
        this.notANumber(
          { kind: "notANumber", row: line, column: column.use.header, text: cell.slice(0, 60) },
          column.use,
        );
        return NaN;
      case "missing":
        return NaN;
    }
  }

  /** Text in a column nobody uses is a remark, not a fault. */
  private notANumber(problem: ImportProblem, use: ColumnUse): void {
    if (!use.kind) return;
    this.summary.cellsUnreadable++;
    this.report(problem);
  }

  /** Marks between thousands are taken where the whole column uses them alike, and a cell or a person says that they are. */
  private settleMarks({ marks, use, values }: ReadColumn): void {
    const [first] = marks.cells;
    const said = this.settings.answers?.thousands;
    if (!first || (marks.alike && (marks.certain || said === "thousands"))) return;
    for (const { row, line, text } of marks.cells) {
      values.set(row, NaN);
      this.notANumber({ kind: "unevenMarks", row: line, column: use.header, text }, use);
    }
    if (marks.alike && !said && use.kind)
      this.questions.push({ kind: "thousands", column: use.header, row: first.line, text: first.text.trim() });
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
    const wider = <T extends Float64Array | Uint32Array | Uint8Array>(old: T): T => {
      const next = new (old.constructor as new (n: number) => T)(old.length * 2);
      next.set(old);
      return next;
    };
    this.times = wider(this.times);
    this.lines = wider(this.lines);
    this.patterns = wider(this.patterns);
  }

  private inOrder(): LogData {
    const { count, times, lines, patterns, columns } = this;
    const ordered = putInOrder(
      {
        count,
        times,
        lines,
        patterns,
        patternNames: this.seen.map((p) => p.name),
        columns: columns.map((c) => c.values),
        used: columns.filter((c) => c.use.kind).map((c) => c.values),
      },
      this.settings.answers ?? {},
      this.latestMs,
    );
    this.askAboutLeftOut();
    this.reportOrder(ordered);
    const { order } = ordered;
    const asRead = order.length === count && ordered.backwardTimes === 0;
    return {
      times: ordered.times,
      channels: columns.map(({ use, values }) => new ChannelData(use, asRead ? values : values.picked(order))),
      problems: this.problems,
      summary: this.summary,
      questions: [...ordered.questions, ...this.questions],
    };
  }

  private askAboutLeftOut(): void {
    const { rowsRejected, rowsRead } = this.summary;
    const unfit = this.problems.find((p) => p.kind === "badTime" || p.kind === "fieldCount");
    const few = rowsRejected < FEW_LEFT_OUT || rowsRejected <= ASK_ABOVE_LEFT_OUT * rowsRead;
    // A file without one row is refused with its own words.
    if (!unfit || few || this.count === 0 || this.settings.answers?.leftOut) return;
    this.questions.push({ kind: "leftOut", rows: rowsRejected, share: rowsRejected / rowsRead, row: unfit.row });
  }

  private reportOrder(ordered: OrderedRows): void {
    const { summary, lines } = this;
    summary.rowsKept = ordered.order.length;
    summary.backwardTimes = ordered.backwardTimes;
    summary.largestBackwardStepMs = ordered.largestBackwardStepMs;
    summary.duplicateTimes = ordered.conflicts.length;
    summary.joinedRows = ordered.joined;
    for (const i of ordered.otherPattern) {
      const line = lines[i];
      const text = this.seen[this.patterns[i]].rows.find((r) => r.line === line)?.text ?? "";
      this.reject({ kind: "otherPattern", row: line, column: this.headers[this.settings.timeColumns[0]], text });
    }
    for (const i of ordered.strays) this.reject({ kind: "strayTime", row: lines[i], utcMs: this.times[i] });
    for (const { row, kept } of ordered.conflicts)
      this.report({ kind: "sameTime", row: lines[row], kept: lines[kept] });
  }
}

/** Reads a whole text at once. */
export function readLog(text: string, settings: LogSettings, latestMs?: number): LogData {
  const reader = new LogReader(settings, latestMs);
  reader.push(text);
  return reader.finish();
}
