import { standardRules } from "../log/windows";
import { CORRUGATED, simulateBench } from "../rig/bench";
import { trueCurve } from "../rig/simulate";
import { coverageFactor } from "../uncertainty/coverage";
import { effectiveDof, standardUncertainty } from "../uncertainty/uncertain";
import { assembleRun } from "./assemble";
import { reduceExperiment, wholeRun } from "./reduce";

test("a proper loop of water outdoors has windows by the standard rules, and its loss comes back", () => {
  const collector = { ...CORRUGATED, streamTransfer: 250, referenceFlowPerArea: 0.015, capacity: 8000 };
  const runs = simulateBench({
    seed: 4,
    stepS: 20,
    hours: [8, 18],
    fluid: { kind: "water" },
    accuracy: { probeK: 0.1, speedShare: 0.02, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
    specimens: [{ lane: "A", variant: "A", collector, areaM2: 2, massFlowKgPerS: 0.03 }],
    inletProgram: [
      { fromHour: 0, aboveAmbientK: 2 },
      { fromHour: 11, aboveAmbientK: 12 },
      { fromHour: 13.6, aboveAmbientK: 22 },
    ],
    runs: [
      {
        run: "1",
        stations: { A: 1 },
        days: [5, 6].map((d) => ({
          dateMs: Date.UTC(2026, 8, d, 10),
          cloudiness: 0.05,
          meanAmbientC: 9,
          meanWind: 1.5,
        })),
      },
    ],
  });
  const rules = standardRules("water");
  const reduction = reduceExperiment(
    runs.map((r) => wholeRun(r.setup, assembleRun(r.channels))),
    { rules, basis: "mean", curvature: "auto" },
  );
  expect(reduction.points.length).toBeGreaterThan(12);
  const { a1, a2 } = reduction.curves.get("A")!;
  expect(a2).toBeNull();
  // Nearly all of what a plate loses through its front and back: water takes the rest at once.
  const at = [12, 22, 32].map((inletC) => ({ irradianceWm2: 900, ambientC: 10, inletC, wind: 1.5, flowPerArea: 0.06 }));
  const truth = trueCurve(collector, at, 88500).a1;
  expect(Math.abs(a1.value - truth)).toBeLessThan(coverageFactor(effectiveDof(a1)) * standardUncertainty(a1) + 0.5);
});
