import { applySchema, type ApplySettings } from "./schema";
import { seasonDoubts, type SeasonDoubt } from "./doubts";
import type { SeasonAnswer, SeasonJob } from "./job";
import { answer as answered, CANDIDATE, job, TANK, WASH_WATER } from "../../../scripts/testing/seasonJob";
import { seasonDoubtWords } from "../../words/apply";
import { yearOf } from "./account";
import type { Candidate } from "./season";

const settings = (over: Partial<ApplySettings> = {}): ApplySettings => ({
  ...applySchema.parse({
    use: {
      kind: "room",
      lossWK: 120,
      floorM2: 60,
      build: "light",
      gainsW: 0,
      sunM2: 0,
      setC: 15,
      capC: 25,
      heated: true,
    },
    rows: [{ inSeries: 1, sideBySide: 1, tilt: 60, azimuth: 180 }],
  }),
  ...over,
});
const season = (over: object = {}) =>
  ({
    candidate: { name: "box" },
    usefulSd: 5,
    outsideTested: 0,
    year: { pumpedOutKwh: 0, driedKg: new Float64Array(12), driedPlainKg: new Float64Array(12) },
    ...over,
  }) as unknown as SeasonAnswer["seasons"][number];
const answer = (over: Partial<SeasonAnswer> = {}): SeasonAnswer =>
  ({ seasons: [season()], need: Array<number>(12).fill(400), notes: [], ...over }) as unknown as SeasonAnswer;
const kinds = (a: ApplySettings, r = answer(), latitude = 46) => seasonDoubts(a, latitude, r).map((d) => d.kind);
const room = (over: object) => ({ ...settings().use, ...over }) as ApplySettings["use"];

describe("doubts of a year", () => {
  test("none where nothing is odd", () => expect(kinds(settings())).toEqual([]));
  test("a loss typed for a square metre of floor, and one of a hall", () => {
    expect(kinds(settings({ use: room({ lossWK: 1.5 }) }))).toContain("roomLoss");
    expect(kinds(settings({ use: room({ lossWK: 900 }) }))).toContain("roomLoss");
  });
  test("boxes that look away from the midday sun, in both hemispheres; upright north walls too", () => {
    const facing = (azimuth: number, tilt = 60) => settings({ rows: [{ inSeries: 1, sideBySide: 1, tilt, azimuth }] });
    expect(kinds(facing(0))).toContain("facesAway");
    expect(kinds(facing(90))).toEqual([]);
    expect(kinds(facing(180), answer(), -38)).toContain("facesAway");
    expect(kinds(facing(0), answer(), -38)).toEqual([]);
    expect(kinds(facing(0, 5))).toEqual([]);
  });
  test("a curve used beyond what was tested, and one without ±", () => {
    expect(kinds(settings(), answer({ seasons: [season({ outsideTested: 0.5 })] }))).toEqual(["outsideTested"]);
    expect(kinds(settings(), answer({ seasons: [season({ usefulSd: 0 })] }))).toEqual(["noBand"]);
  });
  test("a tank smaller than a morning, a price of another unit, a panel too weak, nothing to heat", () => {
    const use = { ...WASH_WATER, litresADay: 200, coldWinterC: 5, coldSummerC: 12, wantedC: 40 };
    expect(
      kinds(settings({ use, store: { kind: "water", kg: 50, lossWK: 1, exchangeWK: null, inRoom: false } })),
    ).toEqual(["smallTank"]);
    const money = { fuelPrice: 95 } as ApplySettings["money"];
    expect(kinds(settings({ money }))).toEqual(["price"]);
    expect(kinds(settings({ control: { kind: "sun", panelW: 5, fanW: 20 } }))).toEqual(["weakPanel"]);
    expect(kinds(settings(), answer({ need: Array<number>(12).fill(0) }))).toEqual(["nothingNeeded"]);
  });
  test("boxes side by side that pass more air than is fresh", () => {
    const use = { kind: "freshAir", flowM3PerS: 0.02, setC: 18, fromHour: 0, toHour: 24 } as const;
    const flowing = answer({ seasons: [season({ candidate: { name: "box", flowWK: 40 } })] });
    const rows = (sideBySide: number) => settings({ use, rows: [{ inSeries: 1, sideBySide, tilt: 60, azimuth: 180 }] });
    expect(kinds(rows(1), flowing)).toContain("freshFlow");
    expect(kinds({ ...rows(1), use: { ...use, flowM3PerS: 0.06 } }, flowing)).toEqual([]);
    expect(kinds(rows(2), flowing)).toContain("freshFlow");
  });
  test("each has its words, with the way out", () => {
    const all: SeasonDoubt[] = [
      { kind: "roomLoss", perM2: 0.02 },
      { kind: "facesAway", azimuth: 10 },
      { kind: "outsideTested", name: "box", share: 0.4 },
      { kind: "noBand", name: "box" },
      { kind: "smallTank", days: 0.2 },
      { kind: "price", price: 95 },
      { kind: "weakPanel", share: 0.3 },
      { kind: "far", degrees: 3 },
      { kind: "nothingNeeded" },
      { kind: "freshFlow", times: 2 },
      {
        kind: "mixedGround",
        grounds: [
          { origin: "curve", names: ["a", "b"] },
          { origin: "prediction", names: ["c"] },
        ],
      },
      { kind: "storeUnused" },
      { kind: "indoors", celsius: 20 },
      { kind: "pumpedOut", name: "box", kwh: 40 },
      { kind: "airAlone", name: "box", share: 0.7 },
    ];
    const words = all.map(seasonDoubtWords);
    expect(new Set(words).size).toBe(all.length);
    for (const w of words) expect(w).toMatch(/^[A-Z\d].*[.?]$/);
  });
});

