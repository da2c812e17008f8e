import { flowPerGrossArea } from "../../core/analysis/points";
import type { Analysis } from "../analysis/analyse";
import { figure, type FigureView } from "../page/figureView";
import type { PairComparison } from "../../core/judge/pairs";

/** What stands beside an answer: the drawings' slopes, the flows it is for, and what the fans take. */
export interface BesideView {
  /** At the operating point by the drawings' slopes, beside an answer as tested. */
  slope: { a: string; b: string; difference: FigureView; decision: PairComparison["decision"] }[] | null;
  /** kg/(s·m²) of gross area, tested and compared at. */
  flows: { lane: string; tested: number | null; compared: number }[];
  /** Electricity of a lane's fan or pump, W per box. */
  fans: Record<string, { watts: number; from: "measured" | "drawn" }>;
}

export function besideView({ judgement, reduction, expected }: Analysis): BesideView {
  const mean = (values: number[]) => (values.length ? values.reduce((a, b) => a + b, 0) / values.length : null);
  const of = (lane: string) => reduction.compared.filter((p) => p.lane === lane);
  const fan = (lane: string): [string, BesideView["fans"][string]][] => {
    const measured = mean(
      of(lane)
        .map((p) => p.fanW)
        .filter((w) => !Number.isNaN(w)),
    );
    if (measured !== null) return [[lane, { watts: measured, from: "measured" }]];
    const drawn = expected.get(lane);
    return drawn ? [[lane, { watts: drawn.fanW, from: "drawn" }]] : [];
  };
  return {
    slope:
      judgement.slope?.pairs.map(({ a, b, difference, decision }) => ({
        a,
        b,
        difference: figure(difference, "heatFlux"),
        decision,
      })) ?? null,
    flows: [...judgement.flows].map(([lane, compared]) => ({
      lane,
      tested: mean(of(lane).map(flowPerGrossArea)),
      compared,
    })),
    fans: Object.fromEntries(reduction.lanes.flatMap(({ lane }) => fan(lane))),
  };
}
