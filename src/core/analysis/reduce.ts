import { searchedMinutes, type SearchedMinutes, type SteadySignals } from "../log/searched";
import { windowsIn, type SteadyRules, type WindowSearch } from "../log/windows";
import type { CleanFinding, CleanReason } from "../log/clean";
import { seriesFor, type AssembledRun } from "./assemble";
import { modifierFor, modifierSeries, transposedIn } from "./light";
import { median } from "../numeric/middle";
import type { Curve, FitFailure } from "./curve";
import { flowSteps, type FlowStep } from "./flowSteps";
import { fitLanes } from "./lanesFit";
import type { TemperatureBasis } from "./heat";
import { efficiencyPoints, type EfficiencyPoint } from "./points";
import { secondReadings, type SecondReadings } from "./secondReadings";
import { statedReading, type LaneSetup, type RunSeries, type RunSetup } from "./setup";
import { handRecord, heatRecord, joinHeat, type HeatRecord } from "./heatRecord";
import { implausibleIn } from "./implausible";
import { implausibleKey, type Implausible } from "./slip";
import { implausibleByHand } from "./implausibleByHand";
import { byMinute } from "./laneMinutes";
import { joinPlacement, placementFindings, type PlacementFindings } from "./placement";
import { middleOfBench, planeLight, surroundingsOf } from "../site/site";
import { clearSkyInPlane } from "../sun/clearSky";

export interface ReductionSettings {
  rules: SteadyRules;
  basis: TemperatureBasis;
  curvature: "auto" | "never";
}

/** What cleaning took out of a channel that the answer rests on. */
export interface CleaningNote {
  run: string;
  channel: string;
  lane: string | null;
  reason: CleanReason;
  count: number;
  firstMs: number;
  lastMs: number;
}

/** Who stood where for one span of a run; null at an end: from its begin, to its end. */
export interface ArrangedSetup {
  setup: RunSetup;
  fromMs: number | null;
  untilMs: number | null;
}

export interface RunInput {
  /** In order of time, at least one: a swap inside a run begins another. */
  arrangements: readonly ArrangedSetup[];
  assembled: AssembledRun;
}

/** A run in which nobody moved. */
export const wholeRun = (setup: RunSetup, assembled: AssembledRun): RunInput => ({
  arrangements: [{ setup, fromMs: null, untilMs: null }],
  assembled,
});

/** One run reduced on its own: nothing of it depends on other runs. */
export interface RunReduction extends WindowSearch {
  run: string;
  arrangements: readonly ArrangedSetup[];
  points: EfficiencyPoint[];
  /** What the run lacks before it can give a point. */
  missing: { lane: string | null; what: "irradiance" | "ambient" | "inlet" | "outlet" | "flow" | "tank" }[];
  /** What the readings say about how the probes were placed. */
  placement: PlacementFindings;
  cleaning: CleaningNote[];
  /** What physics does not allow. */
  implausible: Implausible[];
  /** Heat by the hour and by the day, whether or not there was a sun sensor. */
  heat: HeatRecord;
  second: SecondReadings;
}

/** Points and curves: all that does not depend on the operating point. */
export interface Reduction {
  runs: RunReduction[];
  points: EfficiencyPoint[];
  /** Those of each lane's main flow: what curves and the verdict at the operating point rest on. */
  compared: EfficiencyPoint[];
  /** Of lanes that were run at several flows, each. */
  flowSteps: FlowStep[];
  lanes: LaneSetup[];
  curves: Map<string, Curve>;
  failures: FitFailure[];
  cleaning: CleaningNote[];
  heat: HeatRecord;
}

/** Runs reduced one by one, put together: their points, and the curves through all of a lane's points. */
export function combineRuns(
  runs: readonly RunReduction[],
  { curvature }: Pick<ReductionSettings, "curvature">,
): Reduction {
  const points = runs.flatMap((r) => r.points);
  const lanes = [
    ...new Map(runs.flatMap((r) => r.arrangements.flatMap((a) => a.setup.lanes)).map((l) => [l.lane, l])).values(),
  ].sort((a, b) => a.lane.localeCompare(b.lane));
  const { main, steps } = flowSteps(points);
  const { curves, failures } = fitLanes(
    lanes.map(({ lane }) => [lane, main.filter((p) => p.lane === lane)]),
    curvature,
  );
  return {
    runs: [...runs],
    points,
    compared: main,
    flowSteps: steps,
    lanes,
    curves,
    failures,
    cleaning: runs.flatMap((r) => r.cleaning),
    heat: joinHeat(runs.map((r) => r.heat)),
  };
}