describe("each doubt of how a year runs is provoked by a year", () => {
  const doubts = (over: Partial<ApplySettings>, more: Partial<SeasonJob> = {}) => {
    const j = job(over, more);
    return seasonDoubts(j.settings, 46, answered(j));
  };
  const drying = { kind: "drying" as const, waterKgADay: 10, pickUp: 0.5, humidity: 0.6, capC: 60, months: [5, 6, 7] };
  const kinds = (found: readonly SeasonDoubt[]) => found.map((d) => d.kind);

  test("a thermostat that stops below the tank sends its heat out at night; one by difference does not", () => {
    const liquid = { candidates: [{ ...CANDIDATE, flowWK: 160 }], fluid: { kind: "water" } as const };
    const pipes = { lengthM: 3, diameterM: 0.02, insulationM: 0.02, leakShare: 0 };
    const pair = { kind: "thermostat", onC: 30, offC: 5 } as const;
    const out = doubts({ use: WASH_WATER, store: TANK, control: pair, pipes }, liquid);
    expect(out).toContainEqual(expect.objectContaining({ kind: "pumpedOut", name: "box" }));
    expect(out.map(seasonDoubtWords).join()).toMatch(/sends \d+ kWh a year out of the store again/);
    expect(kinds(doubts({ use: WASH_WATER, store: TANK, pipes }, liquid))).not.toContain("pumpedOut");
  });
  test("a tank indoors loses to the room's warmth, and says so", () => {
    const outside = answered(job({ use: WASH_WATER, store: TANK })).seasons[0];
    const inside = answered(job({ use: WASH_WATER, store: { ...TANK, inRoom: true } })).seasons[0];
    // The room warms the cold tank too, with boxes and without: that is no heat of the boxes.
    expect(inside.missing).toBeLessThan(outside.missing);
    expect(yearOf(inside.year.account.storeLoss)).toBeLessThan(yearOf(outside.year.account.storeLoss));
    expect(kinds(doubts({ use: WASH_WATER, store: { ...TANK, inRoom: true } }))).toContain("indoors");
  });
  test("fresh air and drying pass a store by: the same year with and without, and said", () => {
    const use = { kind: "freshAir", flowM3PerS: 0.1, setC: 20, fromHour: 0, toHour: 24 } as const;
    for (const u of [use, drying]) {
      const plain = answered(job({ use: u })).seasons[0];
      const stored = answered(job({ use: u, store: TANK })).seasons[0];
      expect(stored.useful).toBe(plain.useful);
      expect(kinds(doubts({ use: u, store: TANK }))).toContain("storeUnused");
      expect(kinds(doubts({ use: u }))).not.toContain("storeUnused");
    }
  });
  test("dry air dries most of it alone, and says so; damp air does not", () => {
    const of = (humidity: number) => doubts({ use: { ...drying, humidity } });
    expect(of(0.2)).toContainEqual(expect.objectContaining({ kind: "airAlone" }));
    expect(kinds(of(0.97))).not.toContain("airAlone");
  });
  test("a drawing beside a test is no like ground, and a typed curve is nobody's", () => {
    const beside = (...origins: Candidate["origin"][]) =>
      doubts(
        {},
        { candidates: origins.map((origin, i) => ({ ...CANDIDATE, origin, key: "ABC"[i], name: `box ${i}` })) },
      );
    expect(kinds(beside("condition", "prediction"))).toContain("mixedGround");
    expect(beside("condition", "prediction").map(seasonDoubtWords).join()).toContain(
      "box 0 on one tested condition, box 1 on a drawing",
    );
    expect(kinds(beside("curve", "curve", "typed"))).not.toContain("mixedGround");
  });
});
