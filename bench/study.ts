/**
 * Steady windows against all daylight on the same seeded benches, errors drawn as stated: skies from clear to broken, air and water, bare in the
 * wind, two to six lanes, equal boxes in half of them. Coverage, bias, false winners, power and hours used. Run: `npx tsx bench/study.ts [benches] [kind]`.
 */
import { assembleRun } from "../src/core/analysis/assemble";
import { reduceExperiment, wholeRun } from "../src/core/analysis/reduce";
import { judgeReduction } from "../src/core/judge/judgeReduction";
import { standardRules } from "../src/core/log/windows";
import { dynamic } from "../src/core/method/find/dynamic";
import { methodSpans } from "../src/core/method/find/span";
import { CORRUGATED, simulateBench } from "../src/core/rig/bench";
import { steadyHeat, trueCurve } from "../src/core/rig/simulate";
import { coverageFactor } from "../src/core/uncertainty/coverage";
import { seededRandom } from "../src/core/random/seededRandom";
import { effectiveDof, standardUncertainty, withSource, type Uncertain } from "../src/core/uncertainty/uncertain";

const BENCHES = Number(process.argv[2] ?? 40);
/** Kinds with this in their names; all where it is left out. */
const ONLY = process.argv[3];
const OP = { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 };
const truth = (c: typeof CORRUGATED, wind: number) => steadyHeat(c, { ...OP, wind }, 88500).heatPerArea;
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

/** A kind of bench people have. */
interface Kind {
  name: string;
  cloudiness: number;
  days: number;
  lanes?: number;
  water?: boolean;
  /** No cover: wind takes most of the heat (the rig knows no sky). */
  windy?: boolean;
  /** Probes off by up to this, stated so, K. */
  probeK?: number;
}

const WATER = { streamTransfer: 180, capacity: 9000, frontLoss: 4.6 };
const BARE = { frontLoss: 7, windLoss: 4, temperatureLoss: 0, tauAlpha: 0.9, b0: 0.05 };

/** Half of the benches hold equal boxes, else every second one is better. */
function run(seed: number, { cloudiness, days, lanes: count = 2, water = false, windy = false, probeK = 0.2 }: Kind) {
  const alike = seed % 2 === 0;
  const made = (c: typeof CORRUGATED) => ({ ...c, ...(water ? WATER : {}), ...(windy ? BARE : {}) });
  const plain = made(CORRUGATED);
  const better = {
    ...plain,
    streamTransfer: water ? 420 : 33,
    tauAlpha: water ? plain.tauAlpha + 0.02 : plain.tauAlpha,
  };
  const letters = [..."ABCDEF"].slice(0, count);
  const collectors = Object.fromEntries(letters.map((l, i) => [l, alike || i % 2 === 0 ? plain : better]));
  const runs = simulateBench({
    seed,
    stepS: 20,
    hours: [8, 18],
    fluid: water ? { kind: "water" } : undefined,
    accuracy: { probeK, speedShare: 0.03, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
    specimens: letters.map((lane) => ({
      lane,
      variant: collectors[lane] === plain ? "a" : "b",
      collector: collectors[lane],
      areaM2: 2,
      massFlowKgPerS: 0.04,
    })),
    inletProgram: [
      { fromHour: 0, aboveAmbientK: windy ? 4 : 0 },
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
      // Turned end for end.
      stations: Object.fromEntries(letters.map((l, i) => [l, r ? count - i : i + 1])),
    })),
  });
  const inputs = runs.map((r) => wholeRun(r.setup, assembleRun(r.channels)));
  // Terms and heats count at the wind that blew.
  const wind = mean(runs.map((r) => r.log.truth.wind));
  return { inputs, collectors, alike, water, wind };
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

/** How often all daylight alone, and with the drawings, held the true heat at the point, its loss and the difference. */
const heldBy = () => ({
  points: [] as number[],
  widths: [] as number[],
  pairs: [] as number[],
  pairWidths: [] as number[],
  losses: [] as number[],
});

/** A drawing that is off by so much, alike for all boxes of a bench, and says ± 12 % (standard). */
const drawnLoss = (c: typeof CORRUGATED, { off, wind }: { off: number; wind: number }) => {
  const { a1 } = realTerms(c, wind);
  return { a1: withSource(a1 * off, 0.12 * a1, { kind: "insulation", owner: "", dof: Infinity }) };
};

