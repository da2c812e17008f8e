import { Matrix, SingularValueDecomposition } from "ml-matrix";
import { upperMiddle } from "../numeric/middle";
import { statedReading, type LaneSeries, type RunSeries, type RunSetup } from "./setup";

export interface OutletsExchanged {
  kind: "outletsExchanged";
  lanes: [string, string];
  /** By what: the inlets, the flows, or both. */
  by: "inlet" | "flow" | "both";
  /** How often the smaller of the signs that count lies beyond its own standard uncertainty. */
  sure: number;
}

/** Changes are taken over so many minutes: a box has answered by then, and noise of single minutes is small. */
const OVER = 6;
/** So often must a sign lie beyond its standard uncertainty, and fewer changes tell nothing. */
const SURE = 6;
const FEWEST = 60;
/** Both must run: a stream that stands still or begins says nothing of whose outlet it is. */
const RUNS = 0.5;
/** What inlets and flows must move against each other to tell anything: K, and a share. */
const LEAST_MOVES = { inletK: 0.15, flow: 0.02 };

/**
 * Whose outlet a column is, by its rhythm: where A's inlet warms and B's does not, A's outlet warms; where A's flow grows, A's outlet
 * cools. The difference of two outlets is regressed on the difference of inlets and of the flows' logarithms, by changes over some
 * minutes, so that sun and levels drop out. Both signs the wrong way round, or one clearly and the other not clearly right, and the
 * columns are exchanged. Lanes that move alike in all of it are not told apart.
 */
export function outletsExchanged(setup: RunSetup, series: RunSeries): OutletsExchanged[] {
  const lanes = setup.lanes.flatMap((l) => {
    const own = series.lanes.get(l.lane);
    return own?.inlet && own.outlet ? [{ lane: l.lane, stated: statedReading(l.flow) !== null, own }] : [];
  });
  return lanes.flatMap((a, i) =>
    lanes.slice(i + 1).flatMap((b): OutletsExchanged[] => {
      const found = signs(a, b, series.stepMs);
      if (!found) return [];
      const { inlet, flow } = found;
      // Inlets push the difference up, flows pull it down.
      const [wrongInlet, wrongFlow] = [-inlet, flow];
      const sure = Math.max(wrongInlet, wrongFlow);
      if (sure < SURE || wrongInlet < -2 || wrongFlow < -2) return [];
      const one = wrongInlet >= wrongFlow ? "inlet" : "flow";
      const by = Math.min(wrongInlet, wrongFlow) >= SURE / 2 ? "both" : one;
      return [{ kind: "outletsExchanged", lanes: [a.lane, b.lane], by, sure }];
    }),
  );
}

interface Moving {
  stated: boolean;
  own: LaneSeries;
}

/** Coefficients over their standard uncertainties; 0 for what did not move. */
function signs(a: Moving, b: Moving, stepMs: number): { inlet: number; flow: number } | null {
  const step = Math.max(1, Math.round((OVER * 60_000) / stepMs));
  const n = a.own.outlet!.length;
  const [flowA, flowB] = [a, b].map((l) => (l.stated ? null : l.own.flow));
  const usual = [flowA, flowB].map((f) => (f ? upperMiddle(f.map(Math.abs), (v) => v > 1e-9) : 0));
  const runs = (i: number) => (!flowA || flowA[i] > RUNS * usual[0]) && (!flowB || flowB[i] > RUNS * usual[1]);
  const metered = Boolean(flowA && flowB);
  const ratio = (i: number) => (metered ? Math.log(flowA![i] / flowB![i]) : 0);
  const rows: [outlet: number, inlet: number, flow: number][] = [];
  for (let i = step; i < n; i += step) {
    let running = true;
    for (let k = i - step; running && k <= i; k++) running = runs(k);
    if (!running) continue;
    const change = (x: Float64Array, y: Float64Array) => x[i] - y[i] - (x[i - step] - y[i - step]);
    const row: (typeof rows)[number] = [
      change(a.own.outlet!, b.own.outlet!),
      change(a.own.inlet!, b.own.inlet!),
      ratio(i) - ratio(i - step),
    ];
    if (row.every(Number.isFinite)) rows.push(row);
  }
  if (rows.length < FEWEST) return null;
  const spread = (k: number) => Math.sqrt(rows.reduce((s, r) => s + r[k] ** 2, 0) / rows.length);
  const columns = [
    ...(spread(1) > LEAST_MOVES.inletK ? [1] : []),
    ...(metered && spread(2) > LEAST_MOVES.flow ? [2] : []),
  ];
  if (columns.length === 0) return null;
  const x = new Matrix(rows.map((r) => columns.map((c) => r[c])));
  const svd = new SingularValueDecomposition(x, { autoTranspose: true });
  if (svd.rank < columns.length) return null;
  const y = Matrix.columnVector(rows.map((r) => r[0]));
  const inverse = svd.inverse();
  const beta = inverse.mmul(y);
  const left = Matrix.sub(y, x.mmul(beta)).to1DArray();
  // White's (1980) covariance: a few steps make most of the signal and of the scatter.
  const t = columns.map((_, j) => {
    const variance = left.reduce((s, e, i) => s + (inverse.get(j, i) * e) ** 2, 0);
    return variance > 0 ? beta.get(j, 0) / Math.sqrt(variance) : 0;
  });
  return { inlet: t[columns.indexOf(1)] ?? 0, flow: t[columns.indexOf(2)] ?? 0 };
}
