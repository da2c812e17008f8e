const QUOTE = 0x22;
const BLANK = 0x20;
const [PLUS, MINUS, ZERO] = [43, 45, 48];
/** A whole number of so many digits is held by a double. */
const MOST_DIGITS = 15;
const TENS = Array.from({ length: MOST_DIGITS + 1 }, (_, i) => 10 ** i);

/**
 * A row of a log, read where it stands in the text: no cell becomes a string of its own. Plain numbers are read at once; of every
 * other cell the place is noted.
 */
export class RowScan {
  /** The text in which the row stands. */
  source = "";
  /** Cells of the row last scanned. */
  count = 0;
  /** Those of them that are neither a plain number nor blank. */
  odd = 0;
  /** A row of blank cells only. */
  blank = true;
  /** By cell: what it reads as; NaN for a blank one and for one that is no plain number. */
  readonly values: Float64Array;
  /** By cell: where it begins and ends, quotes left out. */
  readonly from: Int32Array;
  readonly to: Int32Array;
  /** By cell: 1 where it is no plain number and not blank. */
  readonly isOdd: Uint8Array;
  private readonly delimiterCode: number;
  private readonly decimalCode: number;

  /** @param most cells a row may have; what has more is left to the full way */
  constructor(
    delimiter: string,
    decimal: "." | ",",
    private readonly most: number,
  ) {
    this.delimiterCode = delimiter.charCodeAt(0);
    this.decimalCode = decimal.charCodeAt(0);
    this.values = new Float64Array(most);
    this.from = new Int32Array(most);
    this.to = new Int32Array(most);
    this.isOdd = new Uint8Array(most);
  }

  /** A row whose quotes another reader has taken off. Cells beyond the most are counted only. */
  load(cells: readonly string[]): void {
    this.source = cells.join("");
    this.odd = 0;
    this.blank = true;
    let at = 0;
    for (let cell = 0; cell < Math.min(cells.length, this.most); cell++) {
      this.take(cell, this.source, at, at + cells[cell].length);
      at += cells[cell].length;
    }
    this.count = cells.length;
  }

  /** @returns false for a row whose quotes or width need the full way */
  scan(text: string, from: number, to: number): boolean {
    const { delimiterCode, most } = this;
    this.source = text;
    this.odd = 0;
    this.blank = true;
    let cell = 0;
    for (let at = from; ; cell++) {
      if (cell === most) return false;
      const plain = this.takePlain(cell, text, at, to);
      if (plain >= 0) at = plain;
      else {
        let begin = at;
        let end: number;
        if (text.charCodeAt(at) === QUOTE && at < to) {
          begin = at + 1;
          end = text.indexOf('"', begin);
          if (end < 0 || end >= to) return false;
          at = end + 1;
          if (at < to && text.charCodeAt(at) !== delimiterCode) return false;
        } else {
          while (at < to && text.charCodeAt(at) !== delimiterCode) at++;
          end = at;
        }
        this.take(cell, text, begin, end);
      }
      if (at >= to) break;
      at++;
    }
    this.count = cell + 1;
    return true;
  }

  /**
   * Nearly every cell: digits with a sign and a decimal mark at most, up to the next delimiter. Fifteen digits are a whole number that a
   * double holds, and one division by a power of ten rounds to the double nearest to the decimal: what `Number` gives.
   * @returns where the cell ends; −1 for every other cell, of which nothing is taken
   */
  private takePlain(cell: number, text: string, from: number, to: number): number {
    const { delimiterCode, decimalCode } = this;
    const sign = text.charCodeAt(from);
    let at = sign === PLUS || sign === MINUS ? from + 1 : from;
    let digits = 0;
    let whole = 0;
    let point = -1;
    for (; at < to; at++) {
      const code = text.charCodeAt(at);
      const digit = code - ZERO;
      if (digit >= 0 && digit <= 9) {
        whole = 10 * whole + digit;
        digits++;
      } else if (code === decimalCode && point < 0) point = at;
      else if (code === delimiterCode) break;
      else return -1;
    }
    if (digits === 0 || digits > MOST_DIGITS) return -1;
    const value = point < 0 ? whole : whole / TENS[at - 1 - point];
    this.values[cell] = sign === MINUS ? -value : value;
    this.from[cell] = from;
    this.to[cell] = at;
    this.isOdd[cell] = 0;
    this.blank = false;
    return at;
  }

  private take(cell: number, text: string, from: number, to: number): void {
    let [begin, end] = [from, to];
    while (begin < end && text.charCodeAt(begin) === BLANK) begin++;
    while (end > begin && text.charCodeAt(end - 1) === BLANK) end--;
    if (begin === end || this.takePlain(cell, text, begin, end) !== end) {
      this.values[cell] = NaN;
      this.isOdd[cell] = begin < end ? 1 : 0;
      this.odd += this.isOdd[cell];
      if (begin < end) this.blank = false;
    }
    this.from[cell] = from;
    this.to[cell] = to;
  }

  /** The cell as written, apart from the text it stood in: a slice would hold all of it in memory. */
  text(cell: number): string {
    return apart(this.source, this.from[cell], this.to[cell]);
  }

  /** All cells as written. */
  cells(): string[] {
    return Array.from({ length: Math.min(this.count, this.most) }, (_, i) => this.text(i));
  }
}

/** Below this an engine copies a slice rather than pointing into what it was cut from. */
const SHORT = 12;

function apart(text: string, from: number, to: number): string {
  let copy = "";
  for (let at = from; at < to; at += SHORT) copy += text.slice(at, Math.min(to, at + SHORT));
  return copy;
}
