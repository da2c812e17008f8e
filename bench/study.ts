/**
 * Steady windows against all daylight on the same seeded benches, errors drawn as stated, clear and broken skies, two to four lanes, a null
 * pair in half of them: coverage, bias, false winners, and how many hours of sun each needed. Run: `npx tsx bench/study.ts [benches]`.
 */
import { assembleRun } from "../src/core/analysis/assemble";
import { reduceExperiment, wholeRun } from "../src/core/analysis/reduce";
import { judgeReduction } from "../src/core/judge/judgeReduction";
import { standardRules } from "../src/core/log/windows";
import { dynamic } from "../src/core/method/find/dynamic";
import { methodSpans } from "../src/core/method/find/span";
import { CORRUGATED, simulateBench } from "../src/core/rig/bench";
import { steadyHeat } from "../src/core/rig/simulate";
import { coverageFactor } from "../src/core/uncertainty/coverage";
import { effectiveDof, standardUncertainty, type Uncertain } from "../src/core/uncertainty/uncertain";

const BENCHES = Number(process.argv[2] ?? 40);
const OP = { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 };
const BETTER = { ...CORRUGATED, streamTransfer: 33 };
const truth = (c: typeof CORRUGATED) => steadyHeat(c, { ...OP, wind: 1.5 }, 88500).heatPerArea;
const half = (u: Uncertain) => coverageFactor(effectiveDof(u)) * standardUncertainty(u);

interface Score {
  answered: number;
  held: number;
  all: number;
  bias: number[];
  falseWinner: number;
  nulls: number;
  told: number;
  apart: number;
}
const score = (): Score => ({ answered: 0, held: 0, all: 0, bias: [], falseWinner: 0, nulls: 0, told: 0, apart: 0 });

function run(seed: number, cloudiness: number, days: number) {
  const alike = seed % 2 === 0;
  const collectors = { A: CORRUGATED, B: alike ? CORRUGATED : BETTER };
  const runs = simulateBench({
    seed,
    stepS: 20,
    hours: [8, 18],
    accuracy: { probeK: 0.2, speedShare: 0.03, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
    specimens: (["A", "B"] as const).map((lane) => ({
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
      days: Array.from({ length: days / 2 }, (_, d) => ({
        dateMs: Date.UTC(2026, 8, 5 + (r * days) / 2 + d, 10),
        cloudiness,
        meanAmbientC: 9,
        meanWind: 1.5,
      })),
      stations: r ? { A: 2, B: 1 } : { A: 1, B: 2 },
    })),
  });
  const inputs = runs.map((r) => wholeRun(r.setup, assembleRun(r.channels)));
  return { inputs, collectors, alike };
}

function note(s: Score, figure: Uncertain | undefined, expected: number, alike: boolean): void {
  s[alike ? "nulls" : "apart"]++;
  if (!figure) return;
  s.answered++;
  s.all++;
  const off = figure.value - expected;
  s.bias.push(off);
  if (Math.abs(off) < half(figure)) s.held++;
  if (Math.abs(figure.value) > half(figure)) s[alike ? "falseWinner" : "told"]++;
}

const mean = (v: readonly number[]) => v.reduce((a, b) => a + b, 0) / Math.max(1, v.length);
for (const [sky, cloudiness] of [
  ["clear", 0.05],
  ["broken cloud", 0.75],
] as const)
  for (const days of [2, 4]) {
    const [steady, whole] = [score(), score()];
    const widths: [number[], number[]] = [[], []];
    for (let seed = 1; seed <= BENCHES; seed++) {
      const { inputs, collectors, alike } = run(seed, cloudiness, days);
      const expected = truth(collectors.A) - truth(collectors.B);
      const settings = {
        rules: standardRules("air"),
        basis: "mean" as const,
        operatingPoint: OP,
        smallestDifference: 15,
        stationShare: 0.004,
        curvature: "auto" as const,
        seed: 1,
      };
      const judgement = judgeReduction(reduceExperiment(inputs, settings), settings);
      const pair = judgement.way === "point" ? judgement.pairs.find((p) => p.a === "A" && p.b === "B") : undefined;
      note(steady, pair?.difference, expected, alike);
      if (pair) widths[0].push(half(pair.difference));
      const found = dynamic({
        spans: inputs.flatMap((i) => methodSpans(i, [])),
        lanes: ["A", "B"].map((lane) => ({ lane, variant: lane, tank: null, pipeM: null })),
        basis: "mean",
        operatingPoint: OP,
        stationShare: 0.004,
      }).findings.find((f) => f.name === "difference");
      note(whole, found?.figure, expected, alike);
      if (found) widths[1].push(half(found.figure));
    }
    for (const [name, s, w] of [
      ["steady windows", steady, widths[0]],
      ["all daylight", whole, widths[1]],
    ] as const)
      console.log(
        `${sky}, ${days} days, ${name}:`.padEnd(42),
        `answers ${s.answered}/${BENCHES}, intervals hold ${s.held}/${s.all}, bias ${mean(s.bias).toFixed(1)}, ± ${mean(w).toFixed(0)} W/m², false winner ${s.falseWinner}/${s.nulls}, told ${s.told}/${s.apart}`,
      );
  }