/** From cleaned series to windows, points and curves. Deterministic: the same input gives the same answer. */
export const reduceExperiment = (inputs: readonly RunInput[], settings: ReductionSettings): Reduction =>
  combineRuns(
    inputs.map((input) => reduceRun(input, settings)),
    settings,
  );

/** A run without a sun sensor, under the modelled clear sky: the last resort. Clouds are not seen by it, so its uncertainty must be wide and its results carry a doubt. */
function underClearSky(setup: RunSetup, series: RunSeries): RunSeries {
  const count = series.ambient?.length ?? [...series.lanes.values()].find((l) => l.inlet)?.inlet?.length ?? 0;
  const { place, plane, zone, surroundings, linkeTurbidity } = setup;
  const at = (i: number) => series.startMs + (i + 0.5) * series.stepMs;
  const site = surroundings && { ...place, zone, detail: surroundings };
  // Skyline, ground and what stands near the bench take and give light that the sky alone does not know of.
  const seen = site && planeLight(site, middleOfBench(plane), surroundingsOf(site, at(0)));
  const light = (ms: number) => (seen ? seen(ms) : clearSkyInPlane(ms, place, plane, linkeTurbidity)).total;
  // By the minute and straight between: a clear sky changes slowly.
  const stride = Math.max(1, Math.round(60000 / series.stepMs));
  const irradiance = new Float64Array(count);
  for (let i = 0; i < count; i += stride) {
    const [a, b] = [light(at(i)), light(at(i + stride))];
    for (let k = 0; k < stride && i + k < count; k++) irradiance[i + k] = a + ((b - a) * k) / stride;
  }
  return { ...series, irradiance };
}

/**
 * From one run's cleaned series to its windows and points. Pure: the same series, setups and rules give the same run.
 * @param ground where it is known already
 */
export function reduceRun(
  input: RunInput,
  settings: Pick<ReductionSettings, "rules" | "basis">,
  ground: RunGround = groundOf(input),
): RunReduction {
  const { arrangements, assembled } = input;
  const parts = ground.parts.map((part) => reduceArrangement(part, settings));
  const refusals: RunReduction["refusals"] = {};
  for (const part of parts)
    for (const [name, count] of Object.entries(part.refusals) as [keyof typeof refusals, number][])
      refusals[name] = (refusals[name] ?? 0) + count;
  // Windows count on over a swap, so that a window's number names it within the run.
  let before = 0;
  const points = parts.flatMap((part) => {
    const own = part.points.map((p) => (before ? { ...p, window: p.window + before } : p));
    before += part.windows.length;
    return own;
  });
  const missing = new Map(parts.flatMap((p) => p.missing).map((m) => [`${m.lane}/${m.what}`, m]));
  return {
    run: arrangements[0].setup.run,
    arrangements,
    windows: parts.flatMap((p) => p.windows),
    refusals,
    points,
    missing: [...missing.values()],
    placement: joinPlacement(ground.parts.map((p) => p.placement)),
    cleaning: cleaningNotes(input),
    implausible: implausibleOf(ground),
    heat: joinHeat(ground.parts.map((p) => p.heat)),
    second: secondReadings(arrangements[0].setup, assembled, points),
  };
}

/** The arrangement in force at an instant. */
export const setupAt = (run: Pick<RunReduction, "arrangements">, ms: number): RunSetup =>
  (run.arrangements.find((a) => ms >= (a.fromMs ?? -Infinity) && ms < (a.untilMs ?? Infinity)) ?? run.arrangements[0])
    .setup;

/** What a run says whatever its limits: it rests on readings and set-up alone. */
export interface RunGround {
  /** Arrangement by arrangement. */
  parts: readonly Ground[];
}

/** What windows are looked for in, whatever the limits. */
export interface SearchedSeries {
  setup: RunSetup;
  series: RunSeries;
  /** null where there is nothing to look in. */
  searched: SearchedMinutes | null;
  missing: RunReduction["missing"];
}

