import type { Field } from "./parts";

const { abs, max } = Math;

/** What a row is put through in a step. */
export interface RowStep {
  light: number;
  outsideC: number;
  /** Of the row's stream while it runs, W/K, and the share of the step it runs, 0 to 1. */
  flowWK: number;
  duty: number;
  /** How well the stream gives its heat to the sink, 0 to 1. */
  share: number;
  sinkC: number;
}

export interface RowAfter {
  /** Taken up by the stream, W on average over the step. */
  takenW: number;
  /** Stream while it runs: out of the last box, and into the first. */
  supplyC: number;
  returnC: number;
}

/**
 * Boxes one behind the other through a step, implicitly: each has its own mean temperature and takes the stream as the one before it
 * leaves it, so that a long row does not collect as if all of it were as cool as its beginning.
 *
 * Of a box: C(b − b₀)/Δt = A·η₀·G − U(b − Ta) − κF·d(b − s), and its stream leaves at s + κ(b − s). Running all the time κ = 2, the
 * mean-fluid basis; started now and then from standing the box is as warm everywhere, and its stream leaves no warmer than that:
 * κ = 1 + d² (between the two by judgement). What comes back from the sink: s₁ = (1 − ε)·s_out + ε·sink. All of it is linear in s₁;
 * the loss grows with temperature, so it is gone through twice.
 *
 * @param before of each box, °C @param after is written
 */
export function stepRow(
  field: Field,
  before: Float64Array,
  after: Float64Array,
  { light, outsideC, flowWK, duty, share, sinkC }: RowStep,
  seconds: number,
): RowAfter {
  const n = before.length;
  const area = field.areaM2 / n;
  const stored = field.capacityJK / n / seconds;
  const { eta0, a1, a2 } = field.curve;
  const gain = area * eta0 * light;
  const kappa = 1 + duty * duty;
  const stream = kappa * flowWK * duty;
  const flows = stream > 0;
  for (let k = 0; k < n; k++) after[k] = before[k];
  let returnC = sinkC;
  let supplyC = sinkC;
  for (let round = 0; round < 2; round++) {
    // Stream after so many boxes as A + B·s₁.
    let A = 0;
    let B = 1;
    for (let k = 0; k < n && flows && share < 1; k++) {
      const u = lossOf(area, a1, a2, after[k], outsideC);
      const all = max(1e-9, stored + u + stream);
      A = (kappa * (stored * before[k] + gain + u * outsideC + stream * A)) / all - (kappa - 1) * A;
      B = ((kappa * stream) / all - (kappa - 1)) * B;
    }
    // Without an exchanger the stream comes back as the sink is.
    if (flows && share < 1) returnC = ((1 - share) * A + share * sinkC) / (1 - (1 - share) * B);
    let s = returnC;
    for (let k = 0; k < n; k++) {
      const u = lossOf(area, a1, a2, after[k], outsideC);
      after[k] = (stored * before[k] + gain + u * outsideC + stream * s) / max(1e-9, stored + u + stream);
      s = kappa * after[k] - (kappa - 1) * s;
    }
    if (flows) supplyC = s;
  }
  return { takenW: flows ? flowWK * duty * (supplyC - returnC) : 0, supplyC, returnC };
}

/** The loss coefficient grows with temperature. */
const lossOf = (areaM2: number, a1: number, a2: number, boxC: number, outsideC: number): number =>
  areaM2 * max(0.05, a1 + a2 * abs(boxC - outsideC));
