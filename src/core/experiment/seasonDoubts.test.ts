import { applySchema, type ApplySettings } from "./schema/apply";
import { seasonDoubts, type SeasonDoubt } from "./seasonDoubts";
import type { SeasonAnswer } from "./seasonJob";
import { seasonDoubtWords } from "../../words/apply";

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
    const use = {
      kind: "hotWater",
      litresADay: 200,
      coldWinterC: 5,
      coldSummerC: 12,
      wantedC: 40,
      capC: 80,
      draw: "even",
    } as const;
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
    ];
    const words = all.map(seasonDoubtWords);
    expect(new Set(words).size).toBe(all.length);
    for (const w of words) expect(w).toMatch(/^[A-Z\d].*[.?]$/);
  });
});
