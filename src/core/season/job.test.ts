import { answer, CANDIDATE, job, said, SITE, STONES } from "../../../scripts/testing/seasonJob";
import { inventedEpw, writeEpw } from "../../../scripts/testing/inventedEpw";
import { hingedMirror } from "../mirror/mirror";
import { usualSpecificHeat } from "../judge/flowWay";
import type { Mode } from "./parts";
import { MONTH_DAYS } from "./weather";
import { seasonProblemWords } from "../../words/apply";
import { applySchema, storedUseSchema, type ApplySettings } from "./schema";
import { runSeason } from "./job";
import { askedFor, coldByMonth, pipeLossWK, scenarioOf } from "./scenario";
import { ductChoices, studySeason, thumbChecks, thumbError, type SeasonStudy } from "./study";

describe("what is asked first", () => {
  test("nothing is computed while use, boxes, control or run are not said", () => {
    expect(askedFor(applySchema.parse({}))).toEqual(["use", "rows", "control", "pipes"]);
    expect(askedFor(said())).toEqual([]);
    const water = {
      kind: "hotWater",
      litresADay: 100,
      coldWinterC: 6,
      coldSummerC: 14,
      wantedC: 42,
      capC: 80,
      draw: "even",
    } as const;
    expect(askedFor(said({ use: water }))).toEqual(["storeForWater"]);
    expect(() => scenarioOf(said({ control: null }), SITE, CANDIDATE, { planes: new Map() }, { kind: "air" })).toThrow(
      RangeError,
    );
  });
  test("a store of nothing, crossed set points, a negative price, a cap below the set point are refused where they are said", () => {
    const refused = (part: object) => applySchema.safeParse({ ...said(), ...part }).success === false;
    expect(refused({ store: { kind: "water", kg: 0, lossWK: 1, exchangeWK: null, inRoom: false } })).toBe(true);
    expect(refused({ control: { kind: "thermostat", onC: 30, offC: 35 } })).toBe(true);
    expect(refused({ control: { kind: "difference", onK: 3, offK: 6 } })).toBe(true);
    expect(refused({ rows: [{ inSeries: 1, sideBySide: 1, tilt: 120, azimuth: 180 }] })).toBe(true);
    const money = {
      currency: "EUR",
      unit: "first",
      other: 0,
      renewals: [],
      fuel: "gas",
      fuelPrice: -0.1,
      fuelEfficiency: 1,
      electricityPrice: 0,
      upkeep: 0,
      lifeYears: 10,
      interest: 0,
      priceRise: 0,
      doubt: { price: 0, cost: 0, life: 0, use: 0 },
    };
    expect(refused({ money })).toBe(true);
    expect(refused({ money: { ...money, fuelPrice: 0.1 } })).toBe(false);
    const room = said().use as Extract<ApplySettings["use"], { kind: "room" }>;
    expect(storedUseSchema.safeParse({ ...room, capC: 10 }).success).toBe(false);
  });
  test("cold water is coldest after midwinter, in both hemispheres", () => {
    const north = coldByMonth(5, 15, 46);
    expect(north.indexOf(Math.min(...north))).toBe(1);
    const south = coldByMonth(5, 15, -38);
    expect(south.indexOf(Math.min(...south))).toBe(7);
  });
  test("insulation saves: loss of a run falls with it, and grows with length", () => {
    const p = { lengthM: 5, diameterM: 0.16, insulationM: 0, leakShare: 0 };
    expect(pipeLossWK(p)).toBeCloseTo(5 * Math.PI * 0.16 * 8, 9);
    expect(pipeLossWK({ ...p, insulationM: 0.05 })).toBeLessThan(0.4 * pipeLossWK(p));
    expect(pipeLossWK({ ...p, lengthM: 0 })).toBe(0);
  });
});

