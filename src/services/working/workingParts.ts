import type { Curve } from "../../core/analysis/curve";
import { layersOn } from "../../core/experiment/arrange";
import type { QuantityId } from "../../core/quantity/quantities";
import { figureBudget } from "../../core/uncertainty/coverage";
import { type Source } from "../../core/uncertainty/source";
import type { BudgetLine, Uncertain } from "../../core/uncertainty/uncertain";
import { layerWords, ORIGINS } from "../../words/working";
import type { Analysis } from "../analysis/analyse";
import type { FigureView } from "../page/views";

/** A figure's working: formula, what went in and from where, and where its ± comes from. */
export interface Working {
  title: string;
  lanes: string[];
  figure: FigureView;
  coverage: number;
  dof: number | null;
  /** Lines in plain symbols: `η_{0,B}` is η with subscript, letters are quantities. */
  formula: string[];
  inputs: { symbol: string; figure: FigureView; from: string }[];
  /** Sources of one kind together: four speed meters are one line. */
  budget: { sources: Source[]; share: number; contribution: number }[];
  layers: string[];
  note: string | null;
}

const LINES = 8;

export function compose(
  analysis: Analysis,
  u: Uncertain,
  quantity: QuantityId,
  rest: Pick<Working, "title" | "lanes" | "formula" | "inputs"> & { note?: string },
): Working {
  const b = figureBudget(u);
  return {
    ...rest,
    figure: { si: u.value, expanded: b.expanded, quantity },
    coverage: b.coverage,
    dof: Number.isFinite(b.dof) ? b.dof : null,
    budget: byKind(b.lines).slice(0, LINES),
    layers: layersOf(analysis),
    note: rest.note ?? null,
  };
}

function byKind(lines: readonly BudgetLine[]): Working["budget"] {
  const groups = new Map<string, Working["budget"][number]>();
  for (const { source, share, contribution } of lines) {
    const group = groups.get(source.kind);
    if (!group) groups.set(source.kind, { sources: [source], share, contribution: Math.abs(contribution) });
    else {
      group.sources.push(source);
      group.share += share;
      group.contribution = Math.hypot(group.contribution, contribution);
    }
  }
  return [...groups.values()].sort((a, b) => b.share - a.share);
}

function layersOf({ experiment, reduction }: Analysis): string[] {
  const { rules, basis, areaBasis } = experiment.settings;
  const cleaned = reduction.cleaning.reduce((s, n) => s + n.count, 0);
  const aside = experiment.runs.reduce((s, r) => s + layersOn(r, "exclusion").length, 0);
  const calibrations = experiment.runs.flatMap((r) =>
    layersOn(r, "calibration").map(({ name }) => ({ name, run: r.number })),
  );
  return layerWords({ rules: rules.name, areaBasis, basis, cleaned, aside, calibrations });
}

export const set = (si: number, quantity: QuantityId): FigureView => ({ si, expanded: null, quantity });
export const got = (u: Uncertain, quantity: QuantityId): FigureView => ({
  si: u.value,
  expanded: figureBudget(u).expanded,
  quantity,
});

export function curveInputs(curve: Curve): Working["inputs"] {
  const from = ORIGINS.fit(curve.points, curve.days);
  return [
    { symbol: `η_{0,${curve.lane}}`, figure: got(curve.eta0, "fraction"), from },
    { symbol: `a_{1,${curve.lane}}`, figure: got(curve.a1, "lossCoefficient"), from },
    ...(curve.a2 ? [{ symbol: `a_{2,${curve.lane}}`, figure: got(curve.a2, "number"), from }] : []),
    ...(curve.a5
      ? [
          {
            symbol: `a_{5,${curve.lane}}`,
            figure: got(curve.a5, "heatCapacityPerArea"),
            from: ORIGINS.stored,
          },
        ]
      : []),
  ];
}
