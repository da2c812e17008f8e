import type { Knex } from "knex";
import { fromLimit } from "../../core/uncertainty/uncertain";
import { whatIfs, type WhatIf } from "../../core/uncertainty/whatIf";
import { listCalibrations } from "../../data/calibration/calibrations";
import type { CalibrationHead, StoredInstrument } from "../../core/experiment/records";
import { listInstruments } from "../../data/instrument/instruments";
import type { DarkCheck, LaggingProbe, PlacementFindings, SunSpike } from "../../core/analysis/placement";
import type { FlowSetup } from "../../core/analysis/setup";
import { ductArea } from "../../core/flow/duct";
import { clearSkyInPlane } from "../../core/sun/clearSky";
import { lanesOf, layersOn } from "../../core/experiment/arrange";
import { turbidityAt } from "../../core/site/site";
import { analyse, type Analysis } from "../analysis/analyse";
import type { FigureRef } from "../page/views";

export interface ProbeUse {
  key: string;
  limitK: number;
  where: string;
}

export interface ProveView {
  calibrations: CalibrationHead[];
  /** Layers in force, by calibration. */
  applied: {
    calibrationId: number;
    layerIds: number[];
    runs: number[];
    reason: string;
    probes: Record<string, string>;
  }[];
  runs: { id: number; number: number; probes: ProbeUse[] }[];
  flowLayers: { ids: number[]; meter: string; factor: number; limit: number; reason: string; runs: number[] }[];
  meters: {
    kind: FlowSetup["kind"];
    /** m²; null where no speed is read in a duct. */
    ductAreaM2: number | null;
    ductM: number | null;
    key: string;
    limitShare: number;
    where: string;
    profileFactor: number | null;
    profileLimit: number | null;
  }[];
  /** Of the verdict's difference: what would help, most first; null without a difference. */
  whatIf: { options: WhatIf[] } | null;
  /** Figures whose budget can be shown. */
  figures: { ref: FigureRef; label: string }[];
  instruments: StoredInstrument[];
  zone: string;
  /** Each day's clearest window against the modelled clear sky. */
  clearSky: { day: string; measuredWm2: number; modelledWm2: number; ratio: number }[];
  /** What in and out show before sunrise. */
  dark: (DarkCheck & { run: number })[];
  spikes: (SunSpike & { run: number })[];
  lags: (LaggingProbe & { run: number })[];
}

