import { implausibleKey } from "../analysis/implausible";
import type { Reduction } from "../analysis/reduce";
import type { TemperatureBasis } from "../analysis/heat";
import { statedReading, type OperatingPoint } from "../analysis/setup";
import type { Expected } from "./expected";
import type { SteadyRules } from "../log/windows";
import { testTimes } from "../log/windows";
import type { FlowWay } from "./flowWay";
import { judge, type JudgeInput, type Judgement } from "./judge";
import type { CompareInput } from "./laneHeat";

export interface JudgeSettings {
  operatingPoint: OperatingPoint;
  basis: TemperatureBasis;
  smallestDifference: number;
  stationShare: number;
  seed: number;
  plannedDays?: number | null;
  plannedFrom?: string | null;
  expected?: ReadonlyMap<string, Expected>;
  flowWay?: FlowWay;
  dismissed?: JudgeInput["dismissed"];
  events?: JudgeInput["events"];
  mirrored?: JudgeInput["mirrored"];
  sketchedTimeConstants?: JudgeInput["sketchedTimeConstants"];
  rules?: SteadyRules;
}

/** What comparing lanes at an operating point starts from. */
export function compareInput(reduction: Reduction, settings: Omit<JudgeSettings, "seed">): CompareInput {
  const { lanes, curves, points } = reduction;
  return {
    lanes: lanes
      .filter((l) => curves.has(l.lane))
      .map((l) => ({
        lane: l.lane,
        variant: l.variant,
        fluid: l.fluid,
        areaShare: l.areaM2 / (l.grossAreaM2 ?? l.areaM2),
        bare: points.find((p) => p.lane === l.lane)?.bare ?? null,
        curve: curves.get(l.lane)!,
      })),
    points,
    operatingPoint: settings.operatingPoint,
    basis: settings.basis,
    smallestDifference: settings.smallestDifference,
    stationShare: settings.stationShare,
  };
}

/** From curves to the verdict at an operating point. */
export function judgeReduction(reduction: Reduction, settings: JudgeSettings): Judgement {
  const opticalLimits = new Map(
    reduction.lanes.flatMap((l) => (l.opticalLimit === null ? [] : [[l.lane, l.opticalLimit] as const])),
  );
  return judge({
    ...compareInput(reduction, settings),
    all: reduction.lanes.map((l) => ({
      lane: l.lane,
      variant: l.variant,
      fluid: l.fluid,
      areaShare: l.areaM2 / (l.grossAreaM2 ?? l.areaM2),
      bare: reduction.points.find((p) => p.lane === l.lane)?.bare ?? null,
    })),
    hours: reduction.heat.hours,
    rounds: reduction.heat.rounds,
    someHeat: reduction.heat.days.length > 0,
    seed: settings.seed,
    plannedDays: settings.plannedDays,
    plannedFrom: settings.plannedFrom,
    expected: settings.expected,
    flowWay: settings.flowWay,
    dismissed: settings.dismissed,
    events: settings.events,
    mirrored: settings.mirrored,
    fanShares: new Map(reduction.lanes.map((l) => [l.lane, l.fanShare])),
    settling: settings.rules && {
      settleS: (tauS) => testTimes(settings.rules!, tauS).settleS,
      timeConstants: new Map(reduction.lanes.map((l) => [l.lane, l.timeConstantS])),
    },
    opticalLimits,
    cleaning: reduction.cleaning,
    placement: reduction.runs.map((r) => r.placement),
    implausible: reduction.runs.flatMap(({ run, implausible, arrangements }) =>
      implausible.map((found) => ({
        run,
        found,
        accepted: arrangements[0].setup.accepted?.includes(implausibleKey(found)) ?? false,
      })),
    ),
    assumedFlows: reduction.lanes.flatMap(({ lane, flow }) =>
      statedReading(flow) === null ? [] : [{ lane, limitShare: flow.meter.limitShare }],
    ),
    assumed: reduction.runs.flatMap(({ run, arrangements }) => {
      const what = arrangements[0].setup.assumed ?? [];
      return what.length ? [{ run, what: [...what] }] : [];
    }),
    leaks: reduction.runs.flatMap((r) => r.second.leaks),
    winds: reduction.runs.map((r) => ({ run: r.run, meansMs: r.second.windsMs })),
    modelledSun: reduction.runs
      .filter((r) => r.arrangements[0].setup.sunSensor.mounting === "modelled")
      .map((r) => r.run),
  });
}
