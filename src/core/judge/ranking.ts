import { chiSquare, normalDraws } from "../random/draws";
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
 * Sums of so many normal draws are normal: the variants' covariance is all that is drawn from.
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
  const shift = normalDraws(
    models.map((m) => m.shared),
    random,
  );
  const scatter = normalDraws(
    models.map((m) => m.scatter),
    random,
  );
  const dof = Math.max(1, ensemble.windows - 1);
  const drawn = new Float64Array(models.length);
  for (let draw = 0; draw < DRAWS; draw++) {
    const [common, own] = [shift(), scatter()];
    const widen = Math.sqrt(dof / chiSquare(dof, random));
    models.forEach((m, v) => {
      drawn[v] = m.value + common[v] + widen * own[v] + (m.bench > 0 ? m.bench * random.normal() : 0);
    });
    for (let v = 0; v < drawn.length; v++) places[v][placeOf(v, drawn)]++;
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

/** How many are above, 0 for the best. */
function placeOf(v: number, drawn: Float64Array): number {
  let above = 0;
  for (let other = 0; other < drawn.length; other++) if (drawn[other] > drawn[v]) above++;
  return above;
}

function isTied(a: string, b: string, pairs: readonly PairComparison[]): boolean {
  const pair = pairs.find((p) => (p.a === a && p.b === b) || (p.a === b && p.b === a));
  return !pair || pair.decision === "equal" || pair.decision === "cannotTell";
}