/** Everything Prove needs of an experiment already reduced and judged. */
export async function proveOf(knex: Knex, analysis: Analysis): Promise<ProveView> {
  const { experiment, judgement, reduction } = analysis;
  const [calibrations, instruments] = await Promise.all([listCalibrations(knex), listInstruments(knex)]);
  const layers = experiment.runs.flatMap((r) => layersOn(r, "calibration").map((l) => ({ ...l, run: r.number })));
  const applied = [...new Set(layers.map((l) => l.calibrationId))].map((calibrationId) => {
    const own = layers.filter((l) => l.calibrationId === calibrationId);
    return {
      calibrationId,
      layerIds: own.map((l) => l.id),
      runs: own.map((l) => l.run),
      reason: own[0].reason,
      probes: own[0].detail.probes,
    };
  });
  const runs = experiment.runs.map((r) => ({
    id: r.id,
    number: r.number,
    probes: [
      ...lanesOf(r).flatMap((l) => [
        { key: l.setup.inletProbe.key, limitK: l.setup.inletProbe.limitK, where: `${l.letter} inlet` },
        { key: l.setup.outletProbe.key, limitK: l.setup.outletProbe.limitK, where: `${l.letter} outlet` },
      ]),
      { key: r.setup.ambientProbe.key, limitK: r.setup.ambientProbe.limitK, where: "outside" },
    ],
  }));
  const lanes = experiment.runs.flatMap(lanesOf);
  const meters = [
    ...new Map(
      lanes.map((l) => [
        l.setup.flow.meter.key,
        {
          key: l.setup.flow.meter.key,
          limitShare: l.setup.flow.meter.limitShare,
          where: l.letter,
          ductM:
            l.setup.flow.kind === "speed" && l.setup.flow.duct.kind === "round" ? l.setup.flow.duct.diameterM : null,
          kind: l.setup.flow.kind,
          ductAreaM2: l.setup.flow.kind === "speed" ? ductArea(l.setup.flow.duct) : null,
          profileFactor: l.setup.flow.kind === "speed" ? l.setup.flow.profileFactor : null,
          profileLimit: l.setup.flow.kind === "speed" ? l.setup.flow.profileLimit : null,
        },
      ]),
    ).values(),
  ];
  const { verdict } = judgement;
  const told =
    verdict.kind === "winner" ||
    verdict.kind === "cannotTell" ||
    verdict.kind === "turned" ||
    verdict.kind === "daylight";
  const difference = told ? verdict.difference : null;
  const probes = new Set(lanes.flatMap((l) => [l.setup.inletProbe.key, l.setup.outletProbe.key]));
  const probeK = reduction.points.length ? Math.max(0, ...[...probes].map((key) => analysisProbe(analysis, key))) : 0;
  const profileShare = Math.max(
    0,
    ...meters.map((m) => (m.profileLimit && m.profileFactor ? fromLimit(m.profileLimit) / m.profileFactor : 0)),
  );
  const found = <T>(of: (f: PlacementFindings) => T[]) =>
    reduction.runs.flatMap((r) => of(r.placement).map((x) => ({ ...x, run: Number(r.run) })));
  return {
    flowLayers: [...new Set(experiment.runs.flatMap((r) => layersOn(r, "flow").map((l) => l.detail.meter)))].map(
      (meter) => {
        const own = experiment.runs.flatMap((r) =>
          layersOn(r, "flow")
            .filter((l) => l.detail.meter === meter)
            .map((l) => ({ ...l, run: r.number })),
        );
        return {
          ids: own.map((l) => l.id),
          meter,
          factor: own[0].detail.factor,
          limit: own[0].detail.limit,
          reason: own[0].reason,
          runs: own.map((l) => l.run),
        };
      },
    ),
    calibrations,
    applied,
    runs,
    meters,
    instruments,
    zone: experiment.site.zone,
    clearSky: clearestWindows(analysis),
    dark: found((f) => f.dark),
    spikes: found((f) => f.spikes),
    lags: found((f) => f.lags),
    whatIf: difference
      ? {
          options: whatIfs(difference, { probeK, profileShare }),
        }
      : null,
    figures: [
      ...(difference ? [{ ref: { figure: "verdict" as const }, label: "difference of the verdict" }] : []),
      ...judgement.ranking.map((r) => ({
        ref: { figure: "laneHeat" as const, lane: r.lane },
        label: `heat of lane ${r.lane}`,
      })),
      ...judgement.ranking.map((r) => ({
        ref: { figure: "coefficient" as const, lane: r.lane, name: "eta0" as const },
        label: `zero-loss efficiency of ${r.lane}`,
      })),
    ],
  };
}

/** The window of each day in which the sensor came nearest to the modelled clear sky. */
function clearestWindows({
  experiment,
  reduction,
}: NonNullable<Awaited<ReturnType<typeof analyse>>>): ProveView["clearSky"] {
  const { site } = experiment;
  const days = new Map<string, ProveView["clearSky"][number]>();
  for (const p of reduction.points) {
    const run = experiment.runs.find((r) => String(r.number) === p.run);
    if (!run) continue;
    const modelled = clearSkyInPlane(
      (p.startMs + p.endMs) / 2,
      site,
      run.setup.plane,
      turbidityAt(site, p.startMs),
    ).total;
    const entry = {
      day: p.day,
      measuredWm2: p.irradiance.value,
      modelledWm2: modelled,
      ratio: p.irradiance.value / modelled,
    };
    if (modelled > 300 && entry.ratio > (days.get(p.day)?.ratio ?? 0)) days.set(p.day, entry);
  }
  return [...days.values()].sort((a, b) => a.day.localeCompare(b.day));
}

/** Standard uncertainty a probe counts with now, K: calibrated or as stated. */
function analysisProbe({ experiment }: NonNullable<Awaited<ReturnType<typeof analyse>>>, key: string): number {
  for (const run of experiment.runs) {
    for (const layer of layersOn(run, "calibration")) {
      const found = layer.calibration.probes.find((p) => p.key === layer.detail.probes[key]);
      if (found) return found.correction.standardOffsetK;
    }
    for (const l of lanesOf(run))
      for (const p of [l.setup.inletProbe, l.setup.outletProbe]) if (p.key === key) return fromLimit(p.limitK);
  }
  return 0;
}
