import { bench } from "../../../scripts/testing/threeLanes";
import { implausibleWords } from "../../words/implausible";
import { simulateBench } from "../rig/bench";
import { clearSky, clearSkyInPlane } from "../sun/clearSky";
import { standardRules } from "../log/windows";
import { causesOf } from "./causes";
import { assembleRun, type LoggedChannel } from "./assemble";
import type { Implausible } from "./slip";
import { reduceRun, wholeRun } from "./reduce";
import type { RunSetup } from "./setup";

const [run] = simulateBench({ ...bench(4), runs: [bench(4).runs[0]] });

/** The run again with one channel or its set-up changed, as a careless stranger would. */
function found(
  change: (values: Float64Array, channel: LoggedChannel) => Float64Array = (v) => v,
  setup: (s: RunSetup) => RunSetup = (s) => s,
  extra: LoggedChannel[] = [],
): Implausible[] {
  const channels = run.channels.map((c) => ({ ...c, values: change(c.values, c) }));
  return reduceRun(wholeRun(setup(run.setup), assembleRun([...channels, ...extra])), {
    rules: standardRules("air"),
    basis: "mean",
  }).implausible;
}
const kinds = (list: readonly Implausible[]) => [...new Set(list.map((f) => f.kind))].sort();
const lane = (letter: string) => run.setup.lanes.find((l) => l.lane === letter)!;
const is = (c: LoggedChannel, kind: LoggedChannel["kind"], letter?: string) =>
  c.kind === kind && (letter === undefined || c.station === lane(letter).station);
const AIR = { fluid: "air", outsideC: 10 } as const;
const of = (kind: LoggedChannel["kind"], letter?: string) => run.channels.find((c) => is(c, kind, letter))!;

test("an honest run has nothing implausible", () => expect(found()).toEqual([]));

