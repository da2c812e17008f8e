import { createHash } from "node:crypto";
import type { Knex } from "knex";
import { assembleRun, type AssembledRun, type LoggedChannel } from "../core/analysis/assemble";
import { reduceExperiment, type Reduction } from "../core/analysis/reduce";
import { judgeReduction } from "../core/judge/judgeReduction";
import type { FlowSetup, ProbeSetup, RunSetup } from "../core/analysis/setup";
import { designAreas } from "../core/collector/capacity";
import { correctionAt } from "../core/calibration/correction";
import { opticalLimit } from "../core/collector/optics";
import type { AreaBasis } from "../core/collector/predict";
import { sitePressure, turbidityAt } from "../core/site/site";
import type { Judgement } from "../core/judge/judge";
import { findExperiment, type Experiment, type ExperimentLane, type StoredRun } from "../data/experiment/experiments";
import { readChannels } from "../data/reading/readings";

/** Change when a method changes its results, so that stored summaries are made anew. */
const METHOD = "2026-11-25.7";
const SEED = 1120;
const KEPT = 6;

export interface Analysis {
  experiment: Experiment;
  assembled: Map<number, AssembledRun>;
  reduction: Reduction;
  judgement: Judgement;
}

interface Reduced {
  assembled: Map<number, AssembledRun>;
  reduction: Reduction;
}

// Derived results only: losing them costs a second, sharing them needs nothing (docs/decisions/0003).
const cache = ((globalThis as { bravelReductions?: Map<string, Promise<Reduced>> }).bravelReductions ??= new Map());

const judgements = ((globalThis as { bravelJudgements?: Map<string, Judgement> }).bravelJudgements ??= new Map());

/** Keeps only the newest few entries. */
function remember<T>(store: Map<string, T>, key: string, value: T): T {
  store.set(key, value);
  for (const old of [...store.keys()].slice(0, -KEPT)) store.delete(old);
  return value;
}

const hash = (value: unknown) => createHash("sha256").update(JSON.stringify(value)).digest("hex");

/** Everything the points and curves depend on. */
function reductionKey(e: Experiment): string {
  const { rules, basis, areaBasis } = e.settings;
  // Of the site only what past runs rest on: a skyline drawn today changes no result.
  const { latitude, longitude, altitudeM, zone, detail } = e.site;
  return hash([
    METHOD,
    latitude,
    longitude,
    altitudeM,
    zone,
    detail.turbidity,
    detail.pressurePa,
    e.lanes,
    rules,
    basis,
    areaBasis,
    e.runs.map((r) => ({ ...r, note: "" })),
  ]);
}

/** Everything the verdict depends on. */
export const verdictKey = (e: Experiment): string => hash([reductionKey(e), e.settings]);

/** Reads, cleans, reduces and judges an experiment. null when there is no such experiment. */
export async function analyse(knex: Knex, experimentId: number): Promise<Analysis | null> {
  const experiment = await findExperiment(knex, experimentId);
  return experiment && analyseLoaded(knex, experiment);
}

export async function analyseLoaded(knex: Knex, experiment: Experiment): Promise<Analysis> {
  const key = reductionKey(experiment);
  let pending = cache.get(key);
  if (!pending) {
    pending = remember(cache, key, reduce(knex, experiment));
    pending.catch(() => cache.delete(key));
  }
  const { assembled, reduction } = await pending;
  const verdict = verdictKey(experiment);
  const judgement =
    judgements.get(verdict) ??
    remember(judgements, verdict, judgeReduction(reduction, { ...experiment.settings, seed: SEED }));
  return { experiment, assembled, reduction, judgement };
}

async function reduce(knex: Knex, experiment: Experiment): Promise<Reduced> {
  const assembled = new Map<number, AssembledRun>();
  for (const run of experiment.runs) {
    const exclusions = run.exclusions.map((e) => ({ channelId: null, lane: e.lane, fromMs: e.fromMs, toMs: e.toMs }));
    assembled.set(run.id, assembleRun(await loadChannels(knex, run), exclusions));
  }
  const inputs = experiment.runs.map((run) => ({
    setup: runSetup(experiment, run),
    assembled: assembled.get(run.id)!,
  }));
  return {
    assembled,
    reduction: reduceExperiment(inputs, {
      rules: experiment.settings.rules,
      basis: experiment.settings.basis,
      curvature: "auto",
    }),
  };
}

