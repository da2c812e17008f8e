/** Readings a segment: packed once it is full. */
const SEGMENT = 1 << 15;
/** Loggers write up to four places; what has more stays as it is. */
const SCALES = [1, 10, 100, 1000, 10_000];
const GAP = { short: -32768, long: -2147483648 };

/** Numbers as whole ones and the scale they are divided by; as they are where no scale brings each back to its last bit. */
export type Packed = { whole: Int16Array | Int32Array; scale: number } | Float64Array;

/**
 * A column of numbers as they were written, growing at its end, in a fraction of the memory of doubles. A logger writes decimals:
 * 21.37 is kept as 2137 and a scale of 100, and 2137 / 100 is the very double that "21.37" reads as, because both are the one nearest to
 * the decimal. A segment that does not come back to the last bit (many places, huge numbers) stays as doubles. NaN is a gap.
 */
export class Column {
  private readonly full: Packed[] = [];
  private open = new Float64Array(64);
  private filled = 0;
  /** To SI, from the unit the numbers are written in. */
  private convert: ((v: number) => number) | null = null;

  get length(): number {
    return this.full.length * SEGMENT + this.filled;
  }

  /** Bytes held. */
  get byteLength(): number {
    return this.full.reduce((s, p) => s + (p instanceof Float64Array ? p : p.whole).byteLength, this.open.byteLength);
  }

  static from(values: Float64Array): Column {
    const column = new Column();
    for (const v of values) column.push(v);
    return column;
  }

  /** The same numbers, each passed through `convert` when it is opened. */
  in(convert: (v: number) => number): this {
    this.convert = convert;
    return this;
  }

  push(value: number): void {
    if (this.filled === this.open.length) {
      const wider = new Float64Array(Math.min(SEGMENT, 2 * this.open.length));
      wider.set(this.open);
      this.open = wider;
    }
    this.open[this.filled++] = value;
    if (this.filled < SEGMENT) return;
    this.full.push(packed(this.open));
    this.filled = 0;
  }

  /** The number as written, before any conversion. */
  at(i: number): number {
    const part = this.full[Math.floor(i / SEGMENT)];
    if (!part) return i < this.length ? this.open[i % SEGMENT] : NaN;
    return part instanceof Float64Array ? part[i % SEGMENT] : unpackedOf(part.whole[i % SEGMENT], part);
  }

  /** Changes one number as written. */
  set(i: number, value: number): void {
    const segment = Math.floor(i / SEGMENT);
    const part = this.full[segment];
    if (!part) this.open[i % SEGMENT] = value;
    else {
      const opened = part instanceof Float64Array ? part : unpacked(part, 0, SEGMENT);
      opened[i % SEGMENT] = value;
      this.full[segment] = opened;
    }
  }

  /** The numbers from one place until before another, converted: a new array. */
  slice(from = 0, to = this.length): Float64Array {
    const out = new Float64Array(Math.max(0, Math.min(to, this.length) - from));
    for (let done = 0; done < out.length;) {
      const at = from + done;
      const start = at % SEGMENT;
      const n = Math.min(SEGMENT - start, out.length - done);
      const part = this.full[Math.floor(at / SEGMENT)] ?? this.open;
      if (part instanceof Float64Array) out.set(part.subarray(start, start + n), done);
      else unpackInto(out, done, part, start, n);
      done += n;
    }
    if (this.convert) for (let i = 0; i < out.length; i++) out[i] = this.convert(out[i]);
    return out;
  }

  /** The numbers at these places, in their order, in the same unit. */
  picked(places: Uint32Array): Column {
    const column = new Column();
    for (const i of places) column.push(this.at(i));
    column.convert = this.convert;
    return column;
  }
}

/** All numbers of a packed array. */
export const opened = (part: Packed): Float64Array =>
  part instanceof Float64Array ? part : unpacked(part, 0, part.whole.length);

const unpackedOf = (n: number, { whole, scale }: Exclude<Packed, Float64Array>): number =>
  n === (whole instanceof Int16Array ? GAP.short : GAP.long) ? NaN : n / scale;

function unpacked(part: Exclude<Packed, Float64Array>, from: number, to: number): Float64Array {
  const out = new Float64Array(to - from);
  unpackInto(out, 0, part, from, out.length);
  return out;
}

function unpackInto(
  out: Float64Array,
  at: number,
  { whole, scale }: Exclude<Packed, Float64Array>,
  from: number,
  n: number,
): void {
  const gap = whole instanceof Int16Array ? GAP.short : GAP.long;
  for (let i = 0; i < n; i++) out[at + i] = whole[from + i] === gap ? NaN : whole[from + i] / scale;
}

/** As the smallest decimals that come back to the last bit; a copy as doubles where none do. */
export function packed(values: Float64Array): Packed {
  for (const scale of SCALES) {
    const short = asWhole(values, scale, new Int16Array(values.length), GAP.short);
    if (short === "wide") {
      const long = asWhole(values, scale, new Int32Array(values.length), GAP.long);
      if (long instanceof Int32Array) return { whole: long, scale };
    } else if (short !== "finer") return { whole: short, scale };
  }
  return values.slice();
}

function asWhole<T extends Int16Array | Int32Array>(
  values: Float64Array,
  scale: number,
  out: T,
  gap: number,
): T | "wide" | "finer" {
  for (let i = 0; i < values.length; i++) {
    const v = values[i];
    if (Number.isNaN(v)) {
      out[i] = gap;
      continue;
    }
    const n = Math.round(v * scale);
    if (n / scale !== v || Object.is(v, -0)) return "finer";
    if (n <= gap || n >= -gap) return "wide";
    out[i] = n;
  }
  return out;
}
