import { coverageFactor } from "./coverage";
import { effectiveDof, scaleSources, standardUncertainty, type Part, type Uncertain } from "./uncertain";
import { sourceKey, type Source, type SourceKind } from "./source";

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

const RANDOM: readonly SourceKind[] = [
  "probeNoise",
  "speedNoise",
  "sunNoise",
  "otherNoise",
  "curveFit",
  "dayScatter",
  "weather",
];
const METERS: readonly SourceKind[] = ["speedMeter", "volumeMeter", "massMeter"];

/** The one meter that is carried from lane to lane, of a meter's kind; stated by its maker. */
const carried = (meter: Source): Source =>
  "meter" in meter ? { ...meter, meter: "carried", owner: "", dof: Infinity } : meter;

/** Standard uncertainties that stand behind some sources now, by source key: K for probes, share for profiles. */
export interface StandsAt {
  probeK: number;
  profileShare: number;
}

/**
 * The figure's half-width if one thing were done and all else stayed: contributions are scaled or joined, first order. A carried
 * meter joins the meters' contributions with their signs, so that what is common cancels.
 */
export function whatIfs(figure: Uncertain, now: StandsAt): WhatIf[] {
  const width = (f: Uncertain): number => standardUncertainty(f) * coverageFactor(effectiveDof(f));
  const scaled = (factor: (kind: SourceKind) => number) => scaleSources(figure, (source) => factor(source.kind));
  const joined = (kinds: readonly SourceKind[]): Uncertain => {
    const parts = new Map<string, Part>();
    for (const { source, standard } of figure.parts.values()) {
      const into = kinds.includes(source.kind) ? carried(source) : source;
      const key = sourceKey(into);
      parts.set(key, { source: into, standard: (parts.get(key)?.standard ?? 0) + standard });
    }
    return { value: figure.value, parts };
  };
  const today = width(figure);
  const probe = (f: number) => scaled((k) => (k === "probe" || k === "ambient" ? f : 1));
  const options: [WhatIfKind, Uncertain][] = [
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
    .map(([kind, then]) => ({ kind, expanded: width(then), gain: today > 0 ? 1 - width(then) / today : 0 }))
    .filter((o) => o.gain > 0.005)
    .sort((a, b) => b.gain - a.gain);
}