describe("a careless stranger's run is named with its likely cause", () => {
  test.each<[string, Implausible["kind"][], (v: Float64Array, c: LoggedChannel) => Float64Array]>([
    [
      "outlet and inlet exchanged",
      ["efficiencyBelowZero"],
      (v, c) => (is(c, "outlet", "A") ? of("inlet", "A").values : is(c, "inlet", "A") ? of("outlet", "A").values : v),
    ],
    [
      "speed in ft/s taken for m/s",
      ["efficiencyAboveLimit"],
      (v, c) => (is(c, "speed", "A") ? v.map((x) => x * 3.28) : v),
    ],
    [
      "the fan stopped at noon",
      ["noFlowInSun"],
      (v, c) => (is(c, "speed", "A") ? v.map((x, i) => (i % 480 > 150 && i % 480 < 200 ? 0 : x)) : v),
    ],
    [
      "the meter the wrong way round",
      ["efficiencyBelowZero", "flowBackwards"],
      (v, c) => (is(c, "speed", "A") ? v.map((x) => -x) : v),
    ],
    ["one probe for both ends", ["noRiseInSun"], (v, c) => (is(c, "outlet", "A") ? of("inlet", "A").values : v)],
    ["one column for two lanes", ["lanesAlike"], (v, c) => (is(c, "outlet", "B") ? of("outlet", "A").values : v)],
    ["a typed sun", ["constantSun"], (v, c) => (is(c, "irradiance") ? v.map(() => 800) : v)],
    ["a sun sensor in another unit", ["sunTooStrong"], (v, c) => (is(c, "irradiance") ? v.map((x) => x * 1.75) : v)],
    [
      "everything at outside temperature",
      ["noRiseInSun"],
      (v, c) => (is(c, "outlet") || is(c, "inlet") ? of("ambient").values : v),
    ],
  ])("%s", (_, expected, change) => expect(kinds(found(change))).toEqual(expect.arrayContaining(expected)));

  test.each([1, -1, 2, 9])("a clock %d hours off is told with its sign, by the sun and without one", (hours) => {
    const shifted = run.channels.map((c) => ({ ...c, clockOffsetMs: hours * 3600000 }));
    for (const channels of [shifted, shifted.filter((c) => c.kind !== "irradiance")]) {
      const { implausible } = reduceRun(wholeRun(run.setup, assembleRun(channels)), {
        rules: standardRules("air"),
        basis: "mean",
      });
      const off = implausible.find((f) => f.kind === "clockOff");
      expect(off).toBeDefined();
      expect(Math.abs((off as { lateMinutes: number }).lateMinutes - 60 * hours)).toBeLessThanOrEqual(20);
    }
  });

  test("a horizontal sensor called in the plane, and one in the plane called horizontal", () => {
    const mounted = (mounting: "plane" | "horizontal", values: Float64Array) =>
      found(
        (v, c) => (is(c, "irradiance") ? values : v),
        (s) => ({ ...s, sunSensor: { ...s.sunSensor, mounting } }),
      ).find((f) => f.kind === "sunMounting");
    const inPlane = of("irradiance").values;
    expect(mounted("plane", inPlane)).toBeUndefined();
    expect(mounted("horizontal", inPlane)).toMatchObject({ kind: "sunMounting", mounted: "horizontal" });
    // What a horizontal sensor would have shown under the same sky.
    const flat = inPlane.map((g, i) => {
      const timeMs = of("irradiance").times[i];
      const plane = clearSkyInPlane(timeMs, run.setup.place, run.setup.plane, 3).total;
      return plane > 20 ? (g * clearSky(timeMs, run.setup.place, 3).global) / plane : 0;
    });
    expect(mounted("plane", flat)).toMatchObject({ kind: "sunMounting", mounted: "plane" });
    expect(mounted("horizontal", flat)).toBeUndefined();
  });

  test.each<[string, Implausible["kind"][], (v: Float64Array, c: LoggedChannel) => Float64Array]>([
    [
      "speed in ft/min taken for … nothing so slow",
      ["efficiencyTiny", "flowOdd", "worldsApart"],
      (v, c) => (is(c, "speed", "A") ? v.map((x) => x / 60) : v),
    ],
    ["one lane's temperatures in °F", ["worldsApart"], (v, c) => (is(c, "speed", "A") ? v.map((x) => x * 2.8) : v)],
    [
      "everything in °F",
      ["outsideOdd"],
      (v, c) => (["inlet", "outlet", "ambient"].includes(c.kind) ? v.map((x) => 1.8 * x + 42) : v),
    ],
  ])("%s", (_, expected, change) => expect(kinds(found(change))).toEqual(expect.arrayContaining(expected)));

  test("without a sun sensor, exchanged ends cool by day", () => {
    const channels = run.channels
      .filter((c) => c.kind !== "irradiance")
      .map((c) =>
        is(c, "outlet", "A")
          ? { ...c, values: of("inlet", "A").values }
          : is(c, "inlet", "A")
            ? { ...c, values: of("outlet", "A").values }
            : c,
      );
    const { implausible } = reduceRun(wholeRun(run.setup, assembleRun(channels)), {
      rules: standardRules("air"),
      basis: "mean",
    });
    expect(kinds(implausible)).toContain("coolsByDay");
  });

  test("a clock twelve hours off", () => {
    const shifted = run.channels.map((c) => ({ ...c, clockOffsetMs: 12 * 3600000 }));
    const list = reduceRun(wholeRun(run.setup, assembleRun(shifted)), { rules: standardRules("air"), basis: "mean" });
    expect(kinds(list.implausible)).toContain("sunAtNight");
  });

  test("a barometer reduced to sea level, high up", () => {
    const pressure: LoggedChannel = {
      ...of("ambient"),
      id: 990,
      kind: "pressure",
      values: of("ambient").values.map(() => 101800),
    };
    expect(kinds(found(undefined, undefined, [pressure]))).toContain("pressureFar");
    const right = { ...pressure, values: pressure.values.map(() => 88600) };
    expect(found(undefined, undefined, [right])).toEqual([]);
  });

  test("an area of one square centimetre", () => {
    const small = (s: RunSetup) => ({ ...s, lanes: s.lanes.map((l) => ({ ...l, areaM2: 0.0001 })) });
    expect(kinds(found(undefined, small))).toEqual(["efficiencyAboveLimit", "flowOdd", "oddArea"]);
  });

  test("a reading of another age costs no resolution: it is left out and named", () => {
    const late = {
      ...of("ambient"),
      id: 991,
      times: Float64Array.of(Date.UTC(2062, 0, 1)),
      values: Float64Array.of(5),
    };
    const whole = assembleRun(run.channels);
    const assembled = assembleRun([...run.channels, late]);
    expect(assembled.shared.stepMs).toBe(whole.shared.stepMs);
    expect(assembled.shared.irradiance).toEqual(whole.shared.irradiance);
    expect(assembled.leftOut).toEqual({ readings: 1, fromMs: Date.UTC(2062, 0, 1), toMs: Date.UTC(2062, 0, 1) });
    expect(kinds(found(undefined, undefined, [late]))).toEqual(["farApart"]);
  });

  test("a shared inlet is one probe, not a copy", () => {
    const shared = found((v, c) => (is(c, "inlet") ? of("inlet", "A").values : v));
    expect(kinds(shared)).not.toContain("lanesAlike");
  });
});

