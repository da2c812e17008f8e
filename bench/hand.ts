/**
 * Does a sheet read by hand hold what its ± promises? Seeded afternoons with one thermometer and one vane of hidden errors, two boxes
 * equal or apart, read A B B A for five rounds. Run: `npx tsx bench/hand.ts [afternoons]`.
 */
import { compareRounds, handReadings, type HandRow } from "../src/core/analysis/handReading";
import type { RunSetup } from "../src/core/analysis/setup";
import { compareTested } from "../src/core/judge/pairs";
import { ratioOf } from "../src/core/judge/tested";
import { seededRandom } from "../src/core/random/seededRandom";
import { CORRUGATED, simulateBench } from "../src/core/rig/bench";

const AFTERNOONS = Number(process.argv[2] ?? 200);
const MATTERS = 20;
const ROUNDS = 5;
const MINUTE = 60000;
/** As stated on the sheet; the errors are drawn from it. */
const STATED = { thermometerK: 1, vane: 0.1, profile: 0.05, displayK: 0.1 };
const BETTER = { ...CORRUGATED, streamTransfer: 42 };

interface Outcome {
  decision: string;
  aboveTruth: number;
  held: boolean;
}

function afternoon(seed: number, apart: boolean, thermometers: "one" | "each", cloudiness: number): Outcome | null {
  const random = seededRandom(seed);
  const [{ log, setup: made }] = simulateBench({
    seed,
    stepS: 20,
    hours: [11, 16],
    accuracy: { probeK: 0, speedShare: 0, profileLimit: 0, sunShare: 0, ambientK: 0, stationShare: 0.005 },
    inletProgram: [{ fromHour: 0, aboveAmbientK: 0 }],
    specimens: [
      { lane: "A", variant: "a", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
      { lane: "B", variant: "b", collector: apart ? BETTER : CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
    ],
    runs: [
      {
        run: "1",
        stations: { A: 1, B: 2 },
        days: [{ dateMs: Date.UTC(2026, 9, 6 + (seed % 20), 10), cloudiness, meanAmbientC: 8, meanWind: 1.5 }],
      },
    ],
  });
  const key = (lane: string, end: string) => (thermometers === "one" ? "thermometer" : `${lane}${end}`);
  const offsets = new Map<string, number>();
  /** Half of a thermometer's error is its own at each end. */
  const off = (lane: string, end: string): number =>
    [key(lane, end), `${key(lane, end)}/${end}`].reduce((sum, k) => {
      if (!offsets.has(k)) offsets.set(k, random.within(STATED.thermometerK / Math.SQRT2));
      return sum + offsets.get(k)!;
    }, 0);
  const vane = 1 + random.within(STATED.vane);
  const setup: RunSetup = {
    ...made,
    byHand: true,
    lanes: made.lanes.map((l) => ({
      ...l,
      inletProbe: { key: key(l.lane, "in"), limitK: STATED.thermometerK, resolutionK: STATED.displayK },
      outletProbe: { key: key(l.lane, "out"), limitK: STATED.thermometerK, resolutionK: STATED.displayK },
      flow: {
        ...(l.flow as Extract<RunSetup["lanes"][number]["flow"], { kind: "speed" }>),
        profileLimit: STATED.profile,
        meter: { key: "carried", at: "outlet", limitShare: STATED.vane, limitFixed: 0 },
      },
    })),
  };
  const start = log.times[0] + 90 * MINUTE;
  const truth = { A: 0, B: 0 };
  const rows = Array.from({ length: 2 * ROUNDS }, (_, i): HandRow => {
    const lane = ("ABBA" as const)[i % 4] as "A" | "B";
    const atMs = start + i * 6 * MINUTE;
    const at = log.times.findIndex((t) => t >= atMs);
    const read = log.lanes.get(lane)!;
    const shown = (c: number) => Math.round((c + 0.15 * random.normal()) / STATED.displayK) * STATED.displayK;
    for (const l of ["A", "B"] as const) truth[l] += log.truth.heat.get(l)![at];
    return {
      atMs,
      lane,
      inletC: shown(read.inlet[at] + off(lane, "in")),
      outletC: shown(read.outlet[at] + off(lane, "out")),
      flow: vane * read.speed[at],
      irradianceWm2: NaN,
      ambientC: NaN,
    };
  });
  const { rounds } = compareRounds(setup, handReadings(setup, rows));
  const [pair] = compareTested({
    lanes: setup.lanes.map(({ lane, variant, fluid }) => ({ lane, variant, fluid })),
    heats: rounds,
    smallestDifference: MATTERS,
    stationShare: 0.005,
  }).pairs;
  if (!pair) return null;
  const { ratio, low, high } = ratioOf(pair);
  const real = truth.A / truth.B;
  return { decision: pair.decision, aboveTruth: ratio / real - 1, held: low <= real && real <= high };
}

const percent = (n: number, of: number) => `${((100 * n) / of).toFixed(1)} %`;
console.log(
  `| afternoon | winner (equal boxes) | equal or wrong one (apart) | right one (apart) | 95 % held | mean error |`,
);
console.log("| --- | --- | --- | --- | --- | --- |");
for (const [name, thermometers, clouds] of [
  ["one thermometer, one vane, clear", "one", 0.02],
  ["one thermometer, one vane, some cloud", "one", 0.15],
  ["a thermometer at each end of each box, one vane", "each", 0.02],
] as const) {
  const run = (apart: boolean) =>
    Array.from({ length: AFTERNOONS }, (_, i) => afternoon(5000 + i, apart, thermometers, clouds)).filter(
      (o) => o !== null,
    );
  const [same, apart] = [run(false), run(true)];
  const count = (list: readonly Outcome[], ...d: string[]) => list.filter((o) => d.includes(o.decision)).length;
  const all = [...same, ...apart];
  console.log(
    `| ${name} | ${percent(count(same, "aBetter", "bBetter"), same.length)} | ${percent(count(apart, "equal", "aBetter"), apart.length)} | ${percent(count(apart, "bBetter"), apart.length)} | ${percent(all.filter((o) => o.held).length, all.length)} | ${(100 * (all.reduce((s, o) => s + o.aboveTruth, 0) / all.length)).toFixed(1)} % |`,
  );
}
