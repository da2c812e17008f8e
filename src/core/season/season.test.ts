import { TANSY_RIDGE, BENCH_ZONE } from "../rig/bench";
import { CLIMATES } from "../site/climates";
import { PLAIN_SITE, type SiteWorld } from "../site/site";
import { yearOf } from "./account";
import type { System } from "./parts";
import { simulateYear } from "./simulate";
import { HOURS, monthlyYear, monthsOf } from "./weather";

const SITE: SiteWorld = { ...TANSY_RIDGE, zone: BENCH_ZONE, detail: PLAIN_SITE };
const weather = monthlyYear(SITE, CLIMATES[0]);

const system = (over: Partial<System> = {}): System => ({
  rows: [
    {
      areaM2: 8,
      curve: { eta0: 0.6, a1: 5, a2: 0.02 },
      capacityJK: 8 * 9000,
      light: weather.global,
      plainLight: weather.global,
      flowShare: 1,
    },
  ],
  stages: [{ flowWK: 160, powerW: 20 }],
  stageC: 60,
  control: { kind: "difference", onK: 8, offK: 3 },
  panel: null,
  run: { supplyWK: 2, returnWK: 1, leakShare: 0.02 },
  exchanger: null,
  use: {
    kind: "room",
    lossWK: 180,
    airJK: 2e6,
    massJK: 2e7,
    joinWK: 400,
    gainsW: 100,
    sunM2: 1,
    setC: 16,
    capC: 24,
    heated: true,
  },
  store: { kind: "none" },
  modes: Array(12).fill("heatAndCharge"),
  limitC: null,
  ...over,
});

test("x", () => {
  const t0 = performance.now();
  const y = simulateYear(system(), weather)!;
  const t1 = performance.now();
  console.log(t1 - t0, y.imbalance, y.starts, y.running, y.hunting, y.hottestBoxC, y.lowestC);
  console.log(
    Object.entries(y.account)
      .map(([k, v]) => `${k} ${Math.round(yearOf(v))}`)
      .join("; "),
  );
  const z = simulateYear(
    system({
      store: { kind: "rock", volumeM3: 3, lengthM: 2, stoneM: 0.03, voidShare: 0.42, lossWK: 4, inRoom: false },
    }),
    weather,
  )!;
  console.log(
    z.imbalance,
    Object.entries(z.account)
      .map(([k, v]) => `${k} ${Math.round(yearOf(v))}`)
      .join("; "),
  );
  console.log(
    monthsOf(weather)
      .map((m) => `${m.globalKwhM2.toFixed(2)} ${m.meanC.toFixed(1)}`)
      .join("|"),
    HOURS,
  );
});
