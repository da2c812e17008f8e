import { assembleRun, type AssembledRun } from "../../src/core/analysis/assemble";
import { reduceExperiment, wholeRun } from "../../src/core/analysis/reduce";
import { CORRUGATED, simulateBench } from "../../src/core/rig/bench";
import type { RigCollector } from "../../src/core/rig/simulate";
import { testSettings } from "./bench";

export const CLOUDED = { ...testSettings, dismissed: {} };

/** Boxes under broken cloud on two days, turned end for end: hardly a window is steady. */
export function clouded(collectors: Record<string, RigCollector>, seed = 3, hours: [number, number] = [8, 18]) {
  const letters = Object.keys(collectors);
  const runs = simulateBench({
    seed,
    stepS: 30,
    hours,
    accuracy: { probeK: 0.2, speedShare: 0.03, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
    specimens: letters.map((lane) => ({
      lane,
      variant: collectors[lane] === CORRUGATED ? "a" : "b",
      collector: collectors[lane],
      areaM2: 2,
      massFlowKgPerS: 0.04,
    })),
    inletProgram: [
      { fromHour: 0, aboveAmbientK: 0 },
      { fromHour: 11, aboveAmbientK: 12 },
      { fromHour: 14, aboveAmbientK: 24 },
    ],
    runs: [0, 1].map((r) => ({
      run: String(r + 1),
      days: [{ dateMs: Date.UTC(2026, 8, 5 + r, 10), cloudiness: 0.75, meanAmbientC: 9, meanWind: 1.5 }],
      stations: Object.fromEntries(letters.map((l, i) => [l, r ? letters.length - i : i + 1])),
    })),
  });
  const inputs = runs.map((r) => wholeRun(r.setup, assembleRun(r.channels)));
  const assembled = new Map<number, AssembledRun>(inputs.map((input, i) => [i + 1, input.assembled]));
  return { inputs, assembled, reduction: reduceExperiment(inputs, CLOUDED), wind: runs[0].log.truth.wind };
}
