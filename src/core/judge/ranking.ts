import { seededRandom } from "../random/seededRandom";
import type { Uncertain } from "../uncertainty/uncertain";
import type { Ensemble, PairComparison } from "./pairs";

export interface RankedLane {
  lane: string;
  heat: Uncertain;
  /** Places it may share with those it cannot be told from, 1 is best: [2, 3] is a tie for second. */
  rank: [number, number];
  /** Share of draws in which its variant is best, 0 to 1. */
  chanceBest: number;
  /** Share of draws in which its variant takes each place among the variants, the first being best. */
  chances: number[];
}

const DRAWS = 2000;

/**
 * Order of the lanes by heat, ties grouped, with the chance of being best.
 *
 * The chance is counted over draws of all sources at once (GUM Supplement 1): systematic sources once a draw for all
 * lanes, scatter by random signs and sizes of the windows' own residuals (wild bootstrap), which keeps what the
 * lanes have in common, widened to Student's t. Copies of one variant are averaged, as they are one answer.
 */
export function rankLanes(
  heats: ReadonlyMap<string, Uncertain>,
  ensemble: Ensemble,
  pairs: readonly PairComparison[],
  variantOf: (lane: string) => string,
  options: { repeatability: number; seed: number },
): RankedLane[] {
  const lanes = [...heats.keys()].sort((a, b) => heats.get(b)!.value - heats.get(a)!.value);
  const variants = [...new Set(lanes.map(variantOf))];
  const places = variants.map(() => new Float64Array(variants.length));
  const random = seededRandom(options.seed);
  const shared = lanes.flatMap((l) => [...heats.get(l)!.parts].filter(([, p]) => p.source.kind !== "dayScatter"));
  const systematic = [...new Set(shared.map(([key]) => key))];
  const windows = [...new Set([...ensemble.residuals.values()].flatMap((r) => [...r.keys()]))];
  // Variants' means as linear combinations of standard draws: thousands of draws then are plain products.
  const models = variants.map((variant) => {
    const copies = lanes.filter((l) => variantOf(l) === variant);
    const mean = (of: (lane: string) => number) => copies.reduce((s, l) => s + of(l), 0) / copies.length;
    return {
      value: mean((l) => heats.get(l)!.value),
      shared: Float64Array.from(systematic, (k) => mean((l) => heats.get(l)!.parts.get(k)?.standard ?? 0)),
      scatter: Float64Array.from(windows, (k) => mean((l) => ensemble.residuals.get(l)?.get(k) ?? 0)),
      bench: (options.repeatability * Math.SQRT1_2) / Math.sqrt(copies.length),
    };
  });
  const dof = Math.max(1, ensemble.windows - 1);
  const shift = new Float64Array(systematic.length);
  const sign = new Float64Array(windows.length);
  for (let draw = 0; draw < DRAWS; draw++) {
    for (let i = 0; i < shift.length; i++) shift[i] = random.normal();
    for (let i = 0; i < sign.length; i++) sign[i] = random.normal();
    const widen = Math.sqrt(dof / chiSquare(dof, random.normal));
    const drawn = models.map(
      (m) => m.value + dot(m.shared, shift) + widen * dot(m.scatter, sign) + m.bench * random.normal(),
    );
    drawn.forEach((q, v) => places[v][drawn.filter((other) => other > q).length]++);
  }
  return lanes.map((lane, i) => {
    const tiedWith = (other: number) => isTied(lane, lanes[other], pairs);
    let from = i;
    while (from > 0 && tiedWith(from - 1)) from--;
    let to = i;
    while (to < lanes.length - 1 && tiedWith(to + 1)) to++;
    const chances = Array.from(places[variants.indexOf(variantOf(lane))], (n) => n / DRAWS);
    return { lane, heat: heats.get(lane)!, rank: [from + 1, to + 1], chanceBest: chances[0], chances };
  });
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
}

function isTied(a: string, b: string, pairs: readonly PairComparison[]): boolean {
  const pair = pairs.find((p) => (p.a === a && p.b === b) || (p.a === b && p.b === a));
  return !pair || pair.decision === "equal" || pair.decision === "cannotTell";
}

/** χ² draw: a sum of squares when few, Wilson–Hilferty (1931) when many. */
function chiSquare(dof: number, normal: () => number): number {
  if (dof > 30) return dof * Math.max(0.01, 1 - 2 / (9 * dof) + normal() * Math.sqrt(2 / (9 * dof))) ** 3;
  let sum = 0;
  for (let i = 0; i < Math.floor(dof); i++) sum += normal() ** 2;
  return Math.max(1e-6, sum);
}
