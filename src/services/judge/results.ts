import { createHash } from "node:crypto";
import type { Knex } from "knex";
import { doubtKey, isDismissed } from "../../core/judge/doubt/dismissed";
import type { Uncertain } from "../../core/uncertainty/uncertain";
import { analyse, type Analysis } from "../analysis/analyse";
import { figure } from "../page/figureView";
import { verdictView } from "./verdictView";

const shown = (u: Uncertain, quantity: Parameters<typeof figure>[1]) => {
  const { si, expanded } = figure(u, quantity);
  return { value: si, expanded95: expanded };
};

/** Covariance of two figures: what they share, source by source. */
export function covariance(a: Uncertain, b: Uncertain): number {
  let sum = 0;
  for (const [key, { standard }] of a.parts) sum += standard * (b.parts.get(key)?.standard ?? 0);
  return sum;
}

/** The results of an experiment as plain data: verdict, ranking, comparisons, curves with their covariance, doubts, and a fingerprint of all that. */
export interface Results {
  experiment: string;
  question: string;
  way: Analysis["judgement"]["way"];
  operatingPoint: Analysis["judgement"]["operatingPoint"];
  verdict: unknown;
  ranking: unknown[];
  comparisons: unknown[];
  curves: unknown[];
  points: number;
  doubts: unknown[];
  /** SHA-256 of everything above. */
  fingerprint: string;
}

export function resultsOf({ experiment, reduction, judgement }: Analysis): Results {
  const { settings } = experiment;
  const body = {
    experiment: experiment.name,
    question: experiment.question,
    way: judgement.way,
    operatingPoint: judgement.operatingPoint,
    verdict: verdictView(judgement, experiment.runs.length, settings.smallestDifference),
    ranking: judgement.ranking.map((r) => ({
      lane: r.lane,
      variant: experiment.lanes.find((l) => l.letter === r.lane)?.variant ?? null,
      heatWm2: shown(r.heat, "heatFlux"),
      rank: r.rank,
      chanceBest: r.chanceBest,
    })),
    comparisons: judgement.pairs.map((p) => ({
      a: p.a,
      b: p.b,
      differenceWm2: shown(p.difference, "heatFlux"),
      p: p.p,
      pHolm: p.pHolm,
      decision: p.decision,
      windows: p.windows,
      days: p.days,
      swapped: p.swapped,
      inTurn: p.inTurn,
      identical: p.identical,
    })),
    curves: [...reduction.curves.values()].map((c) => {
      const terms = { eta0: c.eta0, a1: c.a1, ...(c.a2 ? { a2: c.a2 } : {}), ...(c.a5 ? { a5: c.a5 } : {}) };
      const names = Object.keys(terms) as (keyof typeof terms)[];
      return {
        lane: c.lane,
        coefficients: Object.fromEntries(names.map((n) => [n, shown(terms[n]!, "number")])),
        covariance: names.map((a) => names.map((b) => covariance(terms[a]!, terms[b]!))),
        covarianceOf: names,
        points: c.points,
        days: c.days,
        xRange: c.xRange,
        residualSd: c.residualSd,
        reducedChiSquare: c.reducedChiSquare,
      };
    }),
    points: reduction.points.length,
    doubts: judgement.doubts.map((d) => ({
      ...d,
      key: doubtKey(d),
      dismissed: isDismissed(d, settings.dismissed) ? settings.dismissed[doubtKey(d)].reason : null,
    })),
  };
  return { ...body, fingerprint: createHash("sha256").update(JSON.stringify(body, withoutNumbers)).digest("hex") };
}

/** A database's own numbers of streams are no results: another gives others. */
const withoutNumbers = (key: string, value: unknown): unknown => (key === "streams" ? undefined : value);

/** null when there is no such experiment. */
export async function experimentResults(knex: Knex, experimentId: number): Promise<Results | null> {
  const analysis = await analyse(knex, experimentId);
  return analysis && resultsOf(analysis);
}
