import type { Cell, ThousandsMark } from "./cell";

export interface MarkedCell {
  row: number;
  line: number;
  text: string;
}

/** A column's cells with marks between digits, until the whole column is known. */
export class MarkedCells {
  readonly cells: MarkedCell[] = [];
  /** A cell showed beyond doubt that the mark stands between thousands. */
  certain = false;
  private readonly marks = new Set<ThousandsMark>();
  private plainThousands = false;

  add({ mark, certain }: Extract<Cell, { kind: "marked" }>, cell: MarkedCell): void {
    this.marks.add(mark);
    this.certain ||= certain;
    this.cells.push(cell);
  }

  /** A number without marks: from a thousand up it shows that the column does without. */
  sawPlain(value: number): void {
    if (value >= 1000 || value <= -1000) this.plainThousands = true;
  }

  /** One mark, and no thousand without it. */
  get alike(): boolean {
    return this.marks.size === 1 && !this.plainThousands;
  }
}
