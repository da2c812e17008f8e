import fc from "fast-check";
import { ROOM, seasonSystem, WATER, weather } from "../../../scripts/testing/seasonWorld";
import { yearOf } from "./account";
import { stepRow } from "./collectorStep";
import type { Field, Mode, HeatingSystem, Use } from "./parts";
import { stepRoom, type RoomState } from "./room";
import { STEP } from "./run";
import { simulateYear } from "./simulate";
import { heldHeat, passThrough, storeOf, take, type StoreSpec } from "./store";
import { runSwitch } from "./thermostat";

// A simulation that steps through time agrees with itself at a tenth of its step, keeps every node within what surrounds it,
// and closes its account: over the whole range that forms and solver can reach.

const within = (min: number, max: number) => fc.double({ min, max, noNaN: true });
/** Over decades. */
const decades = (min: number, max: number) => within(Math.log10(min), Math.log10(max)).map((e) => 10 ** e);

const rock = (volumeM3: number, lengthM: number, stoneM: number): StoreSpec => ({
  kind: "rock",
  volumeM3,
  lengthM,
  stoneM,
  voidShare: 0.42,
  lossWK: 0,
  inRoom: false,
});
const anyStore: fc.Arbitrary<StoreSpec> = fc.oneof(
  fc.record({
    kind: fc.constant("water" as const),
    kg: decades(0.2, 50_000),
    lossWK: within(0, 10),
    exchangeWK: fc.option(decades(5, 5000)),
    inRoom: fc.boolean(),
  }),
  fc.tuple(decades(0.001, 50), within(0.3, 4), within(0.01, 0.15)).map(([v, l, d]) => rock(v, l, d)),
  fc.record({
    kind: fc.constant("latent" as const),
    kg: decades(1, 5000),
    meltC: within(20, 60),
    heatJPerKg: within(5e4, 3e5),
    exchangeWK: decades(10, 3000),
    lossWK: within(0, 10),
    inRoom: fc.boolean(),
  }),
);

describe("a stream through a store", () => {
  test("no node leaves the range between where it was and the stream, and both exchange the same heat, at any size", () =>
    fc.assert(
      fc.property(
        anyStore,
        within(-10, 120),
        within(-10, 120),
        decades(1, 20_000),
        decades(1, 36_000),
        fc.boolean(),
        (spec, startC, inletC, mcp, seconds, reverse) => {
          const store = storeOf(spec, startC, mcp / 1006)!;
          const before = heldHeat(store);
          const outletC = passThrough(store, inletC, mcp, seconds, reverse);
          take(store);
          const [low, high] = [Math.min(startC, inletC) - 1e-6, Math.max(startC, inletC) + 1e-6];
          for (const t of [...store.temperatures, outletC]) {
            expect(t).toBeGreaterThanOrEqual(low);
            expect(t).toBeLessThanOrEqual(high);
          }
          const given = mcp * seconds * (inletC - outletC);
          expect(Math.abs(heldHeat(store) - before - given)).toBeLessThan(
            1e-6 * (1 + Math.abs(given) + Math.abs(before)),
          );
        },
      ),
      { numRuns: 400 },
    ));

  test("a bin charged for six hours holds the same as in steps a tenth as long, from a barrow of stones to a cellar", () =>
    fc.assert(
      fc.property(decades(0.5, 20), within(0.8, 2.5), within(0.02, 0.08), decades(20, 1000), (v, l, d, mcp) => {
        const charged = (stepS: number) => {
          const store = storeOf(rock(v, l, d), 15, mcp / 1006)!;
          const start = heldHeat(store);
          for (let s = 0; s < 6 * 3600; s += stepS) {
            passThrough(store, 45, mcp, stepS);
            take(store);
          }
          return heldHeat(store) - start;
        };
        const [coarse, fine] = [charged(STEP), charged(STEP / 10)];
        expect(Math.abs(coarse / fine - 1)).toBeLessThan(0.01);
      }),
      { numRuns: 60 },
    ));
});