const mean = (v: readonly number[]) => v.reduce((a, b) => a + b, 0) / Math.max(1, v.length);
const FLUID_CP = 4186;
/** Exact heat and curve of a rig's box at the operating point. */
function truthOf(c: typeof CORRUGATED, { water, wind }: { water: boolean; wind: number }) {
  const at = { ...OP, wind };
  if (!water) return truth(c, wind);
  // The rig's own balance with water's capacity.
  const toStream = 1 / (1 / c.streamTransfer + 1 / (2 * at.flowPerArea * FLUID_CP));
  const back = 1 / (1 / c.backInner + 1 / c.backOuter);
  let plate = at.inletC;
  for (let i = 0; i < 60; i++) {
    const U = c.frontLoss + c.windLoss * at.wind + c.temperatureLoss * Math.max(0, plate - at.ambientC) + back;
    plate = (c.tauAlpha * at.irradianceWm2 + toStream * at.inletC + U * at.ambientC) / (toStream + U);
  }
  return toStream * (plate - at.inletC);
}

const TERMS = ["eta0", "a1", "a3", "a5"] as const;
const noTerms = (): Record<(typeof TERMS)[number], number[]> => ({ eta0: [], a1: [], a3: [], a5: [] });

/** What the rig's box has: its exact steady line, and what wind and warming take of it with F′ = h/(h + U). */
function realTerms(c: typeof CORRUGATED, wind: number): Record<(typeof TERMS)[number], number> {
  const at = [12, 24, 36].map((inletC) => ({ irradianceWm2: 850, ambientC: 12, inletC, wind, flowPerArea: 0.02 }));
  const line = trueCurve(c, at, 88500);
  const factor = 1 - line.a1 / c.streamTransfer;
  return { ...line, a3: factor ** 2 * c.windLoss, a5: factor * c.capacity };
}

const KINDS: Kind[] = [
  { name: "air, clear", cloudiness: 0.05, days: 2 },
  { name: "air, clear", cloudiness: 0.05, days: 4 },
  { name: "air, some cloud", cloudiness: 0.35, days: 2 },
  { name: "air, some cloud", cloudiness: 0.35, days: 4 },
  { name: "air, some cloud", cloudiness: 0.35, days: 6 },
  { name: "air, broken cloud", cloudiness: 0.75, days: 2 },
  { name: "air, broken cloud", cloudiness: 0.75, days: 4 },
  { name: "air, probes off by 0.6 K", cloudiness: 0.05, days: 4, probeK: 0.6 },
  { name: "water, clear", cloudiness: 0.05, days: 4, water: true },
  { name: "water, broken cloud", cloudiness: 0.75, days: 4, water: true },
  { name: "bare in the wind, clear", cloudiness: 0.05, days: 4, windy: true },
  { name: "four lanes, some cloud", cloudiness: 0.35, days: 4, lanes: 4 },
  { name: "six lanes, clear", cloudiness: 0.05, days: 2, lanes: 6 },
];

