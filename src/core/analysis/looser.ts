import type { FluidKind } from "../fluids/fluid";
import { backyardRules, type SteadyRules } from "../log/windows";
import { countWindows, searchedSeries, type ReductionSettings, type RunInput } from "./reduce";

/** Limits that can be loosened one by one. A settling time and its time constants go together: the longer counts. */
export const LOOSENED = [
  "minIrradiance",
  "irradianceBand",
  "ambientBand",
  "inletBand",
  "flowBand",
  "minModifier",
  "settleS",
] as const;
export type Loosened = (typeof LOOSENED)[number];

/** One limit loosened and all others kept: what it would give. */
export interface Looser {
  limit: Loosened;
  from: number;
  to: number;
  /** Windows then, and lanes' points in them. */
  windows: number;
  points: number;
  rules: SteadyRules;
}

/** Half as much again, where the looser set has nothing looser. */
const MORE = 1.5;

/** The next looser value of a limit: that of the backyard set, or half as much again beyond it. */
function loosened(rules: SteadyRules, limit: Loosened, yard: SteadyRules): SteadyRules {
  const floor = limit === "minIrradiance" || limit === "minModifier" || limit === "settleS";
  const beyond = floor ? rules[limit] / MORE : rules[limit] * MORE;
  const looser = floor ? rules[limit] > yard[limit] : rules[limit] < yard[limit];
  const changed: SteadyRules = { ...rules, name: "backyard", [limit]: looser ? yard[limit] : beyond };
  if (limit !== "settleS") return changed;
  return {
    ...changed,
    settleTimeConstants: looser
      ? Math.min(rules.settleTimeConstants, yard.settleTimeConstants)
      : rules.settleTimeConstants / MORE,
  };
}

/** Which limit costs most windows: each loosened alone, those that give more first. Empty where none would. */
export function looserLimits(
  inputs: readonly RunInput[],
  settings: Pick<ReductionSettings, "rules" | "basis">,
  fluid: FluidKind,
): Looser[] {
  const parts = inputs.flatMap(({ arrangements, assembled }) => arrangements.map((a) => searchedSeries(a, assembled)));
  const count = (rules: SteadyRules) => countWindows(parts, { ...settings, rules });
  const now = count(settings.rules);
  const yard = backyardRules(fluid);
  return LOOSENED.map((limit): Looser => {
    const rules = loosened(settings.rules, limit, yard);
    return { limit, from: settings.rules[limit], to: rules[limit], rules, ...count(rules) };
  })
    .filter((l) => l.points > now.points)
    .sort((a, b) => b.points - a.points);
}
