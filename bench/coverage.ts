/**
 * Do intervals said to hold 95 % hold 95 %? Errors are drawn as they are stated, and the truth is counted in: curves and pairs over
 * few and many windows, heat per day over whole simulated benches. Run: `npx tsx bench/coverage.ts [draws] [benches]`.
 */
import { assembleRun } from "../src/core/analysis/assemble";
import { fitLanes } from "../src/core/analysis/lanesFit";
import { reduceExperiment, wholeRun } from "../src/core/analysis/reduce";
import { comparePairs } from "../src/core/judge/pairs";
import { backyardRules } from "../src/core/log/windows";
import { localDay } from "../src/core/log/zone";
import { seededRandom } from "../src/core/random/seededRandom";
import { BENCH_ZONE, CORRUGATED, simulateBench, TANSY_RIDGE } from "../src/core/rig/bench";
import { sunPosition } from "../src/core/sun/position";
import { expanded } from "../src/core/uncertainty/coverage";
import { measured, type Uncertain } from "../src/core/uncertainty/uncertain";
import { comparedWindows, drawWindows, TRUE, type Case } from "../scripts/testing/drawnWindows";

const DRAWS = Number(process.argv[2] ?? 2000);
const BENCHES = Number(process.argv[3] ?? 120);
const holds = (figure: Uncertain, truth: number) => Math.abs(figure.value - truth) <= expanded(measured(figure));
const share = (hits: number, of: number) => `${((100 * hits) / of).toFixed(1)} %`.padStart(8);

function curvesAndPairs(c: Case): void {
  const hits = { eta0: 0, a1: 0, heat: 0, pair: 0 };
  const widths = { eta0: 0, pair: 0 };
  let made = 0;
  for (let i = 0; i < DRAWS; i++) {
    const points = drawWindows(c, seededRandom(1000 + i));
    const { curves } = fitLanes(["A", "B"].map((l) => [l, points.filter((p) => p.lane === l)]));
    if (curves.size < 2) continue;
    made++;
    const input = comparedWindows(points, curves);
    const { operatingPoint } = input;
    const x = (operatingPoint.inletC - operatingPoint.ambientC) / operatingPoint.irradianceWm2;
    const own = curves.get("A")!;
    if (holds(own.eta0, TRUE.eta0)) hits.eta0++;
    if (holds(own.a1, TRUE.a1)) hits.a1++;
    widths.eta0 += expanded(measured(own.eta0));
    if (
      holds(comparePairs(input).laneHeats().heats.get("A")!, operatingPoint.irradianceWm2 * (TRUE.eta0 - TRUE.a1 * x))
    )
      hits.heat++;
    const [pair] = comparePairs(input).pairs;
    if (holds(pair.difference, 0)) hits.pair++;
    widths.pair += pair.expanded;
  }
  console.log(
    `${String(c.windows).padStart(3)} windows on ${c.days} day${c.days > 1 ? "s" : " "}, ${c.swapped ? "swapped" : "kept   "}, scatter ×${Math.hypot(1, c.unmodelled).toFixed(1)}: η0${share(hits.eta0, made)} a1${share(hits.a1, made)} heat${share(hits.heat, made)} pair${share(hits.pair, made)}   mean ± η0 ${(widths.eta0 / made).toFixed(4)}, pair ${(widths.pair / made).toFixed(1)} W/m²`,
  );
}

/** Heat per day of whole benches against what the simulator knows. */
function dailyHeat(): void {
  let [days, hits, width] = [0, 0, 0];
  for (let i = 0; i < BENCHES; i++) {
    const plan = {
      seed: 4000 + i,
      accuracy: { probeK: 0.3, speedShare: 0.04, profileLimit: 0.03, sunShare: 0.03, ambientK: 0.3, stationShare: 0 },
      stepS: 60,
      hours: [8, 18] as [number, number],
      inletProgram: [{ fromHour: 0, aboveAmbientK: 3 }],
      specimens: [{ lane: "A", variant: "a", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 }],
      runs: [
        {
          run: "1",
          days: [{ dateMs: Date.UTC(2026, 9, 5, 10), cloudiness: 0.3, meanAmbientC: 9, meanWind: 2 }],
          stations: { A: 1 },
        },
      ],
    };
    const [run] = simulateBench(plan);
    const reduction = reduceExperiment([wholeRun(run.setup, assembleRun(run.channels))], {
      rules: backyardRules("air"),
      basis: "mean",
      curvature: "auto",
    });
    for (const day of reduction.heat.days) {
      let truth = 0;
      run.log.times.forEach((t, k) => {
        if (localDay(t, BENCH_ZONE) === day.day && sunPosition(t, TANSY_RIDGE).altitude > 0)
          truth += run.log.truth.heat.get("A")![k] * 2 * plan.stepS;
      });
      days++;
      if (holds(day.energy, truth)) hits++;
      width += expanded(measured(day.energy)) / day.energy.value;
    }
  }
  console.log(`heat per day, ${days} days: ${share(hits, days)}   mean ± ${((100 * width) / days).toFixed(1)} %`);
}

console.log(`${DRAWS} draws each; share of intervals that hold the truth`);
for (const windows of [4, 5, 6, 8, 12, 20])
  for (const unmodelled of [0, 2])
    curvesAndPairs({ windows, days: windows > 5 ? 2 : 1, swapped: windows > 5, unmodelled });
dailyHeat();