for (const kind of KINDS.filter((k) => !ONLY || k.name.includes(ONLY))) {
  const [steady, whole] = [score(), score()];
  const widths: [number[], number[]] = [[], []];
  const hours: [number[], number[]] = [[], []];
  const [alone, drawings] = [heldBy(), heldBy()];
  const bias = { steady: noTerms(), whole: noTerms() };
  for (let seed = 1; seed <= BENCHES; seed++) {
    const { inputs, collectors, alike, water, wind } = run(seed, kind);
    const at = { water, wind };
    const expected = truthOf(collectors.A, at) - truthOf(collectors.B, at);
    const settings = {
      rules: standardRules(water ? "water" : "air"),
      basis: "mean" as const,
      operatingPoint: OP,
      smallestDifference: 15,
      stationShare: 0.004,
      curvature: "auto" as const,
      seed: 1,
    };
    const reduction = reduceExperiment(inputs, settings);
    const judgement = judgeReduction(reduction, settings);
    const real = realTerms(collectors.A, wind);
    for (const name of ["eta0", "a1"] as const) {
      const c = reduction.curves.get("A")?.[name];
      if (c) bias.steady[name].push(c.value - real[name]);
    }
    const pair = judgement.way === "point" ? judgement.pairs.find((p) => p.a === "A" && p.b === "B") : undefined;
    note(steady, pair?.difference, expected, alike);
    if (pair) {
      widths[0].push(half(pair.difference));
      hours[0].push(
        reduction.points.filter((p) => p.lane === "A").reduce((s, p) => s + (p.endMs - p.startMs) / 36e5, 0),
      );
    }
    const spans = inputs.flatMap((i) => methodSpans(i, []));
    const off = 1 + 0.12 * seededRandom(seed * 17).normal();
    const daylight = (drawn: boolean) =>
      dynamic({
        spans,
        lanes: Object.keys(collectors).map((lane) => ({
          lane,
          variant: lane,
          tank: null,
          pipeM: null,
          drawn: drawn ? drawnLoss(collectors[lane], { off, wind }) : null,
        })),
        basis: "mean",
        operatingPoint: OP,
        stationShare: 0.004,
      }).findings;
    const findings = daylight(false);
    const level = truthOf(collectors.A, at);
    for (const [s, found] of [
      [alone, findings],
      [drawings, daylight(true)],
    ] as const) {
      const heat = found.find((f) => f.name === "heatAtPoint" && f.lane === "A")?.figure;
      if (!heat) continue;
      s.points.push(Math.abs(heat.value - level) < half(heat) ? 1 : 0);
      s.widths.push(half(heat));
      const d = found.find((f) => f.name === "difference" && f.lane === "A" && f.other === "B")?.figure;
      if (d) {
        s.pairs.push(Math.abs(d.value - expected) < half(d) ? 1 : 0);
        s.pairWidths.push(half(d));
      }
      const a1 = found.find((f) => f.name === "a1" && f.lane === "A")?.figure;
      if (a1 && !found.some((f) => f.name === "a2" && f.lane === "A"))
        s.losses.push(Math.abs(a1.value - real.a1) < half(a1) ? 1 : 0);
    }
    for (const name of TERMS) {
      const f = findings.find((g) => g.name === name && g.lane === "A");
      if (f) bias.whole[name].push(f.figure.value - real[name]);
    }
    const found = findings.find(
      (f) => f.name === "difference" && [f.lane, f.other].includes("A") && [f.lane, f.other].includes("B"),
    );
    const figure = found && found.lane === "B" ? { ...found.figure, value: -found.figure.value } : found?.figure;
    note(whole, figure, expected, alike);
    if (found) {
      widths[1].push(half(found.figure));
      hours[1].push(found.hours);
    }
  }
  for (const [name, s, w, h] of [
    ["steady windows", steady, widths[0], hours[0]],
    ["all daylight", whole, widths[1], hours[1]],
  ] as const)
    console.log(
      `| ${kind.name}, ${kind.days} | ${name} | ${s.answered} of ${BENCHES} | ${s.held} of ${s.all} | ${mean(s.bias).toFixed(1)} | ${mean(w).toFixed(0)} | ${mean(h).toFixed(1)} | ${s.falseWinner} of ${s.nulls} | ${s.told} of ${s.apart} |`,
    );
  const told = (b: Record<string, number[]>) =>
    TERMS.map((t) => (b[t].length ? `${t} ${mean(b[t]).toPrecision(2)}` : ""))
      .filter(Boolean)
      .join(", ");
  console.log(`  bias of terms, steady: ${told(bias.steady)}; all daylight: ${told(bias.whole)}`);
  for (const [name, s] of [
    ["alone", alone],
    ["with the drawings' losses", drawings],
  ] as const) {
    const held = (v: readonly number[]) => (v.length ? `${(100 * mean(v)).toFixed(1)} % of ${v.length}` : "none");
    console.log(
      `  all daylight ${name}: heat at the point held ${held(s.points)} (± ${mean(s.widths).toFixed(0)}), difference ${held(s.pairs)} (± ${mean(s.pairWidths).toFixed(1)}), a1 ${held(s.losses)}`,
    );
  }
}
