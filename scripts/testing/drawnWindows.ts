import type { Curve } from "../../src/core/analysis/curve";
import type { EfficiencyPoint } from "../../src/core/analysis/points";
import type { CompareInput } from "../../src/core/judge/laneHeat";
import type { Random } from "../../src/core/random/seededRandom";
import { combine, exact, fromLimit, withSource } from "../../src/core/uncertainty/uncertain";

/** Windows of two equal lanes with errors drawn as they are stated: what coverage is counted on, in `bench/` and in the tests. */
export const TRUE = { eta0: 0.7, a1: 5 };
const NOISE = 0.006;
const NOISE_DOF = 12;
const STATION = 0.004;

export interface Case {
  windows: number;
  days: number;
  swapped: boolean;
  /** Scatter over what the readings claim. */
  unmodelled: number;
}

/** What does not matter here and is the same in all windows. */
const STILL = {
  ambient: exact(8),
  inlet: exact(15),
  outlet: exact(35),
  rise: exact(20),
  massFlow: exact(0.04),
  specificHeat: exact(1007),
  heat: exact(1000),
  area: exact(2),
  indicatedFlow: exact(3),
  density: exact(1),
  modifier: exact(1),
  bare: null,
  drift: 0,
  fanW: NaN,
  heldGuess: 5000,
  wind: 2,
  checks: [],
};

/** A window's efficiency with the ± its readings would claim. */
function drawnEfficiency(
  truth: number,
  value: number,
  { window, lane, meter }: { window: number; lane: string; meter: string },
  random: Random,
) {
  // What a window's mean is thought to scatter by is itself only estimated.
  const estimated =
    NOISE *
    Math.sqrt(Array.from({ length: NOISE_DOF }, () => random.normal() ** 2).reduce((a, b) => a + b, 0) / NOISE_DOF);
  return combine(value, [
    [
      1,
      withSource(0, estimated, {
        kind: "probeNoise",
        run: "1",
        window,
        channel: lane,
        owner: lane,
        dof: NOISE_DOF,
      }),
    ],
    [
      1,
      withSource(0, fromLimit(0.03) * truth, {
        kind: "speedMeter",
        meter,
        owner: lane,
        dof: Infinity,
      }),
    ],
    [-1, withSource(0, fromLimit(0.03) * truth, { kind: "sunSensor", sensor: "sun", owner: "", dof: Infinity })],
  ]);
}

/** Errors of meters are drawn from their rectangles, noise from its bell. */
export function drawWindows({ windows, days, swapped, unmodelled }: Case, random: Random): EfficiencyPoint[] {
  const gain = [random.within(0.03), random.within(0.03)];
  const sunGain = random.within(0.03);
  const bench = [STATION * random.normal(), STATION * random.normal()];
  return Array.from({ length: windows }, (_, w) => w).flatMap((w) =>
    ["A", "B"].map((lane, l): EfficiencyPoint => {
      const day = Math.floor((w * days) / windows);
      const station = swapped && w % 2 ? 1 - l : l;
      const x = 0.012 + (0.028 * ((w * 7) % windows)) / windows + 0.001 * l;
      const irradiance = 850 + 60 * Math.sin(w);
      const truth = (TRUE.eta0 - TRUE.a1 * x) * (1 + bench[station]);
      const efficiency = drawnEfficiency(
        truth,
        truth * (1 + gain[station] - sunGain) + NOISE * random.normal() + unmodelled * NOISE * random.normal(),
        { window: w, lane, meter: String(station) },
        random,
      );
      return {
        ...STILL,
        run: "1",
        window: w,
        day: `2026-10-0${1 + day}`,
        lane,
        station,
        startMs: w * 6e5,
        endMs: (w + 1) * 6e5,
        irradiance: exact(irradiance),
        efficiency,
        reducedTemperature: exact(x),
      };
    }),
  );
}

/** The two lanes as they are compared, at one operating point. */
export const comparedWindows = (points: EfficiencyPoint[], curves: ReadonlyMap<string, Curve>): CompareInput => ({
  lanes: ["A", "B"].map((lane) => ({ lane, variant: lane, fluid: { kind: "air" }, curve: curves.get(lane)! })),
  points,
  operatingPoint: { irradianceWm2: 850, ambientC: 8, inletC: 20, flowPerArea: 0.02 },
  basis: "inlet",
  smallestDifference: 15,
  weatherShare: 0.02,
  stationShare: STATION,
});
