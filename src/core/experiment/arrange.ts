import { correctionAt } from "../calibration/correction";
import type { ArrangedSetup } from "../analysis/reduce";
import type { Exclusion, LoggedChannel } from "../analysis/assemble";
import type { FlowSetup, LaneSetup, ProbeSetup, RunSetup } from "../analysis/setup";
import { designAreas } from "../collector/content";
import { drawnFigures, type DrawnFigures } from "../collector/drawn";
import { bareShare, opticalLimit } from "../collector/optics";
import type { AreaBasis } from "../collector/prediction";
import type { FluidKind } from "../fluids/fluid";
import { CHANNEL_KINDS } from "../log/channel";
import { sitePressure, turbidityAt } from "../site/site";
import { foldLayers, type Arrangement, type FoldedLayers } from "./layers";
import type { Mount } from "./schema/layer";
import type { PlaceSetup, SpecimenSetup, StoredLaneSetup } from "./schema/run";
import type { Experiment, ExperimentLane, StoredRun } from "./types";

/** Area of a specimen as it was measured, else as drawn, m². */
export function builtArea({ design, asBuilt }: ExperimentLane, basis: AreaBasis): number {
  const measuredAreas = {
    gross: asBuilt.grossAreaM2,
    aperture: asBuilt.apertureAreaM2,
    absorber: asBuilt.absorberAreaM2,
  };
  return measuredAreas[basis] ?? designAreas(design)[basis];
}

/** A modelled clear sky in place of a sensor, ± share: haze of the day is not known (typical value). */
const MODEL_LIMIT = 0.15;

function sunLimit({ mounting, limitShare }: StoredRun["setup"]["sunSensor"]): number {
  return mounting === "modelled" ? Math.max(MODEL_LIMIT, limitShare) : limitShare;
}

/** A lane's flow with the factor found for its meter, when one was: mean ÷ read for a speed, true ÷ shown for any other. */
function factored(flow: FlowSetup, { flowFactors }: FoldedLayers): FlowSetup {
  const found = flowFactors.get(flow.meter.key);
  if (!found) return flow;
  return flow.kind === "speed"
    ? { ...flow, profileFactor: found.factor, profileLimit: found.limit }
    : { ...flow, factor: found.factor, factorLimit: found.limit };
}

/** A probe with the calibrations in force over its run: one, or the line between two. */
function calibrated(probe: ProbeSetup, run: StoredRun, { calibrations }: FoldedLayers): ProbeSetup {
  const found = calibrations.flatMap((layer) => {
    const p = layer.calibration.probes.find((q) => q.key === layer.detail.probes[probe.key]);
    return p && !p.outlier ? [{ layer, correction: p.correction }] : [];
  });
  if (!found.length) return probe;
  const times = run.streams.flatMap((s) => [s.startMs, s.endMs]);
  const middle = times.length ? (Math.min(...times) + Math.max(...times)) / 2 : found[0].correction.atMs;
  const { driftK, ...correction } = correctionAt(
    found.map((f) => f.correction),
    middle,
  );
  return {
    ...probe,
    calibration: {
      correction,
      driftK,
      bath: found.map((f) => f.layer.calibrationId).join("+"),
      referenceStandardK: Math.max(...found.map((f) => f.layer.calibration.referenceStandardK)),
    },
  };
}

/** ± of the pressure, Pa: entered for the run, kept for the site (weather moves it), or from the altitude alone. */
function pressureLimit(entered: boolean, known: boolean): number {
  if (entered) return 200;
  return known ? 1200 : 1800;
}

const within = (m: Mount, a: Arrangement): boolean =>
  (m.fromMs ?? -Infinity) < (a.untilMs ?? Infinity) && (m.untilMs ?? Infinity) > (a.fromMs ?? -Infinity);

