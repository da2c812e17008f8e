import fc from "fast-check";
import { ROOM, seasonSystem, WATER, weather } from "../../../scripts/testing/seasonWorld";
import { yearOf } from "./account";
import { effectiveness, onMeanBasis, type Control, type Mode, type HeatingSystem, type Use } from "./parts";
import { stepRoom } from "./room";
import { EVAPORATION } from "./drying";
import { needOf, panelsCandidate, seasonOf, systemOf, withoutBoxes, type Candidate, type Scenario } from "./season";
import { simulateYear } from "./simulate";
import { addHeat, heldHeat, loseHeat, passThrough, rockPressure, storeOf, take, type StoreSpec } from "./store";
import { HOURS } from "./weather";

const FRESH: Use = { kind: "freshAir", flowWK: 120, setC: 18, fromHour: 6, toHour: 20 };
const DRY: Use = {
  kind: "drying",
  flowKgS: 0,
  waterKg: Array<number>(12).fill(20),
  pickUp: 0.5,
  humidity: 0.7,
  pressurePa: 88500,
  capC: 60,
};
const TANK: StoreSpec = { kind: "water", kg: 300, lossWK: 2, exchangeWK: null, inRoom: false };
const ROCK: StoreSpec = {
  kind: "rock",
  volumeM3: 2,
  lengthM: 1.6,
  stoneM: 0.03,
  voidShare: 0.42,
  lossWK: 4,
  inRoom: false,
};
const STORES: StoreSpec[] = [
  { kind: "none" },
  TANK,
  { kind: "bottles", count: 60, litresEach: 10, diameterM: 0.2, lossWK: 3, inRoom: true },
  ROCK,
  { kind: "slab", areaM2: 30, thicknessM: 0.1, exchangeWK: 300, lossWK: 12 },
  { kind: "latent", kg: 400, meltC: 29, heatJPerKg: 190_000, exchangeWK: 250, lossWK: 4, inRoom: false },
];
const CONTROLS: Control[] = [
  { kind: "difference", onK: 8, offK: 3 },
  { kind: "thermostat", onC: 38, offC: 30 },
  { kind: "sun" },
];

const system = seasonSystem;
const year = (over: Partial<HeatingSystem> = {}, areaM2 = 8) => simulateYear(system(over, areaM2), weather)!;

describe("a year's account", () => {
  test("closes for every use, store and control, to far less than a thousandth", () => {
    for (const store of STORES)
      for (const control of CONTROLS) expect(Math.abs(year({ store, control }).imbalance)).toBeLessThan(1e-9);
    for (const use of [FRESH, DRY]) expect(Math.abs(year({ use }).imbalance)).toBeLessThan(1e-9);
    for (const control of CONTROLS)
      expect(Math.abs(year({ use: WATER, store: TANK, control }).imbalance)).toBeLessThan(1e-9);
    expect(Math.abs(year({ use: WATER, store: TANK, exchanger: 0.6 }).imbalance)).toBeLessThan(1e-9);
  }, 60000);

  test("no sun, no heat; modes that are off bring none", () => {
    const dark = new Float64Array(HOURS);
    const rows = system().rows.map((r) => ({ ...r, light: dark, plainLight: dark }));
    expect(yearOf(year({ rows }).account.collected)).toBe(0);
    expect(yearOf(year({ modes: Array<Mode>(12).fill("off") }).account.collected)).toBe(0);
    const winterOnly = year({ modes: Array.from({ length: 12 }, (_, m): Mode => (m < 3 ? "heat" : "off")) }).account;
    expect(yearOf(winterOnly.collected)).toBeCloseTo(
      winterOnly.collected.slice(0, 3).reduce((a, b) => a + b, 0),
      9,
    );
  });

  test("more area is never less useful heat, and never more than the light on it", () => {
    for (const store of [STORES[0], ROCK]) {
      let before = Infinity;
      for (const area of [2, 4, 8, 16]) {
        const { account } = year({ store }, area);
        const missing = yearOf(account.missing);
        expect(missing).toBeLessThan(before + 1);
        before = missing;
        expect(yearOf(account.collected)).toBeLessThan(yearOf(account.light));
      }
    }
  });

  test("without loss anywhere, what is collected is let out or kept", () => {
    const rows = system().rows.map((r) => ({ ...r, curve: { eta0: 0.6, a1: 0.05, a2: 0 } }));
    const { account } = year({
      rows,
      use: { ...ROOM, lossWK: 1e-9, setC: 19.5, capC: 20, gainsW: 0, sunM2: 0 },
      run: { supplyWK: 0, returnWK: 0, leakShare: 0 },
    });
    expect(yearOf(account.vented) / yearOf(account.collected)).toBeCloseTo(1, 2);
  });

  test("a progress that says stop stops", () => {
    let asked = 0;
    expect(simulateYear(system(), weather, () => ++asked > 2)).toBeNull();
    expect(asked).toBe(3);
  });

  test("a fan on its own panel stands still in haze while the box is hot, and then only", () => {
    const weak = year({ control: CONTROLS[2], panel: { fullWm2: 900, startWm2: 250, tracked: true } });
    const strong = year({ control: CONTROLS[2], panel: { fullWm2: 300, startWm2: 20, tracked: true } });
    expect(weak.stuck).toBeGreaterThan(30);
    expect(strong.stuck).toBe(0);
  });

  test("a thermostat pair that neither state can hold hunts; a wide pair below does not", () => {
    const tight = year({ control: { kind: "thermostat", onC: 50, offC: 48 } });
    const wide = year({ control: { kind: "thermostat", onC: 30, offC: 18 } });
    expect(tight.hunting).toBeGreaterThan(20 * Math.max(1, wide.hunting));
  });

  test("boxes that may not run grow hotter than boxes that do, and are counted over their limit", () => {
    const still = year({ modes: Array<Mode>(12).fill("off"), limitC: 70 });
    expect(still.hottestBoxC).toBeGreaterThan(year({ limitC: 70 }).hottestBoxC + 30);
    expect(still.overLimit).toBeGreaterThan(0);
  });

  test("a greenhouse that nothing heats: boxes with bottles make fewer frost hours", () => {
    const house = { ...ROOM, heated: false, setC: 2, capC: 28, sunM2: 6, lossWK: 90 };
    const bare = year({ use: house, modes: Array<Mode>(12).fill("off") });
    const warmed = year({ use: house, store: STORES[2] });
    expect(bare.coldHours).toBeGreaterThan(100);
    expect(warmed.coldHours).toBeLessThan(bare.coldHours);
    expect(warmed.lowestC).toBeGreaterThan(bare.lowestC);
  });
});