describe("a season", () => {
  const full = answer(job());
  test("has a band, closes its account, and says what a felled tree and upright boxes would do", () => {
    const [s] = full.seasons;
    expect(s.usefulSd).toBeGreaterThan(0);
    expect(Math.abs(s.year.imbalance)).toBeLessThan(1e-9);
    const tree = full.whatIfs.find((w) => w.change.kind === "obstacleGone")!;
    expect(tree.useful).toBeGreaterThan(s.useful);
    expect(full.whatIfs.some((w) => w.change.kind === "upright")).toBe(true);
    const gone = answer(job({ without: ["pear"] })).seasons[0];
    expect(gone.useful).toBeCloseTo(tree.useful, 6);
  });
  test("by monthly means and by hours of the same climate agree within a tenth", () => {
    // The file of scripts/testing is a whole year of another make: its own months are the climate of the second run.
    const text = writeEpw(inventedEpw());
    const hours = answer(job({ weather: { kind: "hours", climateId: 1 } }, { hours: text }));
    const months = hours.weather.months.map((m) => ({ ...m, windMs: 2, clearShare: null }));
    const monthly = answer(job({}, { climate: { name: "the same", months, source: "" } }));
    monthly.weather.months.forEach((m, i) => expect(m.globalKwhM2).toBeCloseTo(months[i].globalKwhM2, 1));
    expect(monthly.seasons[0].useful / hours.seasons[0].useful).toBeGreaterThan(0.9);
    expect(monthly.seasons[0].useful / hours.seasons[0].useful).toBeLessThan(1.1);
  });
  test("without climate, with a broken file, or one of the other hemisphere it says so instead", () => {
    expect(runSeason(job({}, { climate: null }))).toEqual({ ok: false, problems: [{ kind: "noClimate" }] });
    expect(runSeason(job({ weather: { kind: "hours", climateId: 1 } }, { hours: "no file" }))).toMatchObject({
      ok: false,
      problems: [{ kind: "file" }],
    });
    const south = writeEpw({ ...inventedEpw(), latitude: -SITE.latitude });
    expect(runSeason(job({ weather: { kind: "hours", climateId: 1 } }, { hours: south }))).toMatchObject({
      ok: false,
      problems: [{ kind: "hemisphere" }],
    });
  });
  test("a greenhouse shows the year as it really runs, too", () => {
    const use = { ...(said().use as object), heated: false, setC: 3 } as ApplySettings["use"];
    const { free } = answer(job({ use }));
    expect(free.map((f) => f.key)).toEqual([null, "A"]);
    expect(free[1].coldHours).toBeLessThanOrEqual(free[0].coldHours);
  });
  test("a mirror at the foot adds, and taking it down is a what-if", () => {
    const mirrored = {
      A: {
        box: { widthM: 1, lengthM: 2 },
        mirrors: [{ mirror: hingedMirror({ depthM: 1.5, angle: 115 }), reflectance: 0.88, snow: [] }],
      },
    };
    const with_ = answer(job({}, { mirrored }));
    expect(with_.seasons[0].useful).toBeGreaterThan(full.seasons[0].useful);
    expect(with_.whatIfs.find((w) => w.change.kind === "noMirrors")!.useful).toBeCloseTo(full.seasons[0].useful, 6);
  });
  test("panels on the same area with a heat pump give more than with resistive heat", () => {
    const panels = { efficiency: 0.2, performance: 0.8, cop: 1, costPerM2: 150, other: 0 };
    const list = [{ key: "panels", name: "panels", areaM2: 6 }];
    const resistive = answer(job({ panels }, { panels: list })).panels[0].useful;
    const pump = answer(job({ panels: { ...panels, cop: 3 } }, { panels: list })).panels[0].useful;
    expect(pump).toBeGreaterThan(2 * resistive);
  });
  test("panels dry no more than the same air with less warmth would: less than boxes of thrice their heat", () => {
    const use: ApplySettings["use"] = {
      kind: "drying",
      waterKgADay: 40,
      months: [4, 5, 6],
      pickUp: 0.5,
      humidity: 0.7,
      capC: 60,
    };
    const panels = { efficiency: 0.2, performance: 0.8, cop: 1, costPerM2: 150, other: 0 };
    const { seasons, panels: beside } = answer(
      job({ use, panels }, { panels: [{ key: "panels", name: "panels", areaM2: 6 }] }),
    );
    const dried = (s: (typeof seasons)[number]) => s.year.driedKg.reduce((a, b) => a + b, 0);
    expect(dried(beside[0])).toBeGreaterThan(0);
    expect(dried(beside[0])).toBeLessThan(dried(seasons[0]));
  });
  test("east and west rows, and one behind the other, are all counted", () => {
    const rows = [
      { inSeries: 1, sideBySide: 1, tilt: 60, azimuth: 110 },
      { inSeries: 2, sideBySide: 1, tilt: 60, azimuth: 250 },
    ];
    const s = answer(job({ rows })).seasons[0];
    expect(s.useful).toBeGreaterThan(50);
    expect(s.useful).toBeLessThan(full.seasons[0].useful);
  });
  test("an exchanger and its pump cost heat and power", () => {
    const s = answer(job({ exchanger: { uaWK: 60, waterKgS: 0.05, pumpW: 20 } })).seasons[0];
    expect(s.useful).toBeLessThan(full.seasons[0].useful);
    expect(s.fan / s.year.running).toBeGreaterThan(full.seasons[0].fan / full.seasons[0].year.running);
  });
});

