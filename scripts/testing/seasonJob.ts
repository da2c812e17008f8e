import { applySchema, type ApplySettings } from "../../src/core/season/schema";
import { runSeason, weatherOf, type SeasonAnswer, type SeasonJob } from "../../src/core/season/job";
import { BENCH_ZONE, TANSY_RIDGE } from "../../src/core/rig/bench";
import { lightsOf, scenarioOf } from "../../src/core/season/scenario";
import { seasonOf, withoutBoxes, type Candidate, type Season } from "../../src/core/season/season";
import { CLIMATES } from "../../src/core/site/climates";
import { PLAIN_SITE, type SiteWorld } from "../../src/core/site/site";

/** Tansy Ridge with a tree in the south. */
export const SITE: SiteWorld = {
  ...TANSY_RIDGE,
  zone: BENCH_ZONE,
  detail: {
    ...PLAIN_SITE,
    obstacles: [
      {
        id: "pear",
        kind: "tree",
        name: "Pear tree",
        bearing: 180,
        distanceM: 7,
        crownDiameterM: 6,
        topM: 9,
        bottomM: 1,
        transmittance: 0.15,
        winterTransmittance: 0.5,
      },
    ],
  },
};
export const CANDIDATE: Candidate = {
  key: "A",
  name: "box",
  origin: "curve",
  curve: { eta0: 0.62, a1: 5, a2: 0 },
  covariance: [
    [1e-4, 0, 0],
    [0, 0.16, 0],
    [0, 0, 0],
  ],
  areaM2: 2,
  b0: 0.1,
  capacityJM2K: 9000,
  flowWK: 40,
  powerW: 6,
  limitC: null,
  xRange: null,
};
/** A room with three boxes in front, but for what a test says. */
export const said = (over: Partial<ApplySettings> = {}): ApplySettings => ({
  ...applySchema.parse({
    use: {
      kind: "room",
      lossWK: 150,
      floorM2: 60,
      build: "light",
      gainsW: 50,
      sunM2: 1,
      setC: 15,
      capC: 26,
      heated: true,
    },
    rows: [{ inSeries: 1, sideBySide: 3, tilt: 60, azimuth: 180 }],
    control: { kind: "difference", onK: 8, offK: 3 },
    pipes: { lengthM: 3, diameterM: 0.15, insulationM: 0.03, leakShare: 0.02 },
  }),
  ...over,
});
/** Wash water and its tank, and a bin of stones. */
export const WASH_WATER = {
  kind: "hotWater",
  litresADay: 150,
  coldWinterC: 6,
  coldSummerC: 14,
  wantedC: 42,
  capC: 80,
  draw: "even",
} as const;
export const TANK = { kind: "water", kg: 300, lossWK: 2, exchangeWK: null, inRoom: false } as const;
export const STONES = {
  kind: "rock",
  volumeM3: 2,
  lengthM: 1.2,
  stoneM: 0.05,
  voidShare: 0.42,
  lossWK: 2,
  inRoom: false,
} as const;
export const job = (over: Partial<ApplySettings> = {}, more: Partial<SeasonJob> = {}): SeasonJob => ({
  settings: said(over),
  site: SITE,
  fluid: { kind: "air" },
  climate: CLIMATES[0],
  hours: null,
  candidates: [CANDIDATE],
  mirrored: {},
  panels: [],
  ...more,
});

/** The first candidate's year alone, without what-ifs: for sweeps of many. */
export function oneSeason(j: SeasonJob): Season {
  const { settings, site, fluid, candidates } = j;
  const { weather } = weatherOf(j);
  const lights = lightsOf(settings, site, weather!, candidates, new Map());
  const scenario = scenarioOf(settings, site, candidates[0], lights, fluid);
  return seasonOf(candidates[0], scenario, weather!, withoutBoxes(scenario, weather!))!;
}

/** @throws what stands in the way of a year */
export function answer(j: SeasonJob): SeasonAnswer {
  const r = runSeason(j)!;
  if (!r.ok) throw new Error(JSON.stringify(r.problems));
  return r.answer;
}