describe("rooms", () => {
  test("air and mass cool as the two exponentials of their equations", () => {
    const use = {
      ...ROOM,
      gainsW: 0,
      sunM2: 0,
      setC: -99,
      capC: 99,
      airJK: 2e6,
      massJK: 8e6,
      lossWK: 100,
      joinWK: 300,
    };
    const state = { airC: 20, massC: 20, heater: 0, vented: 0, offered: 0, loss: 0 };
    for (let s = 0; s < 6 * 3600; s += 10) stepRoom(use, state, 0, 0, 10);
    // Eigenvalues of the 2 × 2 system, in 1/s.
    const [a, b, c, d] = [-(100 + 300) / 2e6, 300 / 2e6, 300 / 8e6, -300 / 8e6];
    const root = Math.sqrt((a - d) ** 2 + 4 * b * c);
    const [l1, l2] = [(a + d + root) / 2, (a + d - root) / 2];
    // x(t) = p·v1·e^(l1·t) + q·v2·e^(l2·t), with v = (b, l − a).
    const q = (20 * (l1 - a) - 20 * b) / (b * (l1 - a) - b * (l2 - a));
    const p = 20 / b - q;
    const t = 6 * 3600;
    expect(state.airC).toBeCloseTo(b * (p * Math.exp(l1 * t) + q * Math.exp(l2 * t)), 1);
    expect(state.massC).toBeCloseTo(p * (l1 - a) * Math.exp(l1 * t) + q * (l2 - a) * Math.exp(l2 * t), 1);
  });
  test("held by its heater it takes loss × difference; above its cap it lets the rest out", () => {
    const state = { airC: 16, massC: 16, heater: 0, vented: 0, offered: 0, loss: 0 };
    for (let k = 0; k < 200; k++) stepRoom(ROOM, state, 0, 0, 600);
    expect(state.heater).toBeCloseTo(180 * 16, 6);
    for (let k = 0; k < 2000; k++) stepRoom(ROOM, state, 10, 10000, 600);
    expect(state.airC).toBeCloseTo(24, 9);
    expect(state.vented).toBeCloseTo(10000 - 180 * 14, 3);
    stepRoom(ROOM, state, 0, 0, 600, 0);
    const held = { ...state, airC: 16, massC: 16 };
    stepRoom(ROOM, held, 0, 0, 600, 1000);
    expect(held.offered).toBe(1000);
    expect(held.heater).toBeCloseTo(180 * 16 - 1000, 0);
  });
});

