import { readCell } from "../log/cell";
import { sniffLog, tokenise, type LogLayout } from "../log/sniff";
import { TimestampReader } from "../log/timestamp";
import { LONGEST_NAME, nameFault, type Frame } from "./frame";

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
  private width = 0;
  private timeColumns: readonly number[] = [];
  private timeNames: readonly string[] = [];
  private channels: readonly { index: number; name: string }[] = [];
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
      const { columns, timeColumns } = this.layout;
      const headers = columns.map((c) => c.header);
      this.named(headers, timeColumns);
      this.timeNames = timeColumns.map((c) => headers[c].trim());
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
    const layout = this.layout!;
    if (this.row++ < layout.firstDataRow) return [];
    const time = this.clock!.read(
      this.timeColumns
        .map((c) => cells[c] ?? "")
        .join(" ")
        .trim(),
    );
    if (!time.ok && this.beginsAnew(cells)) return [];
    if (cells.length !== this.width || !time.ok || time.repeated) {
      this.leftOut++;
      return [];
    }
    const values = this.channels.flatMap(({ index, name }): [string, number][] => {
      const cell = readCell(cells[index], layout.decimal);
      // A mark that may stand for thousands is nobody's to guess here: the import asks.
      return cell.kind === "number" ? [[name, cell.value]] : [];
    });
    if (!values.length) this.leftOut++;
    return values.length ? [{ atMs: time.utcMs, values }] : [];
  }

  /** Columns by the names that stand over them; of two of one name the later is told by its place. */
  private named(headers: readonly string[], timeColumns: readonly number[]): void {
    const taken = new Set<string>();
    this.timeColumns = timeColumns;
    this.width = headers.length;
    this.channels = headers.flatMap((header, index) => {
      if (timeColumns.includes(index) || nameFault(header)) return [];
      const plain = header.trim();
      const name = taken.has(plain) ? `${plain.slice(0, LONGEST_NAME - 12)} (column ${index + 1})` : plain;
      taken.add(name);
      return [{ index, name }];
    });
  }

  /**
   * A logger that was started again writes its header again, perhaps with its columns in another order: from here on they count by it.
   * @throws CannotFollow where it names no time any more
   */
  private beginsAnew(cells: readonly string[]): boolean {
    const { decimal, columns } = this.layout!;
    const words = cells.map((c) => c.trim());
    if (words.filter(Boolean).length < 2 || words.some((c) => readCell(c, decimal).kind === "number")) return false;
    const known = new Set(columns.map((c) => c.header.trim()));
    // Some of its words are those of the header before: else it is a remark.
    if (!words.some((w) => w !== "" && known.has(w))) return false;
    const times = this.timeNames.map((name) => words.indexOf(name));
    if (times.includes(-1))
      throw new CannotFollow(
        `row ${this.row} is a new header, and none of its columns is called ${this.timeNames.join(" or ")}`,
      );
    this.named(words, times);
    return true;
  }
}
