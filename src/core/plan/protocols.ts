import type { SteadyRules } from "../log/windows";

export const PROTOCOLS = [
  "steady",
  "dynamic",
  "allDay",
  "batch",
  "stagnation",
  "timeConstant",
  "offNormal",
  "mirrorOnOff",
  "leakSmoke",
  "calibration",
] as const;
export type ProtocolKind = (typeof PROTOCOLS)[number];

/** What a protocol needs to be measured with. */
export type Need =
  | "probes"
  | "ambientProbe"
  | "sunSensor"
  | "flowMeter"
  | "logger"
  | "inletHeater"
  | "waterTank"
  | "balance"
  | "opaqueCover"
  | "mirror"
  | "smoke"
  | "bath"
  | "wind"
  | "layerProbes";

/** What can go wrong for people or boxes at the bench. */
export type Risk =
  | "hotSurfaces"
  | "stagnation"
  | "concentratedLight"
  | "scald"
  | "mainsDamp"
  | "glassLifting"
  | "smoke"
  | "freezing"
  | "darkWork"
  | "cloudsSpoil"
  | "longDay";

export interface Protocol {
  kind: ProtocolKind;
  /** Which sun it wants: steady and near the normal, any daylight, clear and low or sideways, or none. */
  sky: "steadyNormal" | "daylight" | "sideways" | "none";
  needs: readonly Need[];
  risks: readonly Risk[];
  /** Days without which it yields nothing. */
  leastDays: number;
  /** What is compared: many windows a day, one figure a day, or one figure a run. */
  figures: "windows" | "days" | "run";
  /** Lanes can be compared by it, so that swaps and days needed make sense. */
  compares: boolean;
}

const BASIC: readonly Need[] = ["probes", "ambientProbe", "sunSensor", "flowMeter", "logger"];

/** The ways to test. Their words are in the interface. */
export const PROTOCOL: Record<ProtocolKind, Protocol> = {
  steady: {
    kind: "steady",
    sky: "steadyNormal",
    needs: [...BASIC, "inletHeater"],
    risks: ["hotSurfaces", "mainsDamp", "cloudsSpoil"],
    leastDays: 1,
    figures: "windows",
    compares: true,
  },
  dynamic: {
    kind: "dynamic",
    sky: "daylight",
    needs: [...BASIC, "wind"],
    risks: ["hotSurfaces", "mainsDamp", "longDay"],
    leastDays: 4,
    figures: "days",
    compares: true,
  },
  allDay: {
    kind: "allDay",
    sky: "daylight",
    needs: BASIC,
    risks: ["hotSurfaces", "mainsDamp", "longDay"],
    leastDays: 2,
    figures: "days",
    compares: true,
  },
  batch: {
    kind: "batch",
    sky: "daylight",
    needs: ["probes", "ambientProbe", "sunSensor", "logger", "waterTank", "balance"],
    risks: ["scald", "mainsDamp", "freezing"],
    leastDays: 2,
    figures: "days",
    compares: true,
  },
  stagnation: {
    kind: "stagnation",
    sky: "steadyNormal",
    needs: ["layerProbes", "ambientProbe", "sunSensor", "logger"],
    risks: ["stagnation", "hotSurfaces"],
    leastDays: 1,
    figures: "run",
    compares: false,
  },
  timeConstant: {
    kind: "timeConstant",
    sky: "steadyNormal",
    needs: [...BASIC, "opaqueCover"],
    risks: ["hotSurfaces", "glassLifting", "cloudsSpoil"],
    leastDays: 1,
    figures: "run",
    compares: false,
  },
  offNormal: {
    kind: "offNormal",
    sky: "sideways",
    needs: BASIC,
    risks: ["hotSurfaces", "cloudsSpoil"],
    leastDays: 1,
    figures: "run",
    compares: false,
  },
  mirrorOnOff: {
    kind: "mirrorOnOff",
    sky: "steadyNormal",
    needs: [...BASIC, "mirror"],
    risks: ["concentratedLight", "stagnation", "hotSurfaces", "glassLifting"],
    leastDays: 1,
    figures: "windows",
    compares: false,
  },
  leakSmoke: {
    kind: "leakSmoke",
    sky: "none",
    needs: ["flowMeter", "smoke"],
    risks: ["smoke", "mainsDamp"],
    leastDays: 1,
    figures: "run",
    compares: false,
  },
  calibration: {
    kind: "calibration",
    sky: "none",
    needs: ["bath", "probes", "logger"],
    risks: ["scald", "mainsDamp", "darkWork"],
    leastDays: 1,
    figures: "run",
    compares: false,
  },
};

/** Times a test needs, s. */
export interface TestTimes {
  settleS: number;
  averageS: number;
}

/** Settling and averaging times: the rule set's fixed times or its multiples of the slowest lane's time constant, whichever is longer. */
export function testTimes(
  rules: Pick<SteadyRules, "settleS" | "settleTimeConstants" | "averageS" | "averageTimeConstants">,
  timeConstantS: number,
): TestTimes {
  return {
    settleS: Math.max(rules.settleS, rules.settleTimeConstants * timeConstantS),
    averageS: Math.max(rules.averageS, rules.averageTimeConstants * timeConstantS),
  };
}

/** Incidence angles between which the off-normal factor is measured: far enough from normal to show, not yet grazing (9806 takes 50°). */
export const OFF_NORMAL: readonly [number, number] = [45, 60];
