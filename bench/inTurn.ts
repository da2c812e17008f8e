/**
 * One place, one logger, one box after another: does the verdict hold where haze, outside air and wind change between them? Seeded
 * benches, errors drawn as stated, equal boxes in half of them. Run: `npx tsx bench/inTurn.ts [benches]`.
 */
import { assembleRun } from "../src/core/analysis/assemble";
import { reduceExperiment, wholeRun } from "../src/core/analysis/reduce";
import { judgeReduction } from "../src/core/judge/judgeReduction";
import type { Judgement } from "../src/core/judge/judge";
import { backyardSettings } from "../scripts/testing/bench";
import { seededRandom } from "../src/core/random/seededRandom";
import { CORRUGATED, simulateBench, type BenchPlan } from "../src/core/rig/bench";
import { steadyHeat, type RigCollector } from "../src/core/rig/simulate";

const BENCHES = Number(process.argv[2] ?? 200);
const BETTER: RigCollector = { ...CORRUGATED, streamTransfer: 36 };
const ACCURACY = {
  probeK: 0.3,
  speedShare: 0.03,
  profileLimit: 0.03,
  sunShare: 0.05,
  ambientK: 0.5,
  stationShare: 0.005,
};

interface Kind {
  name: string;
  /** Which lane stands in the sun, day by day. */
  order: string;
  steps: boolean;
  sensor: boolean;
  cloud: number;
}
const OUTSIDE: BenchPlan["inletProgram"] = [{ fromHour: 0, aboveAmbientK: 0 }];
const STEPS: BenchPlan["inletProgram"] = [
  { fromHour: 0, aboveAmbientK: 2 },
  { fromHour: 12, aboveAmbientK: 12 },
  { fromHour: 13.6, aboveAmbientK: 22 },
];
const KINDS: Kind[] = [
  { name: "sun sensor, outside air, three days each", order: "AAABBB", steps: false, sensor: true, cloud: 0.15 },
  { name: "the same by turns", order: "ABABAB", steps: false, sensor: true, cloud: 0.15 },
  { name: "sun sensor, outside air, one day each", order: "AB", steps: false, sensor: true, cloud: 0.1 },
  { name: "sun sensor, inlet steps, three days each", order: "AAABBB", steps: true, sensor: true, cloud: 0.15 },
  { name: "no sun sensor, outside air, three days each", order: "AAABBB", steps: false, sensor: false, cloud: 0.15 },
  { name: "no sun sensor, by turns, ten days", order: "ABABABABAB", steps: false, sensor: false, cloud: 0.15 },
];

function bench({ order, steps, sensor, cloud }: Kind, seed: number, better: boolean) {
  const own = seededRandom(seed * 31 + 7);
  let [haze, warm] = [own.normal(), own.normal()];
  const days = [...order].map((lane, d) => {
    // Days remember each other.
    haze = 0.4 * haze + Math.sqrt(1 - 0.16) * own.normal();
    warm = 0.7 * warm + Math.sqrt(1 - 0.49) * own.normal();
    const day = {
      dateMs: Date.UTC(2026, 8, 20 + d, 10),
      cloudiness: cloud * (0.5 + Math.abs(own.within(1))),
      meanAmbientC: 10 + 4 * warm,
      meanWind: 1.7 + own.within(0.9),
    };
    return { lane, day, linkeTurbidity: Math.max(1.9, 2.9 + 0.5 * haze) };
  });
  const plan: BenchPlan = {
    seed,
    accuracy: ACCURACY,
    stepS: 60,
    hours: [8, 18],
    inletProgram: steps ? STEPS : OUTSIDE,
    specimens: ["A", "B"].map((lane) => ({
      lane,
      variant: lane,
      collector: { ...(better && lane === "B" ? BETTER : CORRUGATED), b0: 0.1 + own.within(0.03) },
      areaM2: 2,
      massFlowKgPerS: 0.04,
    })),
    runs: days.map(({ lane, day, linkeTurbidity }, i) => ({
      run: String(i + 1),
      days: [day],
      stations: { [lane]: 1 },
      linkeTurbidity,
    })),
  };
  const runs = simulateBench(plan).map(({ setup, channels }) => {
    const sunSensor = sensor ? setup.sunSensor : { key: "modelled", limitShare: 0.15, mounting: "modelled" as const };
    const logged = sensor ? channels : channels.filter((c) => c.kind !== "irradiance");
    return wholeRun({ ...setup, sunSensor }, assembleRun(logged));
  });
  const judgement = judgeReduction(reduceExperiment(runs, backyardSettings), backyardSettings);
  return { judgement, truth: truthAt(judgement, plan) };
}

/** What B really gives more than A at the condition they are compared at. */
function truthAt({ way, tested, flows }: Judgement, { specimens }: BenchPlan): number {
  const at = way === "tested" && tested ? tested.condition : backyardSettings.operatingPoint;
  const heat = (i: number) =>
    steadyHeat(
      specimens[i].collector,
      { ...at, flowPerArea: flows.get(specimens[i].lane) ?? at.flowPerArea, wind: 1.7 },
      88500,
    ).heatPerArea;
  return heat(1) - heat(0);
}

for (const kind of KINDS) {
  const s = { answers: 0, held: 0, wrong: 0, falseWinner: 0, equals: 0, told: 0, half: 0, bias: 0, sq: 0 };
  const ways = new Map<string, number>();
  for (let i = 0; i < BENCHES; i++) {
    const better = i % 2 === 1;
    const { judgement, truth } = bench(kind, 300 + i, better);
    const { verdict, pairs, way } = judgement;
    const said = verdict.kind === "none" ? `none ${verdict.reason}` : `${way} ${verdict.kind}`;
    ways.set(said, (ways.get(said) ?? 0) + 1);
    const pair = pairs.find((p) => p.a === "A" && p.b === "B");
    if (!pair) continue;
    s.answers++;
    const off = -pair.difference.value - truth;
    if (Math.abs(off) < pair.expanded) s.held++;
    s.half += pair.expanded;
    s.bias += off;
    s.sq += off * off;
    if (verdict.kind === "winner" && !better) s.falseWinner++;
    if (verdict.kind === "winner" && better) s[verdict.best[0] === "B" ? "told" : "wrong"]++;
  }
  const n = Math.max(1, s.answers);
  const p = (a: number, of: number) => `${((100 * a) / of).toFixed(1)} %`;
  console.log(
    `${kind.name.padEnd(46)} answers ${s.answers}, held ${p(s.held, n)}, ± ${(s.half / n).toFixed(0)}, off ${(s.bias / n).toFixed(1)} ± ${Math.sqrt(s.sq / n).toFixed(1)} W/m²; equal: false winner ${p(s.falseWinner, BENCHES / 2)}; apart by 28: told ${p(s.told, BENCHES / 2)}, wrong ${p(s.wrong, BENCHES / 2)}; ${[...ways].map(([k, v]) => `${k} ${v}`).join(", ")}`,
  );
}
