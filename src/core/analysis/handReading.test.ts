import { bench, day } from "../../../scripts/testing/threeLanes";
import { cfmConstant } from "../fluids/moistAir";
import { compareTested } from "../judge/pairs";
import { ratioOf } from "../judge/tested";
import { seededRandom } from "../random/seededRandom";
import { simulateBench } from "../rig/bench";
import { clearSkyInPlane } from "../sun/clearSky";
import { standardUncertainty } from "../uncertainty/uncertain";
import { compareRounds, handReadings, roundsOf, type HandRow } from "./handReading";
import { emptyRecord } from "./heatRecord";
import { implausibleByHand } from "./implausibleByHand";
import { quickHeat } from "./quickReading";
import type { RunSetup } from "./setup";

const MINUTE = 60000;
const NOON = Date.UTC(2026, 9, 6, 10, 40);
const [made] = simulateBench(bench(5, { runs: [{ run: "1", days: [day(6)], stations: { A: 1, B: 2, C: 3 } }] }));
const meter = { key: "carried", at: "outlet", limitShare: 0.05, limitFixed: 0 } as const;
const thermometer = { key: "thermometer", limitK: 1, resolutionK: 0.1 };
/** Two boxes, one thermometer and one vane carried between them. */
const setup: RunSetup = {
  ...made.setup,
  byHand: true,
  lanes: made.setup.lanes.slice(0, 2).map((l) => ({
    ...l,
    inletProbe: thermometer,
    outletProbe: thermometer,
    flow: {
      kind: "speed",
      duct: { kind: "round", diameterM: 0.125 },
      ductLimitM: 0,
      profileFactor: 0.86,
      profileLimit: 0.04,
      meter,
    },
  })),
};
const row = (minute: number, lane: string, change: Partial<HandRow> = {}): HandRow => ({
  atMs: NOON + minute * MINUTE,
  lane,
  inletC: 18,
  outletC: 40,
  flow: 3.5,
  irradianceWm2: NaN,
  ambientC: NaN,
  ...change,
});
const compared = (rows: readonly HandRow[], own = setup) => {
  const readings = handReadings(own, rows);
  const { rounds, alone } = compareRounds(own, readings);
  const { pairs } = compareTested({
    lanes: own.lanes.map(({ lane, variant, fluid }) => ({ lane, variant, fluid })),
    heats: rounds,
    smallestDifference: 15,
    stationShare: 0,
  });
  return { readings, rounds, alone, pairs };
};

describe("a row read by hand", () => {
  test("is the heat a quick reading gives", () => {
    const [reading] = handReadings(setup, [row(0, "A")]);
    const quick = quickHeat({
      inletC: 18,
      outletC: 40,
      speedMs: 3.5,
      diameterM: 0.125,
      pressurePa: setup.pressurePa,
      relativeHumidity: setup.relativeHumidity,
      probeLimitK: 1,
      speedLimitShare: 0.05,
      profileFactor: 0.86,
      profileLimit: 0.04,
    });
    // The vapour of 50 % at 18 °C is 15 % at 40 °C: a few tenths of a per cent in density.
    expect(reading.heat.value / quick.heat.value).toBeGreaterThan(0.99);
    expect(reading.heat.value / quick.heat.value).toBeLessThan(1.01);
  });
  test("with its sun it is an efficiency; without outlet or flow it gives nothing", () => {
    const [lit] = handReadings(setup, [row(0, "A", { irradianceWm2: 800 })]);
    expect(lit.efficiency!.value).toBeCloseTo(lit.heat.value / (800 * setup.lanes[0].areaM2), 9);
    expect(handReadings(setup, [row(0, "A")])[0].efficiency).toBeNull();
    expect(handReadings(setup, [row(0, "A", { outletC: NaN }), row(1, "B", { flow: NaN }), row(2, "X")])).toEqual([]);
  });
  test("one thermometer's offset half cancels in the rise, and wholly between boxes", () => {
    const own = { ...setup, lanes: setup.lanes.map((l) => ({ ...l, outletProbe: { ...thermometer, key: "other" } })) };
    const u = (s: RunSetup) => standardUncertainty(handReadings(s, [row(0, "A")])[0].rise);
    expect(u(setup) / u(own)).toBeCloseTo(Math.SQRT1_2, 2);
    const rows = [0, 1, 2].flatMap((k) => [row(10 * k, "A"), row(10 * k, "B")]);
    const each = {
      ...setup,
      lanes: setup.lanes.map((l) => ({
        ...l,
        inletProbe: { ...thermometer, key: `in${l.lane}` },
        outletProbe: { ...thermometer, key: `out${l.lane}` },
      })),
    };
    expect(compared(rows).pairs[0].expanded).toBeLessThan(compared(rows, each).pairs[0].expanded / 3);
  });
});

