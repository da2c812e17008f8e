import { flowPerGrossArea, type EfficiencyPoint, type HeatPoint } from "../analysis/points";
import { coverageFactor } from "../uncertainty/coverage";
import type { SourceKind } from "../uncertainty/source";
import { combine, scale, scaleSources, standardUncertainty, subtract } from "../uncertainty/uncertain";
import { groupBy } from "../analysis/scatter";
import type { PairComparison } from "./pairs";

/** What heats are paired by: steady windows, hours, or days. */
export type SpanUnit = "window" | "hour" | "day" | "round";

/** The mean condition of the spans that are compared. Outside and sun NaN where nobody measured them. */
export interface TestedCondition {
  inletC: number;
  ambientC: number;
  irradianceWm2: number;
  /** kg/(s·m²) */
  flowPerArea: number;
  spans: number;
  days: number;
}

/** Heat of a over heat of b, per area, with the ends of its interval at 95 %. */
export interface RatioOfPair {
  a: string;
  b: string;
  ratio: number;
  low: number;
  high: number;
  spans: number;
  days: number;
}

/** Fewer spans than this give no scatter to speak of. */
const FEWEST_HOURS = 3;
const FEWEST_WINDOWS = 4;

/**
 * What lanes are compared by when no curve reaches: steady windows where there are enough in which every lane was steady, because
 * nothing is stored or given back in them; else hours; else rounds read by hand. null where lanes share too little time.
 */
export function testedSpans({
  points,
  hours,
  rounds = [],
}: {
  points: readonly EfficiencyPoint[];
  hours: readonly HeatPoint[];
  rounds?: readonly HeatPoint[];
}): { unit: SpanUnit; heats: readonly HeatPoint[]; units: { unit: SpanUnit; heats: readonly HeatPoint[] }[] } | null {
  const windows: readonly HeatPoint[] = points;
  const units = [
    { unit: "window" as const, heats: windows },
    { unit: "hour" as const, heats: hours },
    { unit: "day" as const, heats: daysOf(hours) },
    { unit: "round" as const, heats: rounds },
  ];
  const lanes = new Set(hours.map((h) => h.lane)).size;
  if (shared(windows, Math.max(lanes, laneCount(windows))) >= FEWEST_WINDOWS) return { ...units[0], units };
  if (shared(hours, lanes) >= FEWEST_HOURS) return { ...units[1], units };
  if (shared(rounds, laneCount(rounds)) >= FEWEST_HOURS) return { ...units[3], units };
  return shared(windows, laneCount(windows)) >= FEWEST_HOURS ? { ...units[0], units } : null;
}

const laneCount = (heats: readonly HeatPoint[]) => new Set(heats.map((h) => h.lane)).size;

/** Spans that hold so many lanes. */
const shared = (heats: readonly HeatPoint[], lanes: number): number =>
  lanes < 2
    ? 0
    : [...groupBy(heats.map((h) => `${h.run}/${h.window}`)).values()].filter((m) => m.length === lanes).length;

const HOUR = 3600000;

/** A day's hours as one span, lane by lane and place by place; single hours are no day. */
function daysOf(hours: readonly HeatPoint[]): HeatPoint[] {
  return [...groupBy(hours.map((h) => `${h.run}/${h.day}/${h.lane}/${h.station}`)).values()].flatMap((members) => {
    const own = members.map((i) => hours[i]);
    if (own.length < 2) return [];
    const mean = (of: (p: HeatPoint) => HeatPoint["heat"]) =>
      combine(
        own.reduce((s, p) => s + of(p).value, 0) / own.length,
        own.map((p) => [1 / own.length, of(p)] as const),
      );
    const [first] = own;
    return [
      {
        ...first,
        // Places swapped at noon make two spans of one day.
        window: Math.floor(first.startMs / HOUR),
        endMs: own[own.length - 1].endMs,
        inlet: mean((p) => p.inlet),
        outlet: mean((p) => p.outlet),
        rise: mean((p) => p.rise),
        massFlow: mean((p) => p.massFlow),
        specificHeat: mean((p) => p.specificHeat),
        heat: mean((p) => p.heat),
      },
    ];
  });
}

export function testedCondition(heats: readonly HeatPoint[], points: readonly EfficiencyPoint[]): TestedCondition {
  const mean = <P>(list: readonly P[], of: (p: P) => number) => list.reduce((s, p) => s + of(p), 0) / list.length;
  // What only windows know: the sun and the air outside.
  return {
    inletC: mean(heats, (p) => p.inlet.value),
    ambientC: mean(points, (p) => p.ambient.value),
    irradianceWm2: mean(points, (p) => p.irradiance.value),
    flowPerArea: mean(heats, flowPerGrossArea),
    spans: new Set(heats.map((p) => `${p.run}/${p.window}`)).size,
    days: new Set(heats.map((p) => p.day)).size,
  };
}

/** Sources that another way of pairing the same readings does not share. */
const OWN: ReadonlySet<SourceKind> = new Set(["dayScatter", "weather", "probeNoise", "speedNoise", "sunNoise"]);

/**
 * Difference of a less b over their level, by one way of pairing less another: instruments cancel as far as both ways had them alike, scatter does
 * not. @returns null where it lies within one and a half of its half-width at 95 %
 */
function apartBy(x: PairComparison, y: PairComparison): { share: number; expanded: number } | null {
  const part = (pair: PairComparison, own: boolean) =>
    scale(
      scaleSources(pair.difference, ({ kind }) => (OWN.has(kind) === own ? 1 : 0)),
      1 / pair.level,
    );
  const shared = subtract(part(x, false), part(y, false));
  const standard = Math.hypot(...[shared, part(x, true), part(y, true)].map(standardUncertainty));
  const expanded = coverageFactor(Math.min(x.measured.dof, y.measured.dof)) * standard;
  return Math.abs(shared.value) > Math.max(LEAST_APART, SURELY * expanded) ? { share: shared.value, expanded } : null;
}
/** Two lanes whose difference is not the same by two ways of pairing them. */
export interface WaysApart {
  a: string;
  b: string;
  units: [SpanUnit, SpanUnit];
  /** By the first less by the second, of their level, with its half-width at 95 %. */
  share: number;
  expanded: number;
}

export const waysApart = (ways: readonly { unit: SpanUnit; compared: readonly PairComparison[] }[]): WaysApart[] =>
  ways.flatMap((one, i) =>
    ways.slice(i + 1).flatMap((other) =>
      one.compared.flatMap((x): WaysApart[] => {
        const y = other.compared.find((p) => p.a === x.a && p.b === x.b);
        const found = y && apartBy(x, y);
        return found ? [{ a: x.a, b: x.b, units: [one.unit, other.unit], ...found }] : [];
      }),
    ),
  );

/** Of so many pairs and ways one lies beyond its 95 % by chance: this far (three standard uncertainties) it does not. */
const SURELY = 1.5;
/** Less is what boxes store from hour to hour. */
const LEAST_APART = 0.015;

/** A tested difference as a ratio: with level L and difference D the lanes gave L ± D/2. */
export function ratioOf(pair: PairComparison): RatioOfPair {
  const at = (d: number) => {
    const half = Math.min(0.999, Math.max(-0.999, d / (2 * pair.level)));
    return (1 + half) / (1 - half);
  };
  const { value } = pair.difference;
  return {
    a: pair.a,
    b: pair.b,
    ratio: at(value),
    low: at(value - pair.expanded),
    high: at(value + pair.expanded),
    spans: pair.windows,
    days: pair.days,
  };
}
