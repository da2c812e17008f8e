import { unitOf, type Unit } from "../quantity/quantities";
import { CHANNEL_KINDS, type ChannelKind } from "./channel";
import type { Column } from "./column";
import type { LogAnswers, LogQuestion } from "./question";
import type { Delimiter } from "./sniff";
import type { TimeFormat } from "./timestamp";

export interface ColumnUse {
  index: number;
  header: string;
  kind: ChannelKind | null;
  lane: string | null;
  /** Unit symbol of the column's kind; null for an unused column, kept as written. */
  unit: string | null;
  /** Instead of a unit: what one in the log is, SI. Pulses, hertz, millivolts of a cell, turns of a fan. */
  factor?: number | null;
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
  /** What a person said where the file alone does not tell. */
  answers?: LogAnswers;
}

/** Something in the file that could not be taken as it stands. Rows count from 1 as an editor shows them. */
export type ImportProblem =
  | { kind: "fieldCount"; row: number; found: number; expected: number }
  | { kind: "badTime"; row: number; column: string; text: string; reason: "unreadable" | "noSuchDate" | "skippedHour" }
  | { kind: "notANumber"; row: number; column: string; text: string }
  /** Marks between digits that the rest of the column does not use alike. */
  | { kind: "unevenMarks"; row: number; column: string; text: string }
  | { kind: "otherPattern"; row: number; column: string; text: string }
  | { kind: "strayTime"; row: number; utcMs: number }
  | { kind: "sameTime"; row: number; kept: number }
  | { kind: "columnsChanged"; row: number; missing: string[] }
  | { kind: "longLine"; row: number; bytes: number };

export interface ImportSummary {
  rowsRead: number;
  rowsKept: number;
  rowsRejected: number;
  /** Rows left out because another row of one time said something else; before, any row with a time seen already. */
  duplicateTimes: number;
  /** Rows of one time that do not contradict each other, taken as one. */
  joinedRows?: number;
  /** Rows that came after a later one; sorted into place. */
  backwardTimes: number;
  largestBackwardStepMs: number;
  repeatedHourRows: number;
  cellsUnreadable: number;
  /** How many problems of each kind, whether or not listed. */
  problemCounts: Partial<Record<ImportProblem["kind"], number>>;
}

/** Of nothing read yet. */
export const emptySummary = (): ImportSummary => ({
  rowsRead: 0,
  rowsKept: 0,
  rowsRejected: 0,
  duplicateTimes: 0,
  backwardTimes: 0,
  largestBackwardStepMs: 0,
  repeatedHourRows: 0,
  cellsUnreadable: 0,
  problemCounts: {},
});

export class ChannelData {
  /** @param column as written, opened in SI */
  constructor(
    readonly use: ColumnUse,
    readonly column: Column,
  ) {}

  /** Every reading, SI; a new array each time, so take it once. */
  get values(): Float64Array {
    return this.column.slice();
  }
}

export interface LogData {
  times: Float64Array;
  channels: ChannelData[];
  problems: ImportProblem[];
  summary: ImportSummary;
  /** What a person must say before the readings can be trusted. */
  questions: LogQuestion[];
}

/** A column's unit: by name, or by its own factor; null where neither is said. */
export function columnUnit(kind: ChannelKind, { unit, factor }: Pick<ColumnUse, "unit" | "factor">): Unit | null {
  if (factor) return { symbol: "", factor };
  return unit ? unitOf(CHANNEL_KINDS[kind].quantity, unit) : null;
}
