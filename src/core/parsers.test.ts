import fc from "fast-check";
import { inventedEpw, writeEpw } from "../../scripts/testing/inventedEpw";
import { guessTimeFormat, parseTimestamp, type TimeFormat } from "./log/timestamp";
import { fromWall, isZone, toWall, zoneOffset } from "./log/zone";
import { sniffLog } from "./log/sniff";
import { MATERIAL_RANGES, materialsFromCsv, materialsToCsv } from "./materials/csv";
import { LIBRARY } from "./materials/library";
import { parseNumber, parseQuantity } from "./quantity/parseQuantity";
import { QUANTITIES, type QuantityId } from "./quantity/quantities";
import { climateCsv, parseClimateCsv } from "./site/climate";
import { CLIMATES } from "./site/climates";
import { formatCoordinates, parseCoordinates } from "./site/coordinates";
import { epwClimate, parseEpw } from "./site/epw";
import { horizonAltitude, horizonText, parseHorizon } from "./site/horizon";

/** Text of the kind people paste: digits, marks and letters in any order, and anything at all. */
const anyText = fc.oneof(
  fc.string({ maxLength: 200 }),
  fc.string({ unit: fc.constantFrom(..."0123456789.,;:-+ \t\n°'\"NSEWe/()µ−’%"), maxLength: 60 }),
);
/** BRAVEL_LONG tries ten thousand of each. */
const many = (usual: number) => (process.env.BRAVEL_LONG ? 10_000 : usual);
const runs = { numRuns: many(400), seed: 26 };

describe("whatever is typed, every parser answers", () => {
  // The CSV library warns of headings that come twice; that is what these tests try.
  beforeAll(() => void jest.spyOn(console, "warn").mockImplementation(() => undefined));

  const parsers: [string, (text: string) => unknown][] = [
    ["numbers", (t) => parseNumber(t)],
    ["quantities", (t) => (Object.keys(QUANTITIES) as QuantityId[]).map((q) => parseQuantity(t, q))],
    ["coordinates", parseCoordinates],
    ["skylines", parseHorizon],
    ["climates", (t) => parseClimateCsv(t, "x")],
    ["typical-weather files", parseEpw],
    ["materials", materialsFromCsv],
    ["logs", (t) => sniffLog(t, { whole: true })],
    ["times", (t) => parseTimestamp(t, { kind: "calendar", order: "dmy" }, "UTC")],
    ["guesses of time", (t) => guessTimeFormat([t, t])],
    ["zones", isZone],
  ];
  test.each(parsers)("%s: never a throw, never a NaN taken for an answer", (_, parse) =>
    fc.assert(
      fc.property(anyText, (text) => {
        const answer = parse(text);
        const good = (a: unknown) => typeof a !== "object" || a === null || !("ok" in a) || a.ok === false;
        for (const a of Array.isArray(answer) ? answer : [answer])
          if (!good(a)) expect(JSON.stringify(a, (__, v) => (Number.isNaN(v) ? "NaN" : v))).not.toContain('"NaN"');
      }),
      runs,
    ),
  );
});

describe("numbers", () => {
  const value = (text: string, decimalComma?: boolean) => {
    const read = parseNumber(text, decimalComma);
    return read.ok ? read.value : read.problem.kind;
  };

  test("a number reads the same in every usual way of writing it", () =>
    fc.assert(
      fc.property(fc.integer({ min: 1_000_000, max: 999_999_999 }), fc.integer({ min: 0, max: 99 }), (n, cents) => {
        const groups = n.toString().replace(/\B(?=(\d{3})+$)/g, "#");
        const fraction = String(cents).padStart(2, "0");
        const meant = n + cents / 100;
        for (const [mark, point] of [
          [",", "."],
          [".", ","],
          [" ", "."],
          [" ", ","],
          ["’", "."],
          ["\u202f", ","],
        ])
          expect(value(`${groups.replaceAll("#", mark)}${point}${fraction}`)).toBeCloseTo(meant, 6);
        expect(value(`${n}.${fraction}`)).toBeCloseTo(meant, 6);
        expect(value(`−${n}`)).toBe(-n);
      }),
      runs,
    ));

  test.each(["1,2,3", "1.2.3", "12.10.2026", "3 4", "1 2 3", "12 34", "1,25,000", "1,2.3,4", "1 000,5 6", "1'00"])(
    "%s is not one number, and is never run together into one",
    (text) => expect(value(text)).toBe("notANumber"),
  );

  test("a thousand or one and a quarter is asked, unless the place says which", () => {
    expect(value("1,250")).toBe("ambiguousNumber");
    expect(value("1,250", true)).toBe(1.25);
    expect(value("1,250", false)).toBe(1250);
    expect(value("0,250")).toBe(0.25);
    expect(value("1,2500")).toBe(1.25);
  });

  test("what follows the number is left for the unit", () => {
    expect(parseNumber("845 fpm")).toMatchObject({ ok: true, value: 845, rest: "fpm" });
    expect(parseNumber("1 250 W/m2")).toMatchObject({ value: 1250 });
    expect(parseNumber("2.5e-3 kg/s")).toMatchObject({ value: 0.0025 });
    expect(parseNumber("1e400")).toMatchObject({ ok: false });
  });
});

