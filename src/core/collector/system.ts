type Side = "front" | "back" | "edge";

/** One stretch's linear balance: conductances in, temperatures out. */
export class LinearSystem {
  readonly size: number;
  private readonly matrix: Float64Array;
  private readonly right: Float64Array;
  private readonly outer: { node: number; conductance: number; toC: number; side: Side }[] = [];

  constructor(size: number) {
    this.size = size;
    this.matrix = new Float64Array(size * size);
    this.right = new Float64Array(size);
  }

  clear(): void {
    this.matrix.fill(0);
    this.right.fill(0);
    this.outer.length = 0;
  }

  add(row: number, column: number, value: number): void {
    this.matrix[row * this.size + column] += value;
  }

  source(row: number, value: number): void {
    this.right[row] += value;
  }

  link(a: number, b: number, conductance: number): void {
    this.add(a, a, conductance);
    this.add(b, b, conductance);
    this.add(a, b, -conductance);
    this.add(b, a, -conductance);
  }

  toward(node: number, conductance: number, toC: number): void {
    this.add(node, node, conductance);
    this.source(node, conductance * toC);
  }

  lose(node: number, conductance: number, toC: number, side: Side): void {
    this.toward(node, conductance, toC);
    this.outer.push({ node, conductance, toC, side });
  }

  /** Heat, W/m², that leaves on a side at these temperatures. */
  lost(side: Side, temperatures: Float64Array): number {
    return this.outer.reduce(
      (sum, o) => (o.side === side ? sum + o.conductance * (temperatures[o.node] - o.toC) : sum),
      0,
    );
  }

  solve(): Float64Array<ArrayBuffer> {
    return solveLinear(this.matrix, this.right, this.size);
  }
}

/** Gauss elimination without pivoting: these matrices are dominated by their diagonal. Zeros of the narrow band are skipped. */
function solveLinear(source: Float64Array, rhs: Float64Array, n: number): Float64Array<ArrayBuffer> {
  const a = source;
  const b = rhs;
  for (let k = 0; k < n; k++) {
    const pivot = a[k * n + k];
    for (let i = k + 1; i < n; i++) {
      const f = a[i * n + k] / pivot;
      if (f === 0) continue;
      for (let j = k; j < n; j++) if (a[k * n + j] !== 0) a[i * n + j] -= f * a[k * n + j];
      b[i] -= f * b[k];
    }
  }
  const x = new Float64Array(n);
  for (let i = n - 1; i >= 0; i--) {
    let sum = b[i];
    for (let j = i + 1; j < n; j++) sum -= a[i * n + j] * x[j];
    x[i] = sum / a[i * n + i];
  }
  return x;
}
