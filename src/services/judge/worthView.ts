import type { Knex } from "knex";
import { billOf } from "../../core/collector/bill";
import type { Aspect } from "../../core/collector/compare";
import { fairness } from "../../core/collector/fairness";
import type { Experiment, ExperimentLane } from "../../core/experiment/types";
import { effectsOf, type Effect } from "../../core/judge/effects";
import { costFront, type Placed } from "../../core/judge/front";
import { combine, scale, type Uncertain } from "../../core/uncertainty/uncertain";
import { findBills } from "../../data/variant/bills";
import type { Analysis } from "../analysis/analyse";
import { figure, type FigureView } from "../page/figureView";

export interface OfferView {
  lanes: string[];
  variant: string;
  heat: FigureView;
  cost: number;
  hours: number;
  front: boolean;
  /** Letter of the variant that gives more and costs no more. */
  beatenBy: string | null;
  surely: boolean;
  step: { from: string; heat: FigureView; cost: number } | null;
}

export interface EffectView {
  /** Aspects that were changed together as one. */
  aspects: Aspect[];
  /** A variant at each level, whose design says what the level is. */
  from: string;
  to: string;
  over: { aspects: Aspect[]; from: string; to: string } | null;
  difference: FigureView;
  decision: Effect["decision"];
  between: [string, string][];
  others: Effect["others"];
}

/** What the difference is worth and what made it: cost against heat, and the effect of each change. */
export interface WorthView {
  currency: string | null;
  /** By the cost of one more box, and of the first one with whole packs; cheapest first. */
  repeat: OfferView[];
  first: OfferView[];
  /** Left out of cost and why. */
  left: { lanes: string[]; why: "sketch" | "currency" }[];
  effects: EffectView[];
  /** Changed only together with others: no effect of its own. */
  confounded: Aspect[];
}

/** A variant with the lanes that are copies of it. */
type Copies = { lanes: ExperimentLane[]; first: ExperimentLane };

const copiesOf = ({ lanes }: Experiment, measured: ReadonlySet<string>): Copies[] => {
  const ids = [...new Set(lanes.filter((l) => measured.has(l.letter)).map((l) => l.variantId))];
  return ids.map((id) => {
    const own = lanes.filter((l) => l.variantId === id && measured.has(l.letter));
    return { lanes: own, first: own[0] };
  });
};

export async function worthOf(knex: Knex, analysis: Analysis): Promise<WorthView> {
  const { experiment, judgement } = analysis;
  const told = judgement.verdict.kind !== "stopped" && judgement.verdict.kind !== "none";
  const copies = copiesOf(experiment, new Set(told ? judgement.ranking.map((r) => r.lane) : []));
  return { ...(await offersOf(knex, analysis, copies)), ...effectsView(analysis, copies) };
}

const letters = ({ lanes }: Copies) => lanes.map((l) => l.letter);

async function offersOf(knex: Knex, { experiment, judgement, reduction }: Analysis, copies: readonly Copies[]) {
  const bills = await findBills(knex, experiment.id);
  const heatOf = (lane: string): Uncertain => {
    const { heat } = judgement.ranking.find((r) => r.lane === lane)!;
    return scale(heat, reduction.lanes.find((l) => l.lane === lane)!.areaM2);
  };
  const billed = copies.map((c) => {
    const heats = c.lanes.map((l) => heatOf(l.letter));
    const heat = combine(
      heats.reduce((s, h) => s + h.value, 0) / heats.length,
      heats.map((h) => [1 / heats.length, h] as const),
    );
    return { ...c, heat, bill: billOf(c.first.design, bills.get(c.first.variantId)) };
  });
  const drawn = billed.filter((b) => !b.first.design.sketch);
  // What most are priced in; other money is not converted.
  const currency = mostOf(drawn.map((b) => b.bill.currency));
  const priced = drawn.filter((b) => b.bill.currency === currency);
  const area = reduction.lanes.reduce((s, l) => s + l.areaM2, 0) / Math.max(1, reduction.lanes.length);
  const byCost = (which: "first" | "repeat"): OfferView[] =>
    costFront(
      priced.map((b) => ({ variant: b.first.letter, heat: b.heat, cost: b.bill[which] })),
      judgement.repeatability * area,
    ).map((p) => {
      const own = priced.find((b) => b.first.letter === p.variant)!;
      const hours = which === "first" ? own.bill.hoursFirst : own.bill.hoursRepeat;
      return offerView(p, letters(own), own.first.variant, hours);
    });
  return {
    currency,
    repeat: byCost("repeat"),
    first: byCost("first"),
    left: billed
      .filter((b) => !priced.includes(b))
      .map((b) => ({
        lanes: letters(b),
        why: b.first.design.sketch ? ("sketch" as const) : ("currency" as const),
      })),
  };
}

const offerView = (p: Placed, lanes: string[], variant: string, hours: number): OfferView => ({
  lanes,
  variant,
  heat: figure(p.heat, "power"),
  cost: p.cost,
  hours,
  front: p.front,
  beatenBy: p.beatenBy,
  surely: p.surely,
  step: p.step && { from: p.step.from, cost: p.step.cost, heat: figure(p.step.heat, "power") },
});

function mostOf(values: readonly string[]): string | null {
  const counts = new Map<string, number>();
  for (const v of values) counts.set(v, (counts.get(v) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? null;
}

function effectsView({ experiment, judgement }: Analysis, copies: readonly Copies[]) {
  const { ask, smallestDifference } = experiment.settings;
  const moved = ask.factors.map((f) => f.aspects);
  const { varying, confounded } = fairness(
    copies.map((c) => ({ letter: c.first.letter, design: c.first.design })),
    [],
    moved,
  );
  const sketched = copies.some((c) => c.first.design.sketch);
  const together = (a: string): Aspect[] => moved.find((f) => f.includes(a as Aspect)) ?? [a as Aspect];
  const lettersAt = (name: string, value: string) =>
    varying.find((v) => v.aspect === name)!.levels.find((l) => l.value === value)!.letters[0];
  const effects = effectsOf({
    // What a sketch differs in is not what the boxes differ in.
    factors: sketched
      ? []
      : varying.map(({ aspect, levels }) => ({
          name: aspect,
          levels: levels.map((l) => ({ value: l.value, variants: l.letters })),
        })),
    copies: new Map(copies.map((c) => [c.first.letter, letters(c)])),
    pairs: judgement.pairs,
    smallestDifference,
    level: judgement.level,
  });
  const levelsOf = (e: { factor: string; from: string; to: string }) => ({
    aspects: together(e.factor),
    from: lettersAt(e.factor, e.from),
    to: lettersAt(e.factor, e.to),
  });
  return {
    effects: effects.map((e): EffectView => ({
      ...levelsOf(e),
      over: e.over && levelsOf(e.over),
      difference: figure(e.difference, "heatFlux"),
      decision: e.decision,
      between: e.between,
      others: e.others,
    })),
    confounded: sketched ? [] : confounded,
  };
}