describe("coordinates", () => {
  const place = fc.record({
    latitude: fc.integer({ min: -89 * 3600, max: 89 * 3600 }).map((s) => s / 3600),
    longitude: fc.integer({ min: -179 * 3600, max: 179 * 3600 }).map((s) => s / 3600),
  });

  test("what is written out is read back, to the second", () =>
    fc.assert(
      fc.property(place, ({ latitude, longitude }) => {
        const read = parseCoordinates(formatCoordinates(latitude, longitude));
        expect(read.ok).toBe(true);
        if (!read.ok) return;
        expect(read.latitude).toBeCloseTo(latitude, 6);
        expect(read.longitude).toBeCloseTo(longitude, 6);
      }),
      runs,
    ));

  test("decimal, with letters either way round, and as a link, it is one place", () =>
    fc.assert(
      fc.property(place, ({ latitude, longitude }) => {
        const [a, b] = [latitude.toFixed(5), longitude.toFixed(5)];
        const [n, e] = [Math.abs(latitude).toFixed(5), Math.abs(longitude).toFixed(5)];
        const [ns, ew] = [latitude < 0 ? "S" : "N", longitude < 0 ? "W" : "E"];
        for (const text of [
          `${a}, ${b}`,
          `${a} ${b}`,
          `geo:${a},${b}`,
          `${n}° ${ns}, ${e}° ${ew}`,
          `${e} ${ew} ${n} ${ns}`,
        ]) {
          const read = parseCoordinates(text);
          if (!read.ok) throw new Error(`${text}: ${read.problem.kind}`);
          expect(read.latitude).toBeCloseTo(latitude, 4);
          expect(read.longitude).toBeCloseTo(longitude, 4);
        }
      }),
      runs,
    ));
});

describe("skylines", () => {
  const horizon = fc
    .uniqueArray(fc.integer({ min: 0, max: 3599 }), { maxLength: 40 })
    .chain((at) =>
      fc.tuple(
        fc.constant(at),
        fc.array(fc.integer({ min: -100, max: 850 }), { minLength: at.length, maxLength: at.length }),
      ),
    )
    .map(([at, up]) =>
      at.map((a, i) => ({ azimuth: a / 10, altitude: up[i] / 10 })).sort((x, y) => x.azimuth - y.azimuth),
    );

  test("written and read back they are the same line, whatever stands between the numbers", () =>
    fc.assert(
      fc.property(horizon, fc.constantFrom("\t", ";", " ", ", "), (h, mark) => {
        const read = parseHorizon(horizonText(h).replaceAll("\t", mark));
        expect(read).toEqual({ ok: true, horizon: h.map((p) => ({ azimuth: p.azimuth, altitude: p.altitude || 0 })) });
      }),
      runs,
    ));

  test("the line passes through its corners and never leaves their range", () =>
    fc.assert(
      fc.property(horizon, fc.double({ min: -720, max: 720, noNaN: true }), (h, azimuth) => {
        if (!h.length) return expect(horizonAltitude(h, azimuth)).toBe(0);
        for (const p of h) expect(horizonAltitude(h, p.azimuth)).toBeCloseTo(p.altitude, 9);
        const at = horizonAltitude(h, azimuth);
        expect(at).toBeGreaterThanOrEqual(Math.min(...h.map((p) => p.altitude)) - 1e-9);
        expect(at).toBeLessThanOrEqual(Math.max(...h.map((p) => p.altitude)) + 1e-9);
        expect(horizonAltitude(h, azimuth + 360)).toBeCloseTo(at, 6);
      }),
      runs,
    ));
});

