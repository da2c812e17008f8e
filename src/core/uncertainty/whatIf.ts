import {
  effectiveDof,
  coverageFactor,
  standardUncertainty,
  type SourceKind,
  type SourceTable,
  type Uncertain,
} from "./uncertain";

/** What could be done about a figure's ±. */
export const REMEDIES = [
  "calibrateProbes",
  "betterProbes",
  "carryMeter",
  "traverseDucts",
  "slowerFlow",
  "moreWindows",
  "betterSun",
] as const;
export type WhatIfKind = (typeof REMEDIES)[number];

export interface WhatIf {
  kind: WhatIfKind;
  /** Half-width at 95 % then. */
  expanded: number;
  /** How much of the ± it takes away, share of 1. */
  gain: number;
}

/** Left over by one stirred bath, standard, K, and by a traverse, standard share: what this project's methods reach. */
export const AFTER_BATH = 0.05;
export const AFTER_TRAVERSE = 0.005;

const RANDOM: readonly SourceKind[] = ["probeNoise", "speedNoise", "sunNoise", "otherNoise", "curveFit", "dayScatter"];
const METERS: readonly SourceKind[] = ["speedMeter", "volumeMeter", "massMeter"];

/** Standard uncertainties that stand behind some sources now, by source key: K for probes, share for profiles. */
export interface StandsAt {
  probeK: number;
  profileShare: number;
}

/**
 * The figure's half-width if one thing were done and all else stayed: contributions are scaled or joined, first order. A carried
 * meter joins the meters' contributions with their signs, so that what is common cancels.
 */
export function whatIfs(figure: Uncertain, table: SourceTable, now: StandsAt): WhatIf[] {
  const kindOf = (key: string): SourceKind => table.get(key)?.kind ?? "otherNoise";
  const width = (parts: ReadonlyMap<string, number>): number => {
    const f = { value: figure.value, parts };
    return standardUncertainty(f) * coverageFactor(effectiveDof(f, table));
  };
  const scaled = (factor: (kind: SourceKind) => number) =>
    new Map([...figure.parts].map(([key, part]) => [key, part * factor(kindOf(key))]));
  const joined = (kinds: readonly SourceKind[]) => {
    const parts = new Map<string, number>();
    for (const [key, part] of figure.parts) {
      const k = kindOf(key);
      const into = kinds.includes(k) ? `joined:${k}` : key;
      parts.set(into, (parts.get(into) ?? 0) + part);
    }
    return parts;
  };
  const today = width(figure.parts);
  const probe = (f: number) => scaled((k) => (k === "probe" || k === "ambient" ? f : 1));
  const options: [WhatIfKind, ReadonlyMap<string, number>][] = [
    ["calibrateProbes", probe(Math.min(1, AFTER_BATH / Math.max(1e-9, now.probeK)))],
    ["betterProbes", probe(0.5)],
    ["carryMeter", joined(METERS)],
    [
      "traverseDucts",
      scaled((k) => (k === "profile" ? Math.min(1, AFTER_TRAVERSE / Math.max(1e-9, now.profileShare)) : 1)),
    ],
    // Two thirds of the flow: half as much rise again for nearly the same heat, so the probes count two thirds.
    ["slowerFlow", probe(2 / 3)],
    ["moreWindows", scaled((k) => (RANDOM.includes(k) ? 0.5 : 1))],
    ["betterSun", scaled((k) => (k === "sunSensor" ? 0.5 : 1))],
  ];
  return options
    .map(([kind, parts]) => ({ kind, expanded: width(parts), gain: today > 0 ? 1 - width(parts) / today : 0 }))
    .filter((o) => o.gain > 0.005)
    .sort((a, b) => b.gain - a.gain);
}
