import { readCell } from "../log/cell";
import { sniffLog, tokenise, type LogLayout } from "../log/sniff";
import { TimestampReader } from "../log/timestamp";
import { nameFault, type Frame } from "./frame";

export interface GrownLogOptions {
  /** Zone of the log's clock, where its times do not carry their own. */
  zone: string;
  /** Order of day and month, where the file does not tell. */
  order: "dmy" | "mdy" | "ymd" | null;
}

/** Why a file cannot be followed; its own words. */
export class CannotFollow extends Error {}

/** Enough lines to tell how a log is written. */
const ENOUGH_LINES = 12;

/**
 * A log file that grows, as frames of a device: header names become channel names, as sent. Text is fed as it is read; whole lines
 * only are taken, so that a line still being written waits for its end.
 */
export class GrownLog {
  private layout: LogLayout | null = null;
  private clock: TimestampReader | null = null;
  private carry = "";
  private row = 0;
  /** Rows that gave no frame. */
  leftOut = 0;

  constructor(private readonly options: GrownLogOptions) {}

  /**
   * @param ended no more is to come of this reading: even a short file is looked at
   * @throws CannotFollow when the file is no log, or its dates can be read in two ways and nobody said which
   */
  push(text: string, ended = false): Frame[] {
    this.carry += text;
    if (!this.layout) {
      if (!ended && this.carry.split("\n", ENOUGH_LINES + 1).length <= ENOUGH_LINES) return [];
      this.layout = this.understood();
      if (!this.layout) return [];
    }
    const end = this.carry.lastIndexOf("\n");
    if (end < 0) return [];
    const lines = this.carry.slice(0, end);
    this.carry = this.carry.slice(end + 1);
    return tokenise(lines.replace(/\r\n?/g, "\n"), this.layout.delimiter).flatMap((cells) => this.frameOf(cells));
  }

  private understood(): LogLayout | null {
    const result = sniffLog(this.carry.slice(0, this.carry.lastIndexOf("\n") + 1), { whole: false });
    if (!result.ok) {
      // A file that has just begun holds too little to tell.
      if (result.problem.kind === "empty" || result.problem.kind === "headerOnly") return null;
      throw new CannotFollow(`it does not look like a log (${result.problem.kind})`);
    }
    const { layout } = result;
    const { timeFormat } = layout;
    if (timeFormat.kind === "elapsed") throw new CannotFollow("its times count from a start nobody wrote down");
    if (layout.timeAmbiguous && !this.options.order)
      throw new CannotFollow("its dates can be read two ways: say dmy, mdy or ymd");
    const format =
      layout.timeAmbiguous && timeFormat.kind === "calendar"
        ? { ...timeFormat, order: this.options.order! }
        : timeFormat;
    this.clock = new TimestampReader(format, this.options.zone);
    return layout;
  }

  private frameOf(cells: readonly string[]): Frame[] {
    const { layout } = this;
    if (this.row++ < layout!.firstDataRow) return [];
    const time = this.clock!.read(
      layout!.timeColumns
        .map((c) => cells[c] ?? "")
        .join(" ")
        .trim(),
    );
    if (cells.length !== layout!.columns.length || !time.ok || time.repeated) {
      this.leftOut++;
      return [];
    }
    const values = layout!.columns.flatMap(({ index, header }): [string, number][] => {
      if (layout!.timeColumns.includes(index) || nameFault(header)) return [];
      const cell = readCell(cells[index], layout!.decimal);
      // A mark that may stand for thousands is nobody's to guess here: the import asks.
      return cell.kind === "number" ? [[header.trim(), cell.value]] : [];
    });
    if (!values.length) this.leftOut++;
    return values.length ? [{ atMs: time.utcMs, values }] : [];
  }
}
