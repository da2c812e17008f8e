import { implausibleKey, type Implausible } from "../analysis/slip";
import type { PlacementFindings } from "../analysis/placement";
import type { HeatPoint } from "../analysis/points";
import type { CleaningNote, Reduction } from "../analysis/reduce";
import type { SecondReadings } from "../analysis/secondReadings";
import { statedReading, type Assumed, type OperatingPoint } from "../analysis/setup";
import type { TemperatureBasis } from "../analysis/heat";
import type { EventKind } from "../log/eventKind";
import { testTimes, type SteadyRules } from "../log/windows";
import type { Expected } from "./expected";
import type { FlowWay } from "./flowWay";
import { weatherShare } from "./inTurn";
import { LEVEL, type CompareInput, type ComparedLane } from "./laneHeat";

/** What is known beside the readings. Nothing of it may be left out: what is not known is said as such (`NOTHING_ELSE`). */
export interface Facts {
  /** Days of the plan that was kept, and its first; null without one. */
  plannedDays: number | null;
  plannedFrom: string | null;
  /** What the lanes' drawings say, where they are more than a sketch. */
  expected: ReadonlyMap<string, Expected>;
  flowWay: FlowWay;
  /** What a person has said does not count, by the doubt's key. */
  dismissed: Readonly<Record<string, { reach: number | null }>>;
  /** What a person marked at the bench. */
  events: readonly { run: string; kind: EventKind; lane: string | null; atMs: number }[];
  /** Lanes with a mirror. */
  mirrored: readonly string[];
  /** Lanes whose time constant is that of a sketch. */
  sketchedTimeConstants: readonly string[];
  /** The rules windows were found by; null where they were not found by rules. */
  rules: SteadyRules | null;
}

/** Readings, and nothing known beside them. */
export const NOTHING_ELSE: Facts = {
  plannedDays: null,
  plannedFrom: null,
  expected: new Map(),
  flowWay: "perArea",
  dismissed: {},
  events: [],
  mirrored: [],
  sketchedTimeConstants: [],
  rules: null,
};

/** How and where lanes are compared. */
export interface CompareSettings {
  operatingPoint: OperatingPoint;
  basis: TemperatureBasis;
  smallestDifference: number;
  stationShare: number;
}

/** All that a verdict and its doubts rest on. No field is optional: what one stage knows, the next cannot drop unseen. */
export interface Evidence extends CompareInput, Facts {
  seed: number;
  level: number;
  /** Every lane with a set-up, curve or not. */
  all: readonly ComparedLane[];
  /** Heat by the hour, sun or no sun. */
  hours: readonly HeatPoint[];
  /** Rows read by hand, as rounds. */
  rounds: readonly HeatPoint[];
  /** Lanes gave heat at some minute, be it too short to count. */
  someHeat: boolean;
  opticalLimits: ReadonlyMap<string, number>;
  cleaning: readonly CleaningNote[];
  /** Runs whose sun was modelled for want of a sensor. */
  modelledSun: readonly string[];
  placement: readonly PlacementFindings[];
  /** What physics does not allow, run by run. */
  implausible: readonly { run: string; found: Implausible; accepted: boolean }[];
  /** Lanes whose flow was stated, not logged. */
  assumedFlows: readonly { lane: string; limitShare: number }[];
  /** What nobody stated, run by run. */
  assumed: readonly { run: string; what: readonly Assumed[] }[];
  /** Share of the fan's electricity that warms the stream, by lane. */
  fanShares: ReadonlyMap<string, number>;
  /** What a second flow meter at a lane's other end does not see. */
  leaks: SecondReadings["leaks"];
  /** Mean of each anemometer, run by run. */
  winds: readonly { run: string; meansMs: readonly number[] }[];
  /** How long the rules let a box of a time constant settle, and each lane's, s; null without rules. */
  settling: { settleS(timeConstantS: number): number; timeConstants: ReadonlyMap<string, number> } | null;
}

/** What comparing lanes at an operating point starts from. */
export function compareInput(reduction: Reduction, settings: CompareSettings): CompareInput {
  const { operatingPoint, basis, smallestDifference, stationShare } = settings;
  return {
    lanes: comparedLanes(reduction)
      .filter((l) => reduction.curves.has(l.lane))
      .map((l) => ({ ...l, curve: reduction.curves.get(l.lane)! })),
    points: reduction.compared,
    weatherShare: weatherShare(modelledRuns(reduction).length > 0),
    ...{ operatingPoint, basis, smallestDifference, stationShare },
  };
}

const modelledRuns = ({ runs }: Reduction): string[] =>
  runs.filter((r) => r.arrangements[0].setup.sunSensor.mounting === "modelled").map((r) => r.run);

const comparedLanes = ({ lanes, points }: Reduction): ComparedLane[] =>
  lanes.map((l) => ({
    lane: l.lane,
    variant: l.variant,
    fluid: l.fluid,
    areaShare: l.areaM2 / (l.grossAreaM2 ?? l.areaM2),
    bare: points.find((p) => p.lane === l.lane)?.bare ?? null,
  }));

/** The evidence that a reduction holds, with what is known beside it. */
export function evidenceOf(reduction: Reduction, settings: CompareSettings & { seed: number }, facts: Facts): Evidence {
  const { lanes, runs, heat, cleaning } = reduction;
  const { rules } = facts;
  return {
    ...compareInput(reduction, settings),
    ...facts,
    seed: settings.seed,
    level: LEVEL,
    all: comparedLanes(reduction),
    hours: heat.hours,
    rounds: heat.rounds,
    someHeat: heat.days.length > 0,
    opticalLimits: new Map(lanes.flatMap((l) => (l.opticalLimit === null ? [] : [[l.lane, l.opticalLimit] as const]))),
    cleaning,
    modelledSun: modelledRuns(reduction),
    placement: runs.map((r) => r.placement),
    implausible: runs.flatMap(({ run, implausible, arrangements }) =>
      implausible.map((found) => ({
        run,
        found,
        accepted: arrangements[0].setup.accepted?.includes(implausibleKey(found)) ?? false,
      })),
    ),
    assumedFlows: lanes.flatMap(({ lane, flow }) =>
      statedReading(flow) === null ? [] : [{ lane, limitShare: flow.meter.limitShare }],
    ),
    assumed: runs.flatMap(({ run, arrangements }) => {
      const what = arrangements[0].setup.assumed ?? [];
      return what.length ? [{ run, what: [...what] }] : [];
    }),
    fanShares: new Map(lanes.map((l) => [l.lane, l.fanShare])),
    leaks: runs.flatMap((r) => r.second.leaks),
    winds: runs.map((r) => ({ run: r.run, meansMs: r.second.windsMs })),
    settling: rules && {
      settleS: (tauS) => testTimes(rules, tauS).settleS,
      timeConstants: new Map(lanes.map((l) => [l.lane, l.timeConstantS])),
    },
  };
}
