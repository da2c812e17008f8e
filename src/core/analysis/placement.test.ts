import { cellIrradiance } from "../sun/cell";
import { sunDay } from "../sun/sunDay";
import { darkChecks, laggingProbes, sunSpikes } from "./placement";
import type { RunSeries, RunSetup } from "./setup";

const lane = (letter: string) => ({
  lane: letter,
  inletProbe: { key: `${letter}i`, limitK: 0.5, resolutionK: 0.1 },
  outletProbe: { key: `${letter}o`, limitK: 0.5, resolutionK: 0.1 },
});
const series = (rise: number, darkMinutes: number): RunSeries => {
  const n = 120;
  const irradiance = Float64Array.from({ length: n }, (_, i) => (i < darkMinutes ? 0 : 400));
  return {
    startMs: RISE - darkMinutes * 60000,
    stepMs: 60000,
    irradiance,
    ambient: null,
    wind: null,
    humidity: null,
    pressure: null,
    lanes: new Map([
      [
        "A",
        {
          inlet: new Float64Array(n).fill(8),
          outlet: Float64Array.from({ length: n }, (_, i) => 8 + rise + (i < darkMinutes ? 0.01 * Math.sin(i) : 20)),
          flow: null,
          fanPower: null,
        },
      ],
    ]),
  };
};
/** The series begins an hour before the sun rises over this place. */
const place = { latitude: 46.31, longitude: 9.05, altitudeM: 1120 };
const RISE = sunDay(Date.UTC(2026, 9, 6, 10), place, "Europe/Zurich").riseMs!;
const setup = { lanes: [lane("A")], place, zone: "Europe/Zurich" } as unknown as RunSetup;

test("a rise before sunrise is the probes' own difference; the day does not count", () => {
  const [check] = darkChecks(setup, series(0.4, 60));
  expect(check.riseK).toBeCloseTo(0.4, 1);
  expect(check).toMatchObject({ lane: "A", minutes: 60, beyondLimits: false });
  expect(darkChecks(setup, series(1.6, 60))[0].beyondLimits).toBe(true);
});

test("of a loop that stands warm in the dark nothing is known; cold and still, or flowing, its probes are held against each other", () => {
  const night = (inletC: number, riseK: number, outsideC: number | null, nightFlow: number): RunSeries => {
    const made = series(riseK, 60);
    const own = made.lanes.get("A")!;
    const dark = (i: number) => i < 60;
    return {
      ...made,
      ambient: outsideC === null ? null : new Float64Array(120).fill(outsideC),
      lanes: new Map([
        [
          "A",
          {
            ...own,
            inlet: own.inlet!.map((v) => v - 8 + inletC),
            outlet: own.outlet!.map((v) => v - 8 + inletC),
            flow: Float64Array.from({ length: 120 }, (_, i) => (dark(i) ? nightFlow : 2)),
          },
        ],
      ]),
    };
  };
  const one = {
    lanes: [{ ...lane("A"), areaM2: 2, flow: { kind: "mass", meter: { at: "inlet" } } }],
    place,
    zone: "Europe/Zurich",
  };
  const checks = (s: RunSeries) => darkChecks(one as unknown as RunSetup, s);
  expect(checks(night(28, 1.6, 4, 0))).toEqual([]);
  expect(checks(night(8, 1.6, null, 0))).toEqual([]);
  expect(checks(night(5, 1.6, 4, 0))[0].beyondLimits).toBe(true);
  expect(checks(night(28, 1.6, 27, 2))[0].beyondLimits).toBe(true);
});

test("a few dark minutes say nothing", () => expect(darkChecks(setup, series(1, 5))).toEqual([]));

test("an inlet probe that jumps with the sun is found; one in the shade is not", () => {
  const n = 200;
  const irradiance = Float64Array.from({ length: n }, (_, i) => (Math.floor(i / 7) % 2 ? 850 : 300));
  const probe = (share: number) =>
    Float64Array.from(irradiance, (g, i) => 15 + share * (g / 100) + 0.05 * Math.sin(i * 1.7));
  const at = (share: number): RunSeries => ({
    ...series(0, 0),
    irradiance,
    ambient: probe(0),
    lanes: new Map([["A", { inlet: probe(share), outlet: probe(1), flow: null, fanPower: null }]]),
  });
  expect(sunSpikes(setup, at(0.3))).toMatchObject([{ lane: "A", perHundred: expect.closeTo(0.3, 1) }]);
  expect(sunSpikes(setup, at(0))).toEqual([]);
});

test("an inlet probe that comes late is found among three", () => {
  const n = 400;
  const room = (t: number) => 18 + 6 * Math.sin(t / 25);
  const inlet = (lagMin: number) =>
    Float64Array.from({ length: n }, (_, t) => room(t - lagMin) + 0.03 * Math.sin(t * 2.3));
  const three = (lag: number): RunSeries => ({
    ...series(0, 0),
    lanes: new Map(
      ["A", "B", "C"].map((l) => [l, { inlet: inlet(l === "B" ? lag : 0), outlet: null, flow: null, fanPower: null }]),
    ),
  });
  const lanes = { lanes: ["A", "B", "C"].map(lane) } as unknown as RunSetup;
  const [late] = laggingProbes(lanes, three(3));
  expect(late.lane).toBe("B");
  expect(Math.abs(late.lagS - 180)).toBeLessThan(40);
  expect(laggingProbes(lanes, three(0))).toEqual([]);
  expect(laggingProbes(setup, series(0, 0))).toEqual([]);
});

test("a cell's short-circuit current follows the sun, a warm cell shows a little more", () => {
  expect(cellIrradiance(0.5, 0.5, 25)).toBe(1000);
  expect(cellIrradiance(0.25, 0.5, 25)).toBe(500);
  expect(cellIrradiance(0.5, 0.5, 65)).toBeCloseTo(980.4, 1);
  expect(() => cellIrradiance(-0.1, 0.5, 25)).toThrow(RangeError);
  expect(() => cellIrradiance(0.1, 0, 25)).toThrow(RangeError);
});