describe("times", () => {
  const instant = fc
    .integer({ min: Date.UTC(2001, 0, 1) / 1000, max: Date.UTC(2037, 0, 1) / 1000 })
    .map((s) => s * 1000);
  const zone = fc.constantFrom("UTC", "Europe/Zurich", "America/Denver", "UTC+05:30", "Australia/Sydney");
  const formats: [TimeFormat, (d: Date) => string][] = [
    [{ kind: "calendar", order: "ymd" }, (d) => d.toISOString().slice(0, 19).replace("T", " ")],
    [
      { kind: "calendar", order: "dmy" },
      (d) => `${d.getUTCDate()}.${d.getUTCMonth() + 1}.${d.getUTCFullYear()} ${d.toISOString().slice(11, 19)}`,
    ],
    [
      { kind: "calendar", order: "mdy" },
      (d) => `${d.getUTCMonth() + 1}/${d.getUTCDate()}/${d.getUTCFullYear()} ${d.toISOString().slice(11, 19)}`,
    ],
  ];

  test("a wall clock is read back to its instant, and an hour shown twice says so", () =>
    fc.assert(
      fc.property(instant, zone, fc.constantFrom(...formats), (ms, z, [format, write]) => {
        const read = parseTimestamp(write(new Date(toWall(ms, z))), format, z);
        if (!read.ok) throw new Error(read.reason);
        expect("repeated" in read && read.repeated ? read.repeated : [read.utcMs]).toContain(ms);
      }),
      runs,
    ));

  test("wall and instant are inverses, but for the hour that never was", () =>
    fc.assert(
      fc.property(instant, zone, (ms, z) => {
        const back = fromWall(toWall(ms, z), z);
        expect(back.kind).not.toBe("skipped");
        expect(back.kind === "single" ? [back.utcMs] : back.kind === "repeated" ? back.utcMs : []).toContain(ms);
        expect(Math.abs(zoneOffset(ms, z))).toBeLessThanOrEqual(14 * 3600000);
      }),
      runs,
    ));

  const ymd: TimeFormat = { kind: "calendar", order: "ymd" };
  const dmy: TimeFormat = { kind: "calendar", order: "dmy" };
  test.each([
    ["2026-9-1 9:5:3", ymd, Date.UTC(2026, 8, 1, 9, 5, 3)],
    ["6. 10. 2026 12:00", dmy, Date.UTC(2026, 9, 6, 12)],
    ['"2026-10-06 12:00:00"', ymd, Date.UTC(2026, 9, 6, 12)],
    ["Tue 06.10.2026 12:00", dmy, Date.UTC(2026, 9, 6, 12)],
    ["2026-10-06 12:00:00 UTC+2", ymd, Date.UTC(2026, 9, 6, 10)],
    ["2026-10-06 12:00:00-0330", ymd, Date.UTC(2026, 9, 6, 15, 30)],
    ["2026-10-06 12h30", ymd, Date.UTC(2026, 9, 6, 12, 30)],
    ["2026-10-06 12.30", ymd, Date.UTC(2026, 9, 6, 12, 30)],
    ["2026-10-06 12:00:00:250", ymd, Date.UTC(2026, 9, 6, 12, 0, 0, 250)],
    ["2026-10-06", ymd, Date.UTC(2026, 9, 6)],
    ["2026-10-06 24:00", ymd, Date.UTC(2026, 9, 7)],
  ])("%s is read from its first to its last character", (text, format, utcMs) =>
    expect(parseTimestamp(text, format, "UTC")).toMatchObject({ ok: true, utcMs }),
  );

  test.each([
    "2026-10-06 noon",
    "2026-10-06 12",
    "2026-10-06 12:00:00 CEST",
    "2026-10-06 00:00:00 12:00:00",
    "2026-10-06 12:00:00 12",
    "2026-10-06x12:00",
    "10-06-2026-12:00",
    "2026-10/06 12:00",
    "1.2.3.4",
    "lane 1-2-3 12:00",
    "2026-10-06 24:30",
    "0000-10-06 12:00",
    `2026-10-06 12:00${" ".repeat(200)}x`,
  ])("%s is no time, and never midnight without a word", (text) =>
    expect(parseTimestamp(text, ymd, "UTC").ok).toBe(false),
  );

  test("whatever is put into a time, it is that time, another written whole, or refused", () =>
    fc.assert(
      fc.property(
        instant,
        fc.nat({ max: 18 }),
        fc.constantFrom(..."abcxyzZT:.,;-+/|'\" ").chain((c) => fc.constantFrom(c, c + c)),
        (ms, at, put) => {
          const text = new Date(ms).toISOString().slice(0, 19).replace("T", " ");
          const spoilt = text.slice(0, at) + put + text.slice(at);
          const read = parseTimestamp(spoilt, ymd, "UTC");
          if (!read.ok || read.utcMs === ms) return;
          // A strict second reader: its numbers, put together again, must be the text.
          const numbers = spoilt.split(/\D+/).filter(Boolean).map(Number);
          const [y, mo, d, h = 0, mi = 0, s = 0] = numbers;
          expect(read.utcMs - (read.utcMs % 1000)).toBe(Date.UTC(y, mo - 1, d, h, mi, s));
          expect(numbers.length).toBeLessThanOrEqual(7);
        },
      ),
      { numRuns: many(3000), seed: 11 },
    ));

  test.each(["UTC+15", "UTC+14:60", "UTC-99:99", "Mars/Base", "", "12"])("“%s” is no zone", (z) =>
    expect(isZone(z)).toBe(false),
  );
});

