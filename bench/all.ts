import { assembleRun } from "../src/core/analysis/assemble";
import { combineRuns, groundOf, reduceRun, wholeRun } from "../src/core/analysis/reduce";
import { ABSORBER_FORMS } from "../src/core/collector/form/list";
import { buildNetwork } from "../src/core/collector/network";
import { presetDesign } from "../src/core/collector/presets";
import { solveNetwork } from "../src/core/collector/solve";
import { studyDesign } from "../src/core/collector/study";
import { judgeReduction, testedReduction } from "../src/core/judge/judgeReduction";
import { CORRUGATED, simulateBench } from "../src/core/rig/bench";
import { compiled } from "./compiled";
import { importBench } from "./import";
import { median, report, timesAsLong } from "./report";
import { testSettings } from "../scripts/testing/bench";

/**
 * Performance as ratios measured in one run, so that the machine's speed cancels, with what is aimed at. Not part of the tests.
 * `npx tsx bench/all.ts`, nothing else at work; `--import`, `--analysis` or `--prediction` for one part.
 */
async function analysisBench(): Promise<void> {
  const plan = (stepS: number, days: number) => ({
    seed: 3,
    stepS,
    hours: [6, 20] as [number, number],
    accuracy: { probeK: 0.2, speedShare: 0.03, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
    specimens: "ABCDEFGH".split("").map((lane, i) => ({
      lane,
      variant: String(i >> 1),
      collector: { ...CORRUGATED, streamTransfer: 22 + 4 * i },
      areaM2: 2,
      massFlowKgPerS: 0.04,
    })),
    inletProgram: [
      { fromHour: 0, aboveAmbientK: 0 },
      { fromHour: 11, aboveAmbientK: 9 },
      { fromHour: 12.3, aboveAmbientK: 18 },
      { fromHour: 13.6, aboveAmbientK: 27 },
    ],
    runs: [
      {
        run: "1",
        days: Array.from({ length: days }, (_, d) => ({
          dateMs: Date.UTC(2026, 9, 5 + d, 10),
          cloudiness: 0.05,
          meanAmbientC: 9,
          meanWind: 1.5,
        })),
        stations: Object.fromEntries("ABCDEFGH".split("").map((l, i) => [l, i + 1])),
      },
    ],
  });
  const [run] = simulateBench(plan(10, 7));
  const settings = testSettings;
  const onePass = () => {
    let sum = 0;
    for (const c of run.channels) for (let i = 0; i < c.values.length; i++) sum += c.values[i] * c.times[i];
    return sum;
  };
  const pass = await median(15, onePass);
  const assembled = assembleRun(run.channels);
  const input = wholeRun(run.setup, assembled);
  const ground = groundOf(input);
  const reduced = () => combineRuns([reduceRun(input, settings, ground)], settings);
  const reduction = reduced();
  const tested = { tested: testedReduction(reduction, settings) };
  const cells = run.channels.reduce((s, c) => s + c.values.length, 0);
  console.log(
    `a week of 8 lanes at 10 s: ${cells.toLocaleString("en")} readings, ${reduction.points.length} points; one plain pass ${pass.toFixed(1)} ms`,
  );
  const over = (work: () => unknown) => timesAsLong(15, work, onePass);
  report("cleaning and common clock ÷ one plain pass", await over(() => assembleRun(run.channels)));
  report("heat by the hour, placement, what is impossible ÷ one plain pass", await over(() => groundOf(input)));
  report("windows, points and curves ÷ one plain pass", await over(reduced), 15);
  const changed = await over(() => judgeReduction(reduced(), settings));
  report("a changed limit, what follows from it ÷ one plain pass", changed, 30);
  report(
    "verdict at a new operating point ÷ one plain pass",
    await over(() => judgeReduction(reduction, settings, tested)),
    10,
  );
}

/** The builder's question, against solving the same box once: what ± and curve cost, and whether figures can move while one types. */
async function predictionBench(): Promise<void> {
  const op = {
    irradianceWm2: 900,
    ambientC: 8,
    inletC: 15,
    windMs: 1.5,
    tilt: 60,
    pressurePa: 88500,
    massFluxKgM2S: 0.02,
    extremeAmbientC: 32,
    extremeIrradianceWm2: 1050,
    basis: "gross" as const,
    reduced: "mean" as const,
  };
  let slowest = { form: "", ms: 0, ratio: 0 };
  for (const form of ABSORBER_FORMS) {
    const design = presetDesign(form);
    const net = buildNetwork(design);
    const c = {
      irradianceWm2: 900,
      ambientC: 8,
      inletC: 15,
      windMs: 1.5,
      massFlowKgPerS: 0.04,
      tilt: 60,
      pressurePa: 88500,
    };
    const once = await median(25, () => solveNetwork(net, c));
    const study = await median(9, () => studyDesign(design, op, -15));
    if (study > slowest.ms) slowest = { form, ms: study, ratio: study / once };
  }
  report(`study of a design (${slowest.form}) ÷ one solution of its network`, slowest.ratio);
  report("… the same in ms on this machine", slowest.ms, 100);
}

const PARTS = { "--prediction": predictionBench, "--import": importBench, "--analysis": analysisBench };
if (!process.env.BRAVEL_COMPILED) await compiled("bench/all.ts", [], process.argv.slice(2));
else {
  const wanted = Object.entries(PARTS).filter(([flag]) => process.argv.includes(flag));
  for (const [, part] of wanted.length ? wanted : Object.entries(PARTS)) await part();
}