describe("sizes", () => {
  let solved: SeasonStudy;
  beforeAll(() => {
    solved = studySeason(job(), 0.2)!;
  }, 60000);
  test("the solved area gives the wanted share, and a share no area gives is said", () => {
    const study = solved;
    expect(study.byArea.every((r, i) => i === 0 || r.share > study.byArea[i - 1].share)).toBe(true);
    const boxes = study.areaM2! / 2;
    const around = answer(job({ rows: [{ inSeries: 1, sideBySide: Math.round(boxes), tilt: 60, azimuth: 180 }] }))
      .seasons[0];
    expect(Math.abs(around.share - 0.2)).toBeLessThan(0.04);
    expect(studySeason(job(), 0.99)!.areaM2).toBeNull();
  }, 30000);
  test("sunshine and room matter more than the duct; a fifth less of a loss is more heat", () => {
    const { sensitivity } = solved;
    const of = (what: string) => sensitivity.find((s) => s.what === what)!;
    expect(of("losses").low).toBeGreaterThan(of("losses").high);
    expect(of("light").high).toBeGreaterThan(of("light").low);
    expect(sensitivity.findIndex((s) => s.what === "pipe")).toBeGreaterThan(
      sensitivity.findIndex((s) => s.what === "light"),
    );
  }, 30000);
  test("a wider duct is slower, quieter and cheaper to drive; pressure goes with the square of turbulent flow", () => {
    const stream = (massFlow: number) => ({ flowWK: (massFlow * usualSpecificHeat({ kind: "air" }, 25)) / 3 });
    const long = said({ pipes: { lengthM: 8, diameterM: 0.15, insulationM: 0.03, leakShare: 0.02 } });
    const rows = ductChoices(long, SITE, { kind: "air" }, stream(0.08));
    rows.slice(1).forEach((r, i) => {
      expect(r.speedMs).toBeLessThan(rows[i].speedMs);
      expect(r.fanW).toBeLessThan(rows[i].fanW);
    });
    const twice = ductChoices(long, SITE, { kind: "air" }, stream(0.16));
    expect(twice[0].lossPa / rows[0].lossPa).toBeGreaterThan(3.4);
    expect(twice[0].lossPa / rows[0].lossPa).toBeLessThan(4.05);
  });
  test("the fan's year is what Sizing says it takes, run and bin included, second by second of its running", () => {
    for (const store of [{ kind: "none" } as const, STONES]) {
      // Full need and no charging: the stream never passes the bin.
      const a = answer(job({ store, modes: Array<Mode>(12).fill(store.kind === "none" ? "heat" : "charge") }));
      const [s] = a.seasons;
      const plant = a.plants[s.candidate.key]!;
      const row = ductChoices(said(), SITE, { kind: "air" }, s.candidate).find((r) => r.diameterM === 0.15)!;
      expect(plant.powerW).toBeCloseTo(3 * CANDIDATE.powerW + row.fanW, 9);
      expect(row.fanW).toBeGreaterThan(1);
      const blown = s.months.reduce((n, m) => n + m.fan, 0);
      const passed = plant.powerW + plant.bedW;
      // Charging runs through the bin, and what is taken from it runs again.
      expect(blown / ((passed * s.year.running) / 1000)).toBeGreaterThan(0.999);
      if (store.kind === "none") expect(blown).toBeCloseTo((passed * s.year.running) / 1000, 6);
      else expect(plant.bedW).toBeGreaterThan(1);
    }
  });
  test("a bin no fan blows through, and a run no pump presses through, are refused by name with the way out", () => {
    const litre = { ...STONES, volumeM3: 0.001, lengthM: 0.5, lossWK: 0 };
    const bin = runSeason(job({ store: litre }));
    expect(bin).toMatchObject({ ok: false, problems: [{ kind: "tight", where: "bin", name: "box" }] });
    const duct = runSeason(job({ pipes: { lengthM: 30, diameterM: 0.03, insulationM: 0, leakShare: 0 } }));
    expect(duct).toMatchObject({ ok: false, problems: [{ kind: "tight", where: "duct" }] });
    for (const r of [bin, duct])
      expect(r && !r.ok && seasonProblemWords(r.problems[0])).toMatch(/would lose [\d,]+ Pa in the .* No usual fan/);
  });
  test("rules of thumb: within where they hold, signed where they do not", () => {
    expect(thumbError({ rule: "floorServed", thumb: [8, 20], model: 12 })).toBe(0);
    expect(thumbError({ rule: "floorServed", thumb: [8, 20], model: 40 })).toBeCloseTo(-0.5, 9);
    expect(thumbError({ rule: "noonTimesHours", thumb: [300, 300], model: 200 })).toBeCloseTo(0.5, 9);
    const checks = thumbChecks({
      candidate: CANDIDATE,
      boxes: 3,
      watts: 18,
      massFlow: 0.12,
      fluid: { kind: "air" },
      cp: 1007,
      useful: 900,
      noonW: 2500,
      sunHours: 1200,
      floorM2: 60,
      peakNeedW: 4000,
    });
    expect(checks.map((c) => c.rule)).toEqual([
      "flowPerArea",
      "noonTimesHours",
      "floorServed",
      "wattsPerFlow",
      "furnace",
    ]);
    expect(MONTH_DAYS).toHaveLength(12);
  });
});