describe("the likely cause is named, with what the figure then is", () => {
  const causes = (list: readonly Implausible[], letter = "A") =>
    list.flatMap((f) => ("causes" in f && f.lane === letter ? [...(f.causes ?? [])] : []));
  const units = (list: readonly Implausible[], letter?: string) =>
    causes(list, letter).flatMap((c) => (c.kind === "unit" ? [`${c.written} as ${c.read}`] : []));
  const faster = (by: number) => (v: Float64Array, c: LoggedChannel) => (is(c, "speed") ? v.map((x) => x * by) : v);

  test("all lanes too slow by 3.6: asked, though efficiencies look like poor boxes", () => {
    const list = found(faster(1 / 3.6));
    for (const letter of ["A", "B"]) {
      expect(kinds(list.filter((f) => "lane" in f && f.lane === letter))).toContain("lightLost");
      expect(units(list, letter)).toContain("m/s as km/h");
    }
  });
  test("speed in mph read as m/s", () => expect(units(found(faster(2.237)))).toContain("mph as m/s"));
  test("speed in ft/min read as m/min", () => expect(units(found(faster(3.281)))).toContain("ft/min as m/min"));
  test("in and out exchanged", () => {
    const list = found((v, c) => {
      if (is(c, "outlet", "A")) return of("inlet", "A").values;
      return is(c, "inlet", "A") ? of("outlet", "A").values : v;
    });
    expect(causes(list)[0]).toMatchObject({ kind: "exchanged" });
  });
  test("rises in °F, on a mild day", () =>
    expect(causesOf(0.9, lane("A").flow, { fluid: "air", outsideC: 54 })).toEqual([
      { kind: "fahrenheit", efficiency: 0.5 },
    ]));
  test("a plane entered facing north", () => {
    const turned = found(undefined, (s) => ({ ...s, plane: { ...s.plane, azimuth: 0 } }));
    expect(turned.find((f) => f.kind === "planeTurned")).toMatchObject({ azimuth: 180 });
  });
  test("what is far from any slip has none", () => expect(causesOf(1e6, lane("A").flow, AIR)).toEqual([]));
  test("a duct's radius for its diameter", () =>
    expect(causesOf(0.14, lane("A").flow, AIR)).toContainEqual({ kind: "radius", efficiency: 0.56 }));
  test("of a loop no gallons of air, of a duct no cubic feet of water", () => {
    const volume = { kind: "volume", meter: lane("A").flow.meter } as const;
    const names = (fluid: "air" | "liquid") => JSON.stringify(causesOf(2.1, volume, { fluid, outsideC: 10 }));
    expect(names("air")).not.toContain("gal");
    expect(names("liquid")).not.toContain("ft³");
  });
});

