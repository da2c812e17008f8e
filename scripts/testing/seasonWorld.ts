import type { Mode, HeatingSystem, Use } from "../../src/core/season/parts";
import { monthlyYear } from "../../src/core/season/weather";
import { BENCH_ZONE, TANSY_RIDGE } from "../../src/core/rig/bench";
import { CLIMATES } from "../../src/core/site/climates";
import { PLAIN_SITE, type SiteWorld } from "../../src/core/site/site";

/** A loft on the hill and a wash house, and boxes that heat them: what tests of the year share. */
const SITE: SiteWorld = { ...TANSY_RIDGE, zone: BENCH_ZONE, detail: PLAIN_SITE };
export const weather = monthlyYear(SITE, CLIMATES[0]);

export const ROOM: Extract<Use, { kind: "room" }> = {
  kind: "room",
  lossWK: 180,
  airJK: 6e5,
  massJK: 1e7,
  joinWK: 1400,
  gainsW: 100,
  sunM2: 1,
  setC: 16,
  capC: 24,
  heated: true,
};
export const WATER: Extract<Use, { kind: "hotWater" }> = {
  kind: "hotWater",
  litresADay: 150,
  coldC: Array<number>(12).fill(9),
  wantedC: 42,
  capC: 85,
  profile: Array<number>(24).fill(1 / 24),
};

export const seasonSystem = (over: Partial<HeatingSystem> = {}, areaM2 = 8, inSeries = 1): HeatingSystem => ({
  rows: [
    {
      areaM2,
      inSeries,
      curve: { eta0: 0.62, a1: 5, a2: 0.02 },
      capacityJK: areaM2 * 9000,
      light: weather.global,
      plainLight: weather.global,
      flowShare: 1,
    },
  ],
  stages: [{ flowWK: 20 * areaM2, powerW: 20, bedW: 0 }],
  stageC: 60,
  control: { kind: "difference", onK: 8, offK: 3 },
  panel: null,
  run: { supplyWK: 2, returnWK: 1, leakShare: 0.02 },
  exchanger: null,
  use: ROOM,
  store: { kind: "none" },
  modes: Array<Mode>(12).fill("heatAndCharge"),
  limitC: null,
  ...over,
});