describe("stores", () => {
  test("a mixed tank warms and cools as its exponential", () => {
    const tank = storeOf(TANK, 60, 0.05)!;
    for (let s = 0; s < 24 * 3600; s += 600) loseHeat(tank, 10, 600);
    expect(tank.temperatures[0]).toBeCloseTo(10 + 50 * Math.exp((-2 * 24 * 3600) / (300 * 4186)), 6);
  });
  test("what is put in is what is held, through melting and back", () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -4e7, max: 6e7, noNaN: true }), { minLength: 1, maxLength: 20 }),
        (heats) => {
          for (const spec of STORES.slice(1).filter((x) => x.kind !== "rock")) {
            const store = storeOf(spec, 20, 0.1)!;
            const before = heldHeat(store);
            for (const h of heats) addHeat(store, h);
            const sum = heats.reduce((a, b) => a + b, 0);
            expect(heldHeat(store) - before).toBeCloseTo(sum, -1);
          }
        },
      ),
    );
    const salt = storeOf(STORES[5], 20, 0.1)!;
    addHeat(salt, 400 * 2000 * 9 + 400 * 95_000);
    expect(salt.temperatures[0]).toBeCloseTo(29, 9);
  });
  test("a rock bin stratifies: hot where the stream enters, and the stream leaves cold", () => {
    const bin = storeOf(ROCK, 15, 0.1)!;
    for (let k = 0; k < 30; k++) {
      passThrough(bin, 50, 100, 600);
      take(bin);
    }
    expect(bin.temperatures[0]).toBeGreaterThan(45);
    expect(bin.temperatures.at(-1)!).toBeLessThan(25);
    for (let i = 1; i < bin.temperatures.length; i++)
      expect(bin.temperatures[i]).toBeLessThanOrEqual(bin.temperatures[i - 1] + 1e-9);
    expect(passThrough(bin, 15, 100, 1, true)).toBeGreaterThan(45);
  });
  test("Ergun's loss of a bed: laminar and inertial parts by hand", () => {
    const rock = ROCK as Extract<StoreSpec, { kind: "rock" }>;
    const v = (0.2 * 1.6) / (2 * 1.2);
    const by =
      (150 * 1.8e-5 * v * 0.58 ** 2) / (0.42 ** 3 * 0.03 ** 2) + (1.75 * 1.2 * v * v * 0.58) / (0.42 ** 3 * 0.03);
    expect(rockPressure(rock, 0.2, { density: 1.2, viscosity: 1.8e-5 })).toBeCloseTo(1.6 * by, 9);
  });
});

describe("curves and exchangers", () => {
  test("an inlet curve turned to the mean basis gives the same heat", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.5, max: 8, noNaN: true }),
        fc.double({ min: 10, max: 60, noNaN: true }),
        (a1, flow) => {
          const inlet = { eta0: 0.7, a1, a2: 0 };
          const mean = onMeanBasis(inlet, flow)!;
          const [G, dT] = [800, 15];
          const q = inlet.eta0 * G - a1 * dT;
          expect(mean.eta0 * G - mean.a1 * (dT + q / (2 * flow))).toBeCloseTo(q, 9);
        },
      ),
    );
    expect(onMeanBasis({ eta0: 0.7, a1: 20, a2: 0 }, 10)).toBeNull();
  });
  test("counterflow effectiveness at its limits", () => {
    expect(effectiveness(1, 1)).toBeCloseTo(0.5, 12);
    expect(effectiveness(2, 0)).toBeCloseTo(1 - Math.exp(-2), 12);
    expect(effectiveness(1, 1 - 1e-7)).toBeCloseTo(0.5, 6);
    expect(effectiveness(50, 0.5)).toBeCloseTo(1, 9);
  });
});

