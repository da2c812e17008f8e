import { standardUncertainty } from "../../uncertainty/uncertain";
import { coverageFactor } from "../../uncertainty/coverage";
import { leadingPair, type DoubtFinder } from "./doubt";

export interface TestedInTurn {
  kind: "testedInTurn";
  a: string;
  b: string;
  days: number;
  /** What weather from day to day has in the answer's ±, 95 %, W/m². */
  weather: number;
  modelledSun: boolean;
  effect: null;
}

/** The leading lanes never ran at the same time: what the days did to each is in the ±, what else changed between them is not. */
export const testedInTurn: DoubtFinder<TestedInTurn> = {
  find(input) {
    const pair = leadingPair(input);
    if (!pair?.inTurn) return [];
    const parts = [...pair.difference.parts].filter(([, p]) => p.source.kind === "weather");
    const weather = { value: 0, parts: new Map(parts) };
    const dof = parts[0]?.[1].source.dof ?? Infinity;
    const half = coverageFactor(dof) * standardUncertainty(weather);
    const { a, b, days } = pair;
    const modelledSun = input.modelledSun.length > 0;
    return [{ kind: "testedInTurn", a, b, days, weather: half, modelledSun, effect: null }];
  },
};