describe("tables", () => {
  const [low, high] = MATERIAL_RANGES.price;

  test("materials written and read are the same, whatever is in their names", () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            name: fc.string({ minLength: 1, maxLength: 80 }).map((t) => t.replace(/[\r\n]/g, " ").trim() || "x"),
            note: fc.string({ maxLength: 80 }).map((t) => t.replace(/[\r\n]/g, " ").trim()),
            price: fc.integer({ min: Math.ceil(low), max: Math.min(high, 5000) }),
          }),
          { minLength: 1, maxLength: 6 },
        ),
        (rows) => {
          const mine = rows.map((r, i) => ({ ...LIBRARY[i], ...r, key: `mine-${i}` }));
          expect(materialsFromCsv(materialsToCsv(mine))).toEqual({ materials: mine, problems: [] });
        },
      ),
      { numRuns: 120, seed: 26 },
    ));

  test("a price of 1,250 in a table apart by commas is asked about, not taken for one and a quarter", () => {
    const text = materialsToCsv([{ ...LIBRARY[0], key: "mine", price: 4321 }]);
    expect(materialsFromCsv(text.replace("4321", '"1,250"')).problems).toMatchObject([
      { kind: "notNumber", value: "1,250" },
    ]);
  });

  test("a climate comes back from its CSV, and a month too many suns is refused with its place", () => {
    for (const c of CLIMATES) {
      const read = parseClimateCsv(climateCsv(c), c.name);
      expect(read).toMatchObject({ ok: true, climate: { months: c.months } });
    }
    const hot = { ...CLIMATES[0], months: CLIMATES[0].months.map((m) => ({ ...m, globalKwhM2: 13 })) };
    const check = { place: { latitude: 46, longitude: 9, altitudeM: 400 }, turbidity: Array<number>(12).fill(3) };
    expect(parseClimateCsv(climateCsv(hot), "x", check)).toMatchObject({
      ok: false,
      problem: { kind: "tooSunny", month: 1 },
    });
  });

  test("an hourly year, spoilt anywhere, is whole or refused; never a shorter year taken for one", () => {
    const lines = writeEpw(inventedEpw()).split(/\r?\n/);
    fc.assert(
      fc.property(fc.integer({ min: 8, max: 8700 }), fc.constantFrom("drop", "cut", "swap", "word"), (at, how) => {
        const copy = [...lines];
        if (how === "drop") copy.splice(at, 1);
        if (how === "cut") copy.length = at;
        if (how === "swap") [copy[at], copy[at + 24]] = [copy[at + 24], copy[at]];
        if (how === "word") copy[at] = copy[at].replace(/,\d/, ",hot");
        const read = parseEpw(copy.join("\r\n"));
        if (read.ok) expect(epwClimate(read.file)?.months).toHaveLength(12);
        else expect(read.problem.kind).toEqual(expect.any(String));
        if (how === "drop" || how === "cut") expect(read.ok).toBe(false);
      }),
      { numRuns: 25, seed: 26 },
    );
  });
});