describe("rounds", () => {
  const order = (letters: string) =>
    roundsOf(
      handReadings(
        setup,
        [...letters].map((l, i) => row(2 * i, l)),
      ),
      2,
    ).map((r) => r.map((x) => x.lane).join(""));
  test("end when every lane was read", () => {
    expect(order("ABABAB")).toEqual(["AB", "AB", "AB"]);
    expect(order("ABBAAB")).toEqual(["AB", "BA", "AB"]);
    expect(order("AAABBB")).toEqual(["AAABBB"]);
    expect(order("ABA")).toEqual(["ABA"]);
    expect(order("AA")).toEqual(["AA"]);
  });
  test("end after twenty minutes; who was read alone is counted, not compared", () => {
    const { rounds, alone } = compared([row(0, "A"), row(25, "B"), row(30, "A")]);
    expect(alone).toBe(1);
    expect(rounds.map((r) => r.lane).sort()).toEqual(["A", "B"]);
  });
  test("with sun, heats are brought to one sun: a cloud between two rows makes no difference", () => {
    const cloudy = [0, 1, 2].flatMap((k) => [
      row(10 * k, "A", { irradianceWm2: 800 }),
      row(10 * k + 4, "B", { irradianceWm2: 400, outletC: 29 }),
    ]);
    const { pairs } = compared(cloudy);
    // Half the rise at half the sun, but for the density at the meter.
    expect(ratioOf(pairs[0]).ratio).toBeCloseTo(1, 1);
  });
  test("without, they follow the clear sky; read back and forth its change cancels from the ±", () => {
    const later = NOON + 4 * 3600000;
    const sun = (minute: number) => clearSkyInPlane(later + minute * MINUTE, setup.place, setup.plane, 3).total;
    const at = (minute: number, lane: string): HandRow => ({
      ...row(minute, lane, { outletC: 18 + (22 * sun(minute)) / sun(0) }),
      atMs: later + minute * MINUTE,
    });
    const there = compared([0, 1, 2, 3].flatMap((k) => [at(12 * k, "A"), at(12 * k + 6, "B")]));
    const back = compared([
      at(0, "A"),
      at(6, "B"),
      at(27, "B"),
      at(33, "A"),
      at(54, "A"),
      at(60, "B"),
      at(81, "B"),
      at(87, "A"),
    ]);
    expect(ratioOf(there.pairs[0]).ratio).toBeCloseTo(1, 1);
    const apart = ({ pairs }: typeof there) =>
      [...pairs[0].difference.parts.values()].find((p) => p.source.kind === "readApart")!;
    expect(Math.abs(apart(back).standard)).toBeLessThan(0.3 * Math.abs(apart(there).standard));
  });
  test("a true difference is found, and 95 % intervals hold what they promise", () => {
    const random = seededRandom(81);
    let held = 0;
    const trials = 400;
    for (let k = 0; k < trials; k++) {
      const offset = (2 * random.uniform() - 1) * Math.SQRT1_2;
      const own = (2 * random.uniform() - 1) * Math.SQRT1_2;
      const gain = 1 + 0.05 * (2 * random.uniform() - 1);
      const rows = [0, 1, 2, 3, 4].flatMap((r) =>
        (["A", "B"] as const).map((lane) => {
          const rise = lane === "A" ? 24 : 20;
          const noise = 0.2 * random.normal();
          return row(8 * r, lane, { inletC: 18 + offset, outletC: 18 + rise + offset + own + noise, flow: 3.5 * gain });
        }),
      );
      const { low, high } = ratioOf(compared(rows).pairs[0]);
      const truth = 24 / 20 / (1 + 4 / 311);
      if (low <= truth && truth <= high) held++;
    }
    expect(held / trials).toBeGreaterThan(0.92);
    expect(held / trials).toBeLessThanOrEqual(1);
  });
});

describe("what a sheet says that cannot be", () => {
  const found = (rows: readonly HandRow[]) => {
    const readings = handReadings(setup, rows);
    return implausibleByHand(setup, { ...emptyRecord(), readings, rounds: compareRounds(setup, readings).rounds }).map(
      (f) => f.kind,
    );
  };
  test("a plain sheet says nothing odd", () => expect(found([row(0, "A"), row(4, "B")])).toEqual([]));
  test("in and out exchanged", () => expect(found([row(0, "A", { inletC: 40, outletC: 18 })])).toContain("coolsByDay"));
  test("no rise", () => expect(found([row(0, "A", { outletC: 18.1 })])).toContain("noRiseInSun"));
  test("feet a minute taken as metres a second", () =>
    expect(found([row(0, "A", { flow: 3.5 * 196.85 })])).toContain("flowOdd"));
  test("more heat than light", () =>
    expect(found([row(0, "A", { outletC: 90, irradianceWm2: 500 })])).toContain("efficiencyAboveLimit"));
  test("one row that is far from those around it, and no other box saw a cloud", () => {
    const sheet = (odd: number, beside = 33) => [
      ...[0, 10, 20, 30].map((m) => row(m, "A", { outletC: m === 20 ? odd : 40 })),
      ...[4, 14, 24, 34].map((m) => row(m, "B", { outletC: m === 24 ? beside : 33 })),
    ];
    expect(found(sheet(40))).toEqual([]);
    expect(found(sheet(31))).toEqual(["rowOff"]);
    // A cloud took from both.
    expect(found(sheet(31, 27))).toEqual([]);
  });
  test("at night", () => expect(found([row(720, "A"), row(724, "B")])).toContain("heatAtNight"));
});

test("the trade's constant is 1.08 at sea level and less on a hill", () => {
  expect(cfmConstant({ temperatureC: 21, pressurePa: 101325, relativeHumidity: 0 })).toBeCloseTo(1.08, 2);
  expect(cfmConstant({ temperatureC: 21, pressurePa: 88570, relativeHumidity: 0 })).toBeCloseTo(1.08 * 0.874, 2);
});