describe("boxes in series", () => {
  const field = (n: number): Field => ({
    areaM2: 2 * n,
    inSeries: n,
    curve: { eta0: 0.7, a1: 6, a2: 0.01 },
    capacityJK: 2 * n * 8000,
    light: new Float64Array(),
    plainLight: new Float64Array(),
    flowShare: 1,
  });
  /** Steady under 900 W/m² at 10 °C outside. */
  const steady = (n: number, flowWK: number, share = 1) => {
    const [before, after] = [new Float64Array(n).fill(10), new Float64Array(n)];
    let found = { takenW: 0, supplyC: 0, returnC: 0 };
    for (let k = 0; k < 400; k++) {
      found = stepRow(field(n), before, after, { light: 900, outsideC: 10, flowWK, duty: 1, share, sinkC: 15 }, 600);
      before.set(after);
    }
    return { ...found, boxes: before };
  };

  test("go box by box: each takes the stream as the one before leaves it, and none is hotter than without flow", () => {
    const stagnation = 10 + (2 * 0.7 * 900) / (6 + Math.sqrt(36 + 4 * 0.01 * 0.7 * 900));
    for (const n of [1, 2, 5, 10, 50]) {
      const { takenW, supplyC, returnC, boxes } = steady(n, 40);
      expect(supplyC).toBeLessThan(stagnation);
      expect(takenW).toBeCloseTo(40 * (supplyC - returnC), 6);
      let s = returnC;
      let sum = 0;
      for (const b of boxes) {
        const gain = 2 * (0.7 * 900 - (6 + 0.01 * (b - 10)) * (b - 10));
        expect(80 * (b - s)).toBeCloseTo(gain, 2);
        sum += gain;
        s = 2 * b - s;
      }
      expect(takenW).toBeCloseTo(sum, 1);
      for (let k = 1; k < n; k++) expect(boxes[k]).toBeGreaterThan(boxes[k - 1]);
    }
  });
  test("ten in series bring less than ten times one, and ten by one lump would have promised more", () => {
    const [one, ten] = [steady(1, 40).takenW, steady(10, 40).takenW];
    expect(ten).toBeLessThan(10 * one);
    expect(ten).toBeGreaterThan(one);
  });
  test("behind an exchanger the boxes run warmer, by what it does not give", () => {
    const behind = steady(3, 60, 0.6);
    expect(behind.returnC).toBeCloseTo(0.4 * behind.supplyC + 0.6 * 15, 9);
    expect(behind.takenW).toBeCloseTo(0.6 * 60 * (behind.supplyC - 15), 6);
    expect(behind.takenW).toBeLessThan(steady(3, 60).takenW);
  });
});

describe("a room over a slab", () => {
  test("follows it without overshoot, however large: no step lets out heat that nobody brought", () =>
    fc.assert(
      fc.property(decades(1, 3000), within(10, 40), within(-15, 15), (areaM2, slabC, outsideC) => {
        const use: Extract<Use, { kind: "room" }> = {
          ...{ kind: "room", lossWK: 150, airJK: 6e5, massJK: 1e7, joinWK: 1400, gainsW: 0, sunM2: 0 },
          ...{ setC: -50, capC: 200, heated: false },
        };
        const room: RoomState = { airC: 18, massC: 18, heater: 0, vented: 0, offered: 0, loss: 0 };
        const warm = { capacityJK: areaM2 * 0.1 * 2200 * 880, joinWK: 10.8 * areaM2, temperatureC: slabC };
        for (let k = 0; k < 20; k++) {
          const given = stepRoom(use, room, outsideC, 0, 600, 0, warm);
          warm.temperatureC -= (given * 600) / warm.capacityJK;
          const [low, high] = [Math.min(18, slabC, outsideC) - 1e-9, Math.max(18, slabC, outsideC) + 1e-9];
          for (const t of [room.airC, room.massC, warm.temperatureC]) {
            expect(t).toBeGreaterThanOrEqual(low);
            expect(t).toBeLessThanOrEqual(high);
          }
        }
      }),
    ));
});

const CAPPED: Use = { ...WATER, capC: 70 };
const system = (areaM2: number, inSeries: number, use: Use, store: StoreSpec): HeatingSystem =>
  seasonSystem({ use, store }, areaM2, inSeries);
