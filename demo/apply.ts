import type { ExperimentSettingsInput } from "../src/core/experiment/schema/settings";

type ApplyInput = NonNullable<ExperimentSettingsInput["apply"]>;

/** The loft where fleece and felt dry: boards over stone, kept above frost and damp. */
const LOFT: ApplyInput["use"] = {
  kind: "room",
  lossWK: 150,
  floorM2: 64,
  build: "light",
  gainsW: 60,
  sunM2: 0.8,
  setC: 14,
  capC: 26,
  heated: true,
};

const MONEY: ApplyInput["money"] = {
  currency: "EUR",
  unit: "first",
  other: 240,
  renewals: [{ name: "fan", cost: 60, everyYears: 8 }],
  fuel: "resistive",
  fuelPrice: 0.24,
  fuelEfficiency: 1,
  electricityPrice: 0.24,
  upkeep: 10,
  lifeYears: 15,
  interest: 0.02,
  priceRise: 0.01,
  doubt: { price: 0.25, cost: 0.1, life: 0.2, use: 0.15 },
};

/** The loft's winter with four of the winning boxes and a bin of stones under the floor. */
export const LOFT_SEASON: ApplyInput = {
  use: LOFT,
  rows: [{ inSeries: 1, sideBySide: 4, tilt: 60, azimuth: 180 }],
  control: { kind: "difference", onK: 8, offK: 3 },
  pipes: { lengthM: 4, diameterM: 0.16, insulationM: 0.04, leakShare: 0.03 },
  store: { kind: "rock", volumeM3: 2, lengthM: 1.6, stoneM: 0.03, voidShare: 0.42, lossWK: 5, inRoom: false },
  modes: [
    ...Array<"heatAndCharge">(5).fill("heatAndCharge"),
    ...Array<"off">(3).fill("off"),
    ...Array<"heatAndCharge">(4).fill("heatAndCharge"),
  ],
  money: MONEY,
  panels: { efficiency: 0.2, performance: 0.8, cop: 1, costPerM2: 160, other: 450 },
};

/** Two boxes upright on the loft's wall, with the mirror that was tried at their feet. */
export const MIRROR_SEASON: ApplyInput = {
  use: LOFT,
  rows: [{ inSeries: 1, sideBySide: 2, tilt: 55, azimuth: 180 }],
  control: { kind: "thermostat", onC: 32, offC: 24 },
  pipes: { lengthM: 2, diameterM: 0.16, insulationM: 0.04, leakShare: 0.03 },
  mirror: { lane: "A", box: "B", snow: [11, 0, 1], toleranceDeg: 5, aboveK: 30, riseK: 20 },
  money: MONEY,
};

/** Wash water: coils on the wall, a hose to the tank under the stairs. */
export const WASH_SEASON: ApplyInput = {
  use: {
    kind: "hotWater",
    litresADay: 120,
    coldWinterC: 5,
    coldSummerC: 13,
    wantedC: 40,
    capC: 75,
    draw: "evening",
  },
  rows: [{ inSeries: 1, sideBySide: 2, tilt: 45, azimuth: 180 }],
  control: { kind: "difference", onK: 7, offK: 2 },
  pipes: { lengthM: 9, diameterM: 0.02, insulationM: 0.013, leakShare: 0 },
  store: { kind: "water", kg: 160, lossWK: 2.2, exchangeWK: null, inRoom: false },
  money: { ...MONEY, other: 320, renewals: [{ name: "hose", cost: 90, everyYears: 7 }] },
};