interface Ground extends SearchedSeries {
  placement: PlacementFindings;
  implausible: Implausible[];
  heat: HeatRecord;
}

/** Found once for readings and set-ups; a changed limit takes it as it is. */
export const groundOf = ({ arrangements, assembled }: RunInput): RunGround => ({
  parts: arrangements.map((arranged): Ground => {
    const { minutes, ...searched } = searchedSeries(arranged, assembled);
    const { setup, series } = searched;
    const heat = setup.byHand ? handRecord(setup, assembled) : heatRecord(setup, minutes);
    const implausible = setup.byHand ? implausibleByHand(setup, heat) : implausibleIn(setup, minutes, assembled, heat);
    const placement = placementFindings(setup, series, minutes);
    return { ...searched, placement, implausible, heat };
  }),
});

/** What physics does not allow in a run, each thing said once. */
export const implausibleOf = ({ parts }: RunGround): Implausible[] => [
  // What holds for the run is found in each of its arrangements.
  ...new Map(parts.flatMap((p) => p.implausible).map((f) => [implausibleKey(f), f])).values(),
];

/** Probes of which several stand for one, with their spread as part of their ±. */
const withSpread = (setup: RunSetup, { places }: AssembledRun): RunSetup => ({
  ...setup,
  lanes: setup.lanes.map((lane) => {
    const place = places.get(lane.station);
    const spread = (probe: LaneSetup["inletProbe"], spreadK: number | null | undefined) =>
      spreadK ? { ...probe, spreadK } : probe;
    return {
      ...lane,
      inletProbe: spread(lane.inletProbe, place?.inletSpreadK),
      outletProbe: spread(lane.outletProbe, place?.outletSpreadK),
    };
  }),
});

/** The series of one arrangement with the sun in the collector plane, by whatever gives it, and the spread of doubled probes. */
export function arrangedSeries(
  { setup: stated, fromMs, untilMs }: ArrangedSetup,
  assembled: AssembledRun,
): { setup: RunSetup; series: RunSeries } {
  const setup = withSpread(stated, assembled);
  return withSun(setup, seriesFor(assembled, setup.lanes, { fromMs, untilMs }));
}

/** The series of one arrangement, and what of it windows are looked for in. */
export function searchedSeries(
  arranged: ArrangedSetup,
  assembled: AssembledRun,
): SearchedSeries & { minutes: RunSeries } {
  const { setup, series } = arrangedSeries(arranged, assembled);
  const minutes = byMinute(series);
  const { ready, missing } = readyLanes(setup, minutes);
  // What was read by hand is not sampled: it has no windows.
  return { setup, series, minutes, missing, searched: setup.byHand ? null : searchedIn(setup, minutes, ready) };
}

function reduceArrangement(
  { setup, series, searched, missing }: SearchedSeries,
  settings: Pick<ReductionSettings, "rules" | "basis">,
) {
  if (!searched) return { windows: [], refusals: {} as WindowSearch["refusals"], points: [], missing };
  const { windows, refusals } = windowsIn(searched, settings.rules);
  const cells = Math.round(searched.minuteMs / series.stepMs);
  const inCells = windows.map((w) => ({ ...w, from: w.from * cells, to: w.to * cells }));
  const points = efficiencyPoints(setup, series, inCells, { basis: settings.basis, modifierAt: modifierFor(setup) });
  return { windows: inCells, refusals, points, missing };
}

type ReadyLane = SteadySignals["lanes"][number];

/** null without a sun, the outside air or a lane that is complete. */
function searchedIn(
  setup: RunSetup,
  { startMs, stepMs, irradiance, ambient }: RunSeries,
  lanes: readonly ReadyLane[],
): SearchedMinutes | null {
  if (!irradiance || !ambient || lanes.length === 0) return null;
  const modifier = modifierSeries(setup, startMs, stepMs, irradiance.length);
  return searchedMinutes({ startMs, stepMs, irradiance, ambient, modifier, lanes });
}

/** How many windows and points a run's arrangements give under some limits, and nothing else of it. */
export function countWindows(
  parts: readonly SearchedSeries[],
  settings: Pick<ReductionSettings, "rules" | "basis">,
): { windows: number; points: number } {
  const reduced = parts.map((part) => reduceArrangement(part, settings));
  return {
    windows: reduced.reduce((s, p) => s + p.windows.length, 0),
    points: reduced.reduce((s, p) => s + p.points.length, 0),
  };
}