/** A place's instruments during an arrangement: those mounted there, where the log says which; else those it was set up with. */
function instruments(
  place: PlaceSetup,
  station: number,
  run: StoredRun,
  folded: FoldedLayers,
  arrangement: Arrangement,
): PlaceSetup {
  const mounted = (kinds: readonly string[]): string | null => {
    const found = folded.mounts.filter(
      (m) => m.station === station && within(m, arrangement) && kinds.includes(kindOf(run, m) ?? ""),
    );
    return found.length === 1 ? found[0].instrument : null;
  };
  const named = <T extends { key: string }>(setup: T, key: string | null): T => (key ? { ...setup, key } : setup);
  return {
    ...place,
    inletProbe: named(place.inletProbe, mounted(["inlet"])),
    outletProbe: named(place.outletProbe, mounted(["outlet"])),
    flow: {
      ...place.flow,
      meter: named(place.flow.meter, mounted(["speed", "volumeFlow", "volumeCounter", "massFlow"])),
    },
  };
}

const kindOf = (run: StoredRun, m: Mount) =>
  run.streams.find((s) => s.id === m.streamId)?.channels.find((c) => c.channelNo === m.channelNo)?.kind ?? null;

/** What was stated of a specimen, else what its drawing predicts. */
function drawnOf({ design }: ExperimentLane, { timeConstantS, b0, b0Across }: SpecimenSetup): DrawnFigures {
  const drawn = drawnFigures(design);
  return {
    timeConstantS: timeConstantS ?? drawn.timeConstantS,
    b0: b0 ?? drawn.b0,
    slanted: drawn.slanted,
    // Who states b0 alone says that it holds for all directions.
    b0Across: b0Across ?? (b0 === null ? drawn.b0Across : null),
  };
}

function lanesAt(experiment: Experiment, run: StoredRun, folded: FoldedLayers, arrangement: Arrangement): LaneSetup[] {
  return run.specimens.flatMap(({ letter, setup }) => {
    const lane = experiment.lanes.find((l) => l.letter === letter);
    const station = [...arrangement.lanes].find(([, l]) => l === letter)?.[0];
    const place = run.places.find((p) => p.station === station);
    if (!lane || station === undefined || !place) return [];
    const drawn = drawnOf(lane, setup);
    const own = instruments(place.setup, station, run, folded, arrangement);
    const area = builtArea(lane, experiment.settings.areaBasis);
    return [
      {
        ...setup,
        ...own,
        ...drawn,
        fluid: setup.fluid ?? lane.design.fluid,
        flow: factored(own.flow, folded),
        inletProbe: calibrated(own.inletProbe, run, folded),
        outletProbe: calibrated(own.outletProbe, run, folded),
        lane: letter,
        specimen: String(lane.specimenId),
        variant: String(lane.variantId),
        station,
        areaM2: area,
        grossAreaM2: builtArea(lane, "gross"),
        bareShare: bareShare(lane.design),
        opticalLimit: opticalLimit(lane.design, area, builtArea(lane, "aperture")),
      },
    ];
  });
}

/** A run's setups, one for each arrangement, with all layers laid over what was stated at import. */
export function arrangedSetups(experiment: Experiment, run: StoredRun): ArrangedSetup[] {
  const { site } = experiment;
  const folded = foldLayers(run.layers);
  const shared: Omit<RunSetup, "lanes"> = {
    run: String(run.number),
    place: { latitude: site.latitude, longitude: site.longitude, altitudeM: site.altitudeM },
    plane: run.setup.plane,
    zone: site.zone,
    linkeTurbidity: turbidityAt(site, run.streams[0]?.startMs ?? 0),
    surroundings: site.detail,
    sunSensor: { ...run.setup.sunSensor, limitShare: sunLimit(run.setup.sunSensor) },
    groundReflectance: run.setup.groundReflectance,
    snow: run.setup.snow,
    ambientProbe: calibrated(run.setup.ambientProbe, run, folded),
    pressurePa: run.setup.pressurePa ?? sitePressure(site),
    pressureLimitPa: pressureLimit(run.setup.pressurePa !== null, site.detail.pressurePa !== null),
    relativeHumidity: run.setup.relativeHumidity,
    humidityLimit: 0.15,
    assumed: run.setup.assumed,
    accepted: run.setup.accepted,
    byHand: run.setup.byHand,
  };
  return folded.arrangements.map((a) => ({
    fromMs: a.fromMs,
    untilMs: a.untilMs,
    setup: { ...shared, lanes: lanesAt(experiment, run, folded, a) },
  }));
}

