import type { DoubtFinder } from "./doubt";

export interface ScatterUnexplained {
  kind: "scatterUnexplained";
  lane: string;
  /** Standard scatter of windows about the curve, 1 (efficiency). */
  residualSd: number;
  reducedChiSquare: number;
  effect: null;
}

/** Scatter that no noise of probes explains, and that wind and haze do not make either. */
const SCATTER = 0.05;
const CHI_SQUARE = 10;

/** Points that do not lie on any curve: a shaded lane, a loose probe, a changed flow or two different benches in one lane. */
export const scatterUnexplained: DoubtFinder<ScatterUnexplained> = {
  grave: true,
  find: ({ lanes, way }) =>
    (way === "point" ? lanes : []).flatMap(({ lane, curve: { residualSd, reducedChiSquare } }): ScatterUnexplained[] =>
      residualSd > SCATTER && reducedChiSquare > CHI_SQUARE
        ? [{ kind: "scatterUnexplained", lane, residualSd, reducedChiSquare, effect: null }]
        : [],
    ),
};