const CANDIDATE: Candidate = {
  key: "A",
  name: "box",
  origin: "curve",
  curve: { eta0: 0.6, a1: 5, a2: 0 },
  covariance: [
    [1e-4, 5e-3, 0],
    [5e-3, 0.36, 0],
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
const scenario = (over: Partial<Scenario> = {}): Scenario => ({
  rows: [{ inSeries: 1, sideBySide: 4, light: weather.global, plainLight: weather.global }],
  secondStage: null,
  control: CONTROLS[0],
  panel: null,
  run: { supplyWK: 1, returnWK: 1, leakShare: 0 },
  exchanger: null,
  pumpW: 0,
  path: [{ ductW: 0, bedW: 0 }],
  use: ROOM,
  store: { kind: "none" },
  modes: Array<Mode>(12).fill("heatAndCharge"),
  ...over,
});

describe("variants side by side", () => {
  const base = withoutBoxes(scenario(), weather);
  const season = (c: Partial<Candidate> = {}, over: Partial<Scenario> = {}) =>
    seasonOf({ ...CANDIDATE, ...c }, scenario(over), weather, base)!;
  test("months add up to what was brought, and useful heat is what the heater was spared", () => {
    const s = season();
    s.months.forEach((m, i) => {
      const brought = s.year.account.toUse[i] + s.year.account.toStore[i];
      expect(m.useful + m.stored + m.surplus + m.vented).toBeCloseTo(brought, 6);
    });
    expect(s.useful).toBeCloseTo(yearOf(base.account.missing) - yearOf(s.year.account.missing), 6);
    expect(s.useful).toBeGreaterThan(100);
    expect(s.share).toBeLessThan(1);
  });
  test("the band is the curve's: by drawing curves from the covariance the same spread comes out", () => {
    const s = season();
    const up = season({ curve: { eta0: 0.6 + 0.01, a1: 5 + 0.5, a2: 0 }, covariance: null });
    expect(s.usefulSd).toBeGreaterThan(0);
    // Along their shared direction η0 and a1 half make up for one another.
    const alone = season({
      covariance: [
        [1e-4, 0, 0],
        [0, 0.36, 0],
        [0, 0, 0],
      ],
    });
    expect(alone.usefulSd).toBeGreaterThan(s.usefulSd);
    expect(Math.abs(up.useful - s.useful)).toBeLessThan(2 * s.usefulSd);
  });
  test("two in series are one of twice the area on the same stream; longer rows take less of the flow", () => {
    const one = systemOf(CANDIDATE, scenario({ rows: [{ ...scenario().rows[0], inSeries: 2, sideBySide: 1 }] }));
    expect(one.rows[0].areaM2).toBe(4);
    expect(one.stages[0].flowWK).toBe(40);
    const two = systemOf(
      CANDIDATE,
      scenario({
        rows: [
          { ...scenario().rows[0], inSeries: 4, sideBySide: 1 },
          { ...scenario().rows[0], sideBySide: 1 },
        ],
      }),
    );
    expect(two.rows.map((r) => r.flowShare)).toEqual([1 / 3, 2 / 3].map((v) => expect.closeTo(v, 9)));
  });
  test("panels bring what they make, whatever the temperature", () => {
    const c = panelsCandidate(10, 0.2, 0.8, 1);
    const s = seasonOf(
      c,
      scenario({
        control: { kind: "difference", onK: 0.5, offK: 0.1 },
        run: { supplyWK: 0, returnWK: 0, leakShare: 0 },
        rows: [{ ...scenario().rows[0], sideBySide: 1 }],
      }),
      weather,
      base,
    )!;
    const made = (yearOf(Float64Array.from(weather.global)) / 1000) * 10 * 0.16;
    expect(yearOf(s.year.account.collected) / made).toBeGreaterThan(0.97);
    expect(yearOf(s.year.account.collected) / made).toBeLessThan(1.001);
  });
});

describe("drying is credited with what heat adds to the same air", () => {
  const base = withoutBoxes(scenario({ use: DRY }), weather);
  const dried = (use: Partial<typeof DRY>) => {
    const s = scenario({ use: { ...DRY, ...use } as Use });
    return seasonOf({ ...CANDIDATE, covariance: null }, s, weather, withoutBoxes(s, weather))!;
  };
  const total = (kg: Float64Array) => kg.reduce((a, b) => a + b, 0);
  const boundless = { waterKg: Array<number>(12).fill(1e6) };

  test("useful is the difference to unheated air, and with what lacks never more than all the water takes", () => {
    for (const humidity of [0.1, 0.5, 0.89, 1]) {
      const s = dried({ humidity });
      const { driedKg, driedPlainKg } = s.year;
      expect(total(driedPlainKg)).toBeLessThanOrEqual(total(driedKg) + 1e-9);
      expect(s.useful).toBeCloseTo(((total(driedKg) - total(driedPlainKg)) * EVAPORATION) / 3.6e6, 6);
      expect(s.useful + s.missing).toBeLessThanOrEqual(s.need + 1e-9);
      expect(s.need).toBeCloseTo((20 * 365 * EVAPORATION) / 3.6e6, 6);
      expect(s.months.reduce((n, m) => n + m.useful + m.stored + m.vented + m.surplus, 0)).toBeCloseTo(
        yearOf(s.year.account.toUse) + yearOf(s.year.account.toStore),
        6,
      );
    }
    expect(needOf(DRY, base).reduce((a, b) => a + b, 0)).toBeCloseTo((20 * 365 * EVAPORATION) / 3.6e6, 6);
  });
  test("saturated air dries nothing unheated; the drier the air, the less the boxes are credited with", () => {
    expect(total(dried({ humidity: 1 }).year.driedPlainKg)).toBeLessThan(
      0.35 * total(dried({ humidity: 1 }).year.driedKg),
    );
    const credited = [1, 0.8, 0.5, 0.2].map((humidity) => dried({ humidity }).useful);
    credited.slice(1).forEach((u, i) => expect(u).toBeLessThan(credited[i]));
  });
  test("while there is water enough, a better use of the air brings more, in proportion", () => {
    const [some, twice] = [0.3, 0.6].map((pickUp) => dried({ ...boundless, pickUp }).useful);
    expect(twice / some).toBeCloseTo(2, 6);
  });
});
