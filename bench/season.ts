/**
 * A year of four variants with a room and a bin of stones, over a bare loop of as many steps that only follows one temperature; and
 * the same with the bands of their curves. Run: `npx tsx bench/season.ts`, nothing else at work.
 */
import { performance } from "node:perf_hooks";
import { applySchema } from "../src/core/season/schema";
import { runSeason, type SeasonJob } from "../src/core/season/job";
import { BENCH_ZONE, TANSY_RIDGE } from "../src/core/rig/bench";
import type { Candidate } from "../src/core/season/season";
import { CLIMATES } from "../src/core/site/climates";
import { PLAIN_SITE } from "../src/core/site/site";
import { LOFT_SEASON } from "../demo/apply";

const candidate = (key: string, k: number, banded: boolean): Candidate => ({
  key,
  name: key,
  origin: "curve",
  curve: { eta0: 0.6 + 0.02 * k, a1: 4 + k, a2: 0.01 },
  covariance: banded
    ? [
        [1e-4, 1e-3, 0],
        [1e-3, 0.2, 0],
        [0, 0, 1e-6],
      ]
    : null,
  areaM2: 2,
  b0: 0.1,
  capacityJM2K: 9000,
  flowWK: 40,
  powerW: 8,
  limitC: null,
  xRange: null,
});
const job = (banded: boolean): SeasonJob => ({
  settings: applySchema.parse({ ...LOFT_SEASON, panels: null }),
  site: { ...TANSY_RIDGE, zone: BENCH_ZONE, detail: PLAIN_SITE },
  fluid: { kind: "air" },
  climate: CLIMATES[0],
  hours: null,
  candidates: [..."ABCD"].map((key, k) => candidate(key, k, banded)),
  mirrored: {},
  panels: [],
});

const best = (work: () => unknown, times = 5): number => {
  let least = Infinity;
  for (let i = 0; i < times; i++) {
    const from = performance.now();
    work();
    least = Math.min(least, performance.now() - from);
  }
  return least;
};

let sink = 0;
const bare = best(() => {
  for (let v = 0; v < 4; v++) {
    let t = 10;
    for (let k = 0; k < 8760 * 6; k++) t += (600 / 18000) * (0.6 * (k % 900) - 5 * (t - 5)) * 0.1;
    sink += t;
  }
});
const plain = best(() => runSeason(job(false)));
const banded = best(() => runSeason(job(true)));
console.log(`bare loop ${bare.toFixed(1)} ms${sink > 1e9 ? "!" : ""}`);
console.log(
  `a year of four variants, weather and what-ifs with it: ${plain.toFixed(0)} ms, ${(plain / bare).toFixed(0)} times the bare loop`,
);
console.log(`with bands: ${banded.toFixed(0)} ms, ${(banded / plain).toFixed(1)} times without`);