/** A run's used channels with their readings. */
async function loadChannels(knex: Knex, run: StoredRun): Promise<LoggedChannel[]> {
  const perStream = await Promise.all(
    run.streams.map(async (stream) => {
      const used = stream.channels.filter((c) => c.kind !== null);
      const readings = await readChannels(knex, stream.id, [0, ...used.map((c) => c.channelNo)]);
      const times = readings.get(0) ?? new Float64Array();
      return used.map((c): LoggedChannel => ({
        id: stream.id * 1000 + c.channelNo,
        name: c.name,
        kind: c.kind!,
        lane: c.lane,
        times,
        values: readings.get(c.channelNo)!,
        clockOffsetMs: stream.clockOffsetMs,
      }));
    }),
  );
  return perStream.flat();
}

/** As measured on the specimen, else as planned, m². */
function areaOf({ design, asBuilt }: ExperimentLane, basis: AreaBasis): number {
  const measuredAreas = {
    gross: asBuilt.grossAreaM2,
    aperture: asBuilt.apertureAreaM2,
    absorber: asBuilt.absorberAreaM2,
  };
  return measuredAreas[basis] ?? designAreas(design)[basis];
}

/** A second-class sun sensor turned to the horizontal adds the doubt of the transposition, share. */
const TRANSPOSITION_LIMIT = 0.06;
/** A modelled clear sky in place of a sensor, ± share: haze of the day is not known (typical value). */
const MODEL_LIMIT = 0.15;

/** A lane's flow with the profile factor measured for its meter, when one was. */
function traversed(flow: FlowSetup, run: StoredRun): FlowSetup {
  const layer = run.flowLayers.filter((l) => l.detail.meter === flow.meter.key).at(-1);
  return layer && flow.kind === "speed"
    ? { ...flow, profileFactor: layer.detail.factor, profileLimit: layer.detail.limit }
    : flow;
}

/** A probe with the calibrations in force over its run: one, or the line between two. */
function calibrated(probe: ProbeSetup, run: StoredRun): ProbeSetup {
  const found = run.layers.flatMap((l) => {
    const p = l.calibration.probes.find((q) => q.key === l.probes[probe.key]);
    return p && !p.outlier ? [{ layer: l, correction: p.correction }] : [];
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

function runSetup(experiment: Experiment, run: StoredRun): RunSetup {
  const { site, settings } = experiment;
  const horizontal = run.setup.sunSensor.mounting === "horizontal";
  return {
    run: String(run.number),
    place: { latitude: site.latitude, longitude: site.longitude, altitudeM: site.altitudeM },
    plane: run.setup.plane,
    zone: site.zone,
    linkeTurbidity: turbidityAt(site, run.streams[0]?.startMs ?? 0),
    sunSensor: {
      ...run.setup.sunSensor,
      limitShare:
        run.setup.sunSensor.mounting === "modelled"
          ? Math.max(MODEL_LIMIT, run.setup.sunSensor.limitShare)
          : horizontal
            ? Math.hypot(run.setup.sunSensor.limitShare, TRANSPOSITION_LIMIT)
            : run.setup.sunSensor.limitShare,
    },
    ambientProbe: calibrated(run.setup.ambientProbe, run),
    pressurePa: run.setup.pressurePa ?? sitePressure(site),
    pressureLimitPa: run.setup.pressurePa !== null ? 200 : site.detail.pressurePa !== null ? 1200 : 1800,
    relativeHumidity: run.setup.relativeHumidity,
    humidityLimit: 0.15,
    lanes: run.lanes.flatMap(({ letter, station, setup }) => {
      const lane = experiment.lanes.find((l) => l.letter === letter);
      if (!lane) return [];
      const area = areaOf(lane, settings.areaBasis);
      return [
        {
          ...setup,
          fluid: setup.fluid ?? lane.design.fluid,
          flow: traversed(setup.flow, run),
          inletProbe: calibrated(setup.inletProbe, run),
          outletProbe: calibrated(setup.outletProbe, run),
          lane: letter,
          specimen: String(lane.specimenId),
          variant: String(lane.variantId),
          station,
          areaM2: area,
          opticalLimit: opticalLimit(lane.design, area, areaOf(lane, "aperture")),
        },
      ];
    }),
  };
}