/** What cleaning and putting on one clock need of a run beside its readings. */
export interface AssemblyPlan {
  /** One for each place a used channel served. */
  channels: (Omit<LoggedChannel, "times" | "values"> & { streamId: number; channelNo: number })[];
  exclusions: Exclusion[];
  keep: FoldedLayers["keep"];
}

/** Where each used channel measures and what is set aside of it, by the run's layers. */
export function assemblyPlan(run: StoredRun): AssemblyPlan {
  const folded = foldLayers(run.layers);
  const logsOutside = run.streams.some((s) => s.channels.some((c) => c.kind === "ambient"));
  const channels = run.streams.flatMap((stream) =>
    stream.channels.flatMap(({ channelNo, name, kind }) => {
      if (kind === null) return [];
      const base = {
        id: stream.id * 1000 + channelNo,
        name,
        kind,
        clockOffsetMs: folded.clocks.get(stream.id) ?? 0,
        streamId: stream.id,
        channelNo,
      };
      if (CHANNEL_KINDS[kind].scope === "shared") return [{ ...base, station: null }];
      const mounts = folded.mounts.filter((m) => m.streamId === stream.id && m.channelNo === channelNo);
      const outside =
        kind === "inlet" && run.setup.inletOutside && !logsOutside && mounts.some((m) => m.station === null)
          ? [{ ...base, kind: "ambient" as const, station: null }]
          : [];
      // A lane's channel without a place serves every place.
      const placed = mounts
        .flatMap((m) => (m.station === null ? run.places.map(({ station }) => ({ ...m, station })) : [m]))
        .map(({ station, fromMs, untilMs }) => ({
          ...base,
          station,
          ...(fromMs === null && untilMs === null ? {} : { mounted: { fromMs, untilMs } }),
        }));
      return [...outside, ...placed];
    }),
  );
  const exclusions = folded.exclusions.flatMap((e) => atPlaces(e, folded));
  // While a run is paused what comes counts for nothing; when it goes on the pause becomes a layer.
  const pausedAt = run.live?.pausedAt ?? null;
  if (pausedAt !== null) exclusions.push({ channelId: null, station: null, fromMs: pausedAt, toMs: Infinity });
  return { channels, keep: folded.keep, exclusions };
}

/** A span set aside of a lane, as spans of the places where the lane stood meanwhile. */
function atPlaces(
  { lane, fromMs, toMs }: FoldedLayers["exclusions"][number],
  { arrangements }: FoldedLayers,
): Exclusion[] {
  if (lane === null) return [{ channelId: null, station: null, fromMs, toMs }];
  return arrangements.flatMap((a) => {
    const from = Math.max(fromMs, a.fromMs ?? -Infinity);
    const to = Math.min(toMs, a.untilMs ?? Infinity);
    const station = [...a.lanes].find(([, letter]) => letter === lane)?.[0];
    return station === undefined || to < from ? [] : [{ channelId: null, station, fromMs: from, toMs: to }];
  });
}

/** A run's lanes at its begin, each with its place's instruments: what an import stated. */
export function lanesOf(run: StoredRun): { letter: string; station: number; setup: StoredLaneSetup }[] {
  const [first] = foldLayers(run.layers).arrangements;
  return run.specimens.flatMap(({ letter, setup }) => {
    const station = [...first.lanes].find(([, l]) => l === letter)?.[0];
    const place = run.places.find((p) => p.station === station);
    return station === undefined || !place ? [] : [{ letter, station, setup: { ...setup, ...place.setup } }];
  });
}

/** Layers of one kind that are in force over a run. */
export const layersOn = <K extends StoredRun["layers"][number]["kind"]>(run: StoredRun, kind: K) =>
  run.layers.filter((l): l is Extract<StoredRun["layers"][number], { kind: K }> => l.on && l.kind === kind);

/** What an experiment's boxes hold: as its first run says, else as its first lane is drawn. */
export const fluidKindOf = (experiment: Experiment): FluidKind =>
  experiment.runs[0]?.specimens[0]?.setup.fluid?.kind ?? experiment.lanes[0]?.design.fluid.kind ?? "air";
