import type { Reduction } from "../../core/analysis/reduce";
import type { EfficiencyPoint } from "../../core/analysis/points";
import { builtArea } from "../../core/experiment/arrange";
import { operatingOf } from "../../core/experiment/operating";
import type { Experiment } from "../../core/experiment/types";
import { expectedOf, type Expected } from "../../core/judge/expected";
import { fingerprint } from "./fingerprint";
import { store } from "./store";

const BYTES = 8_000;

/** What the drawings say their lanes should have given at the mean of the windows they were steady in. Lanes without sun or a drawing are left out. */
export async function expectedLanes(experiment: Experiment, reduction: Reduction): Promise<Map<string, Expected>> {
  const out = new Map<string, Expected>();
  for (const lane of experiment.lanes) {
    const points = reduction.compared.filter((p) => p.lane === lane.letter);
    // A bare absorber is judged by net irradiance, which a prediction under a sky of its own does not know.
    if (points.length === 0 || points[0].bare) continue;
    const at = meanCondition(points);
    const tilt = experiment.runs.at(-1)?.setup.plane.tilt;
    const op = { ...operatingOf(experiment), ...at.op, ...(tilt === undefined ? {} : { tilt }) };
    const area = builtArea(lane, experiment.settings.areaBasis);
    const found = await store.get(
      fingerprint(["expected", lane.design, op, at.massFlow, area]),
      async () => ({ of: expectedOf(lane.design, op, at.massFlow, area) }),
      () => BYTES,
    );
    if (found.of) out.set(lane.letter, found.of);
  }
  return out;
}

/** Rounded so that a window more does not make every prediction anew. */
function meanCondition(points: readonly EfficiencyPoint[]) {
  const mean = (of: (p: EfficiencyPoint) => number) => points.reduce((s, p) => s + of(p), 0) / points.length;
  const wind = mean((p) => p.wind);
  return {
    massFlow: Number(mean((p) => p.massFlow.value).toPrecision(3)),
    op: {
      irradianceWm2: Math.round(mean((p) => p.irradiance.value)),
      ambientC: Math.round(mean((p) => p.ambient.value) * 2) / 2,
      inletC: Math.round(mean((p) => p.inlet.value) * 2) / 2,
      ...(Number.isFinite(wind) ? { windMs: Math.round(wind * 4) / 4 } : {}),
    },
  };
}
