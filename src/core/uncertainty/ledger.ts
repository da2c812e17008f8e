import type { SourceKind } from "./source";
import type { Part, Uncertain } from "./uncertain";

/** A figure over the sources of a ledger: their numbers, and the contribution of each. */
export interface Entry {
  value: number;
  ids: Int32Array;
  standards: Float64Array;
}

/**
 * Figures that share their sources, as rows of numbers: of many figures thousands of differences and means are taken, and a table of
 * names for each would be most of the work.
 */
export class Ledger {
  /** By number: what the source is. */
  readonly parts: { key: string; source: Part["source"] }[] = [];
  /** By number: its kind as its user tells kinds apart, and its degrees of freedom. */
  readonly natures: number[] = [];
  readonly dofs: number[] = [];
  private readonly numbers = new Map<string, number>();

  constructor(private readonly natureOf: (kind: SourceKind) => number) {}

  entry(figure: Uncertain): Entry {
    const ids = new Int32Array(figure.parts.size);
    const standards = new Float64Array(figure.parts.size);
    let i = 0;
    for (const [key, { source, standard }] of figure.parts) {
      ids[i] = this.numberOf(key, source);
      standards[i++] = standard;
    }
    return { value: figure.value, ids, standards };
  }

  /** Contributions added up, as a figure. */
  figure(value: number, { ids, of }: Sums): Uncertain {
    const parts = new Map<string, Part>();
    for (const id of ids) parts.set(this.parts[id].key, { source: this.parts[id].source, standard: of(id) });
    return { value, parts };
  }

  private numberOf(key: string, source: Part["source"]): number {
    const known = this.numbers.get(key);
    if (known !== undefined) return known;
    const id = this.parts.push({ key, source }) - 1;
    this.numbers.set(key, id);
    this.natures.push(this.natureOf(source.kind));
    this.dofs.push(source.dof);
    return id;
  }
}

/** Contributions by the number of their source, added up in the order in which `combine` adds, so that both give the same to the last digit. */
export class Sums {
  /** Sources that something was added to since the last `clear`, in that order. */
  readonly ids: number[] = [];
  private sums = new Float64Array(64);
  private has = new Uint8Array(64);

  readonly of = (id: number): number => this.sums[id];

  add(id: number, standard: number): void {
    if (this.has[id]) {
      this.sums[id] += standard;
      return;
    }
    if (id >= this.has.length) this.widen(id);
    this.has[id] = 1;
    this.ids.push(id);
    this.sums[id] = standard;
  }

  addEntry(coefficient: number, { ids, standards }: Entry): void {
    for (let i = 0; i < ids.length; i++) this.add(ids[i], coefficient * standards[i]);
  }

  clear(): void {
    for (const id of this.ids) this.has[id] = 0;
    this.ids.length = 0;
  }

  private widen(id: number): void {
    const length = Math.max(2 * this.has.length, id + 1);
    const [sums, has] = [new Float64Array(length), new Uint8Array(length)];
    sums.set(this.sums);
    has.set(this.has);
    [this.sums, this.has] = [sums, has];
  }
}