function readyLanes(setup: RunSetup, series: RunSeries): { ready: ReadyLane[]; missing: RunReduction["missing"] } {
  const missing: RunReduction["missing"] = [];
  // A sheet needs neither.
  if (!series.irradiance && !setup.byHand) missing.push({ lane: null, what: "irradiance" });
  if (!series.ambient && !setup.byHand) missing.push({ lane: null, what: "ambient" });
  const ready = setup.lanes.flatMap((lane) => {
    const own = series.lanes.get(lane.lane);
    // A lane that warms a tank has heat by the hour and by the day, and no steady windows.
    if (lane.flow.kind === "tank") {
      if (!own?.tank) missing.push({ lane: lane.lane, what: "tank" });
      return [];
    }
    if (!own?.inlet) missing.push({ lane: lane.lane, what: "inlet" });
    if (!own?.outlet) missing.push({ lane: lane.lane, what: "outlet" });
    const constant = statedReading(lane.flow);
    if (!own?.flow && constant === null) missing.push({ lane: lane.lane, what: "flow" });
    if (!own?.inlet || !own.outlet || (!own.flow && constant === null)) return [];
    const flow = own.flow ?? new Float64Array(own.inlet.length).fill(constant!);
    return [{ lane: lane.lane, inlet: own.inlet, outlet: own.outlet, flow, timeConstantS: lane.timeConstantS }];
  });
  return { ready, missing };
}

/** Irradiance in the collector plane, by whatever gives it, and the set-up with what that adds to the sensor's own limit. */
function withSun(setup: RunSetup, series: RunSeries): { setup: RunSetup; series: RunSeries } {
  switch (setup.sunSensor.mounting) {
    case "plane":
      return { setup, series };
    case "horizontal":
      return inPlane(setup, series);
    case "modelled":
      return { setup, series: underClearSky(setup, series) };
  }
}

/** The split of light changes slowly: its doubt is asked every fifth minute. */
const ASKED_MS = 300_000;

function inPlane(setup: RunSetup, series: RunSeries): { setup: RunSetup; series: RunSeries } {
  const { irradiance: horizontal, startMs, stepMs } = series;
  if (!horizontal) return { setup, series };
  const to = transposedIn(setup, median(series.ambient ?? []));
  const at = (i: number) => startMs + (i + 0.5) * stepMs;
  const irradiance = horizontal.map((g, i) => (Number.isNaN(g) ? NaN : to.at(g, at(i))));
  const stride = Math.max(1, Math.round(ASKED_MS / stepMs));
  const transposition = new Float64Array(horizontal.length).fill(NaN);
  let [sum, light] = [0, 0];
  for (let from = 0; from < horizontal.length; from += stride) {
    const middle = Math.min(horizontal.length - 1, from + (stride >> 1));
    const share = to.shareAt(horizontal[middle], at(middle));
    transposition.fill(share, from, from + stride);
    if (!(irradiance[middle] > 0)) continue;
    sum += share * irradiance[middle];
    light += irradiance[middle];
  }
  const { sunSensor } = setup;
  const limitShare = Math.hypot(sunSensor.limitShare, light > 0 ? (Math.sqrt(3) * sum) / light : 0);
  return {
    setup: { ...setup, sunSensor: { ...sunSensor, sensorShare: sunSensor.limitShare, limitShare } },
    series: { ...series, irradiance, transposition },
  };
}

/** Cleaning worth a doubt: faults of instruments, not the odd missing cell. */
function cleaningNotes({ arrangements, assembled }: RunInput): CleaningNote[] {
  return assembled.cleaning.flatMap(({ channel, findings }) =>
    findings.filter(isFault).map((f) => {
      const { run, lanes } = setupAt({ arrangements }, f.firstMs);
      return {
        run,
        channel: channel.name,
        lane: lanes.find((l) => l.station === channel.station)?.lane ?? null,
        ...f,
      };
    }),
  );
}

const isFault = ({ reason, count }: CleanFinding): boolean =>
  reason === "errorCode" || reason === "stuck" || reason === "outOfRange" || (reason === "spike" && count > 20);