describe("times that are wrong are told, so that they can be set aside", () => {
  const noon = (i: number) => i % 480 > 150 && i % 480 < 200;
  test("a fan that stood still, with its minutes", () => {
    const list = found((v, c) => (is(c, "speed", "A") ? v.map((x, i) => (noon(i) ? 0 : x)) : v));
    const { spells } = list.find((f) => f.kind === "noFlowInSun") as Implausible & { kind: "noFlowInSun" };
    const times = of("speed", "A").times;
    const first = [...times.keys()].filter(noon);
    expect(spells!.length).toBeGreaterThan(0);
    expect(Math.abs(spells![0].fromMs - times[first[0]])).toBeLessThan(120_000);
    const set = { zone: "UTC", system: "metric" } as const;
    expect(
      implausibleWords(
        list.find((f) => f.kind === "noFlowInSun")!,
        set,
      ).detail,
    ).toMatch(/: 5 Oct, \d\d:\d\d to \d\d:\d\d, 6 Oct/);
  });
  test("a sun sensor half in the shade while the boxes are not; a cloud over all is none", () => {
    const times = of("irradiance").times;
    // Longer than an hour and a half about each noon, by the clock.
    const shade = (i: number) => {
      const hour = (times[i] / 3_600_000) % 24;
      return hour > 10 && hour < 11.5;
    };
    const half = (v: Float64Array) => v.map((x, i) => (shade(i) ? 0.5 * x : x));
    const list = found((v, c) => (is(c, "irradiance") ? half(v) : v));
    const shaded = list.find((f) => f.kind === "sunShaded");
    expect(shaded).toMatchObject({ kind: "sunShaded" });
    expect((shaded as Implausible & { kind: "sunShaded" }).minutes).toBeGreaterThan(45);
    const cloud = found((v, c) => {
      if (is(c, "irradiance")) return half(v);
      if (!is(c, "outlet")) return v;
      const letter = run.setup.lanes.find((l) => l.station === c.station)!.lane;
      const inlet = of("inlet", letter).values;
      return v.map((x, i) => (shade(i) ? inlet[i] + 0.5 * (x - inlet[i]) : x));
    });
    expect(kinds(cloud)).not.toContain("sunShaded");
  });
});

test("each has a title, its figures and a way out, in both unit systems", () => {
  const at = { irradianceWm2: 900, atMs: Date.UTC(2026, 9, 5, 11) };
  const all: Implausible[] = [
    { kind: "efficiencyBelowZero", lane: "A", efficiency: -0.3, riseK: -12, ...at },
    { kind: "efficiencyAboveLimit", lane: "A", efficiency: 1.4, limit: 0.8, ...at },
    {
      kind: "lightLost",
      lane: "A",
      efficiency: 0.15,
      lostWm2: 120,
      ...at,
      causes: [
        { kind: "unit", written: "L/s", read: "m³/h", efficiency: 0.54 },
        { kind: "fahrenheit", efficiency: 0.5 },
        { kind: "radius", efficiency: 0.5 },
        { kind: "exchanged", efficiency: 0.5 },
      ],
    },
    { kind: "planeTurned", azimuth: 180, planeRatio: 4, turnedRatio: 1 },
    { kind: "sunShaded", share: 0.5, minutes: 60, spells: [{ fromMs: 0, toMs: 3600000 }] },
    { kind: "outletsExchanged", lanes: ["A", "B"], by: "both", sure: 12 },
    { kind: "rowOff", lane: "A", atMs: 0, heatW: 582, expectedW: 995 },
    { kind: "flowBackwards", lane: "A", minutes: 30 },
    { kind: "noFlowInSun", lane: "A", minutes: 150, share: 0.4 },
    { kind: "noRiseInSun", lane: "A", riseK: 0.05, minutes: 60 },
    { kind: "lanesAlike", lanes: ["A", "B"], channel: "outlet", readings: 4000 },
    { kind: "constantSun", irradianceWm2: 800, hours: 5 },
    { kind: "sunTooStrong", irradianceWm2: 1600, minutes: 90 },
    { kind: "sunAtNight", irradianceWm2: 500, hours: 6 },
    { kind: "pressureFar", pressurePa: 101800, expectedPa: 88600 },
    { kind: "oddArea", lane: "A", areaM2: 0.0001 },
    { kind: "farApart", readings: 12, fromMs: 0, toMs: 86400000 },
  ];
  for (const system of ["metric", "us"] as const)
    for (const one of all) {
      const words = implausibleWords(one, { zone: "UTC", system });
      for (const text of Object.values(words)) expect(text).not.toMatch(/NaN|undefined/);
      expect(words.detail).toMatch(/\d|No collector/);
      expect(words.remedy.length).toBeGreaterThan(20);
    }
});
