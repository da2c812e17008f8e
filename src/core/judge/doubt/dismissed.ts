import type { Implausible } from "../../analysis/slip";
import type { Doubt, DoubtKind, DoubtOf } from "./list";

/** What is asked of doubts that were found, apart from what finds them: a page asks it, and need not carry the statistics. */

/** These leave no figure of their lane to be trusted. Odd sun touches all lanes alike, and a standstill its own hours only. */
const STOPPING: ReadonlySet<Implausible["kind"]> = new Set([
  "efficiencyBelowZero",
  "efficiencyAboveLimit",
  "efficiencyTiny",
  "coolsByDay",
  "worldsApart",
  "flowBackwards",
  "noRiseInSun",
  "lanesAlike",
  "outletsExchanged",
  "riseByItself",
]);

/** Above the limit by this factor no window is noise. */
const CLEARLY = 1.15;
/** A lane so far from its drawing, in standard uncertainties of both and as a ratio, leaves no verdict. */
const FAR = { apart: 4, most: 1.5, least: 0.5 };

/** Little heat may be little sun; more than a clear sky sends is none. */
const isMoreThanSky = (found: Implausible): boolean => found.kind === "besideClearSky" && found.share > 1;

/** Figures that cannot be right, by kind of doubt. */
const STOPS: { [K in DoubtKind]?: (doubt: DoubtOf<K>) => boolean } = {
  // A window or two may top the limit by noise or by a cloud's edge.
  aboveOpticalLimit: ({ windows, of, efficiency, limit, accepted }) =>
    !accepted && (windows > of / 2 || efficiency > CLEARLY * limit),
  impossible: ({ found, accepted }) => !accepted && (STOPPING.has(found.kind) || isMoreThanSky(found)),
  negativeFlow: ({ accepted }) => !accepted,
  scatterUnexplained: () => true,
  unlikePrediction({ apart, measured, expected }) {
    const ratio = measured.value / expected.value;
    return apart > FAR.apart && (ratio > FAR.most || ratio < FAR.least);
  },
};

/** Names a doubt so that it can be dismissed: its kind and what it is about, without its sizes. */
export function doubtKey(d: Doubt): string {
  const about = Object.entries(d).flatMap(([name, value]): string[] => {
    if (name === "kind" || name === "effect") return [];
    if (typeof value === "string") return [value];
    if (Array.isArray(value))
      return value.map((v) => (typeof v === "string" ? v : ((v as { lane?: string }).lane ?? "")));
    if (name === "found" || name === "note") return [JSON.stringify(namesOf(value as object))];
    return [];
  });
  return [d.kind, ...about].join("/").slice(0, 160);
}

const namesOf = (of: object) => Object.fromEntries(Object.entries(of).filter(([, v]) => typeof v === "string"));

/** How far a doubt reaches, W/m²; null where its effect is not known. */
export const reachOf = ({ effect }: Doubt): number | null =>
  effect && Math.max(Math.abs(effect.low), Math.abs(effect.high));

/** Grown beyond this, what was dismissed is another doubt. */
const GROWN = 1.5;

/** A person has said why it does not count, and it has not grown since. Figures that cannot be right are not dismissed. */
export function isDismissed(d: Doubt, dismissed: Readonly<Record<string, { reach: number | null }>>): boolean {
  const known = dismissed[doubtKey(d)];
  if (!known || stopsVerdict(d)) return false;
  const reach = reachOf(d);
  return reach === null || (known.reach !== null && reach <= GROWN * known.reach);
}

/** No verdict stands on figures that cannot be right. */
export function stopsVerdict(d: Doubt): boolean {
  const stops = (STOPS as Partial<Record<DoubtKind, (doubt: never) => boolean>>)[d.kind];
  return stops?.(d as never) ?? false;
}