const brought = (s: HeatingSystem, stepS?: number) => {
  const year = simulateYear(s, weather, undefined, stepS)!;
  expect(Math.abs(year.imbalance)).toBeLessThan(1e-6);
  return { year, collected: yearOf(year.account.collected), missing: yearOf(year.account.missing) };
};

test("stores of any size: the year closes, nothing is hotter than the boxes without flow, a tank keeps its cap, need is never made", () =>
  fc.assert(
    fc.property(anyStore, decades(2, 200), fc.integer({ min: 1, max: 6 }), fc.boolean(), (store, areaM2, n, water) => {
      const use = water && store.kind === "water" ? CAPPED : ROOM;
      const s = system(areaM2, n, use, store);
      const { year } = brought(s);
      const still = brought({ ...s, modes: Array<Mode>(12).fill("off") }).year;
      expect(year.hottestBoxC).toBeLessThanOrEqual(still.hottestBoxC + 1);
      const hottest = year.trace.storeC.reduce((most, t) => Math.max(most, t), -Infinity);
      expect(hottest).toBeLessThanOrEqual(still.hottestBoxC + 1);
      if (use === CAPPED) expect(hottest).toBeLessThanOrEqual(70.5);
      expect(yearOf(year.account.missing)).toBeGreaterThanOrEqual(-1e-6);
    }),
    { numRuns: 14 },
  ));

test.each<[string, number, number, Use, StoreSpec]>([
  ["a bin of two cubic metres behind 64 m²", 64, 1, ROOM, { ...rock(2, 1.6, 0.03), lossWK: 4 } as StoreSpec],
  ["a bin of half a cubic metre behind 8 m²", 8, 1, ROOM, { ...rock(0.5, 1, 0.03), lossWK: 4 } as StoreSpec],
  ["coarse stones", 32, 2, ROOM, { ...rock(4, 1.6, 0.08), lossWK: 4 } as StoreSpec],
  ["a tank", 8, 2, CAPPED, { kind: "water", kg: 300, lossWK: 2, exchangeWK: 200, inRoom: false }],
  ["a bucket", 8, 1, CAPPED, { kind: "water", kg: 10, lossWK: 0.5, exchangeWK: null, inRoom: false }],
  ["no store", 8, 5, ROOM, { kind: "none" }],
  ["a large slab", 8, 1, ROOM, { kind: "slab", areaM2: 480, thicknessM: 0.1, exchangeWK: 300, lossWK: 12 }],
  [
    "salt hydrate",
    8,
    1,
    ROOM,
    { kind: "latent", kg: 400, meltC: 29, heatJPerKg: 190_000, exchangeWK: 250, lossWK: 4, inRoom: false },
  ],
])("%s: a step a tenth as long agrees within 1 %% of the need", (_, areaM2, n, use, store) => {
  const s = system(areaM2, n, use, store);
  const [coarse, fine] = [brought(s), brought(s, STEP / 10)];
  const need = brought({ ...s, store: { kind: "none" }, modes: Array<Mode>(12).fill("off") }).missing;
  expect(Math.abs(coarse.missing - fine.missing) / need).toBeLessThan(0.01);
});

test("a thermostat's preview: whole cycles, the same at a tenth of the step and from a longer watch", () =>
  fc.assert(
    fc.property(within(30, 60), within(3, 20), within(300, 1000), within(10, 120), (onC, gap, light, lag) => {
      const s = {
        ...{ areaM2: 2, curve: { eta0: 0.7, a1: 5, a2: 0.01 }, capacityJK: 18_000, flowWK: 60, light },
        ...{ outsideC: 5, inletC: 15, onC, offC: onC - gap, sensorLagS: lag, purgeS: 0, limitC: null },
      };
      const [coarse, fine] = [runSwitch(s), runSwitch(s, 0.5)];
      if (coarse.holding !== fine.holding) return;
      expect(Math.abs(coarse.heat - fine.heat)).toBeLessThan(0.03 * fine.heat + 5);
    }),
    { numRuns: 12 },
  ));
