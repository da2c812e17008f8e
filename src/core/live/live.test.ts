import { type SteadySignals } from "../log/searched";
import { findSteadyWindows, standardRules } from "../log/windows";
import { presetDesign } from "../collector/presets";
import { alarmKey, alarmsNow, isDanger, type WatchInput } from "./alarms";
import type { LaneNow } from "./lanesNow";
import { steadyNow } from "./steadyNow";
import { heldBackWords } from "../../words/live";

const STEP = 10_000;
const minutes = (n: number) => n * 6;

/** A calm bench of one lane for so many minutes. */
function calm(
  length: number,
  change: Partial<Record<"sun" | "ambient" | "inlet" | "outlet" | "flow", (i: number) => number>> = {},
): SteadySignals {
  const n = minutes(length);
  const make = (base: number, f?: (i: number) => number) => Float64Array.from({ length: n }, (_, i) => f?.(i) ?? base);
  return {
    startMs: 0,
    stepMs: STEP,
    irradiance: make(900, change.sun),
    ambient: make(10, change.ambient),
    modifier: make(1),
    lanes: [
      {
        lane: "A",
        inlet: make(12, change.inlet),
        outlet: make(38, change.outlet),
        flow: make(2, change.flow),
        timeConstantS: 200,
      },
    ],
  };
}
const rules = standardRules("air");
const now = (s: SteadySignals) => steadyNow(s, rules)[0];

describe("steady until now", () => {
  test("grows with calm minutes until settling and averaging are through, then stays", () => {
    const needed = now(calm(60)).neededMs / 60_000;
    expect(now(calm(10))).toMatchObject({ forMs: 10 * 60_000, heldBack: { name: "missing" } });
    expect(heldBackWords(now(calm(10)).heldBack!, "metric")).toBe("no earlier readings");
    expect(now(calm(60))).toMatchObject({ forMs: needed * 60_000, heldBack: null });
  });

  test("where it says steady, the window search finds a window ending there, and not a minute before", () => {
    const needed = now(calm(60)).neededMs / 60_000;
    expect(findSteadyWindows(calm(needed), rules).windows).toHaveLength(1);
    expect(findSteadyWindows(calm(needed - 1), rules).windows).toHaveLength(0);
    expect(now(calm(needed)).heldBack).toBeNull();
    expect(now(calm(needed - 1)).heldBack).not.toBeNull();
  });

  test.each([
    ["sun", () => 500, "irradiance"],
    ["sun", (i: number) => (i > minutes(50) ? 800 : 960), "irradianceBand"],
    ["ambient", (i: number) => (i > minutes(50) ? 16 : 10), "ambient"],
    ["inlet", (i: number) => (i > minutes(50) ? 18 : 12), "inlet"],
    ["outlet", (i: number) => (i > minutes(50) ? 30 : 38), "outlet"],
    ["flow", (i: number) => (i > minutes(50) ? 1.7 : 2), "flow"],
    ["flow", (i: number) => (i > minutes(58) ? 0 : 2), "stopped"],
    ["outlet", (i: number) => (i > minutes(56) ? NaN : 38), "missing"],
  ] as const)("%s out of its limit is what holds it back", (channel, f, name) => {
    const found = now(calm(60, { [channel]: f }));
    expect(found.heldBack?.name).toBe(name);
    expect(found.forMs).toBeLessThan(found.neededMs);
  });

  test.each([
    [["sun"], "no reading of sun"],
    [["ambient"], "no reading of outside temperature"],
    [["sun", "ambient"], "no reading of sun and outside temperature"],
    [["inlet", "flow"], "no reading of inlet and flow"],
  ] as const)("%s lost is named", (channels, words) => {
    const lost = Object.fromEntries(channels.map((c) => [c, (i: number) => (i > minutes(56) ? NaN : 12)]));
    expect(heldBackWords(now(calm(60, lost)).heldBack!, "metric")).toBe(words);
  });

  test("after a step it begins anew and counts from there", () => {
    const found = now(calm(60, { inlet: (i) => (i >= minutes(48) ? 18 : 12) }));
    expect(found.forMs / 60_000).toBeGreaterThanOrEqual(11);
    expect(found.forMs / 60_000).toBeLessThanOrEqual(13);
  });
});

const measured = (value: number) => ({ value, parts: new Map() });
const lane = (letter: string, more: Partial<LaneNow> = {}): LaneNow => ({
  lane: letter,
  station: 1,
  inlet: measured(12),
  outlet: measured(38),
  rise: measured(26),
  massFlow: measured(0.04),
  heat: measured(1000),
  efficiency: measured(0.55),
  steady: null,
  point: null,
  ...more,
});
const NOW = 3600_000;
function watch(change: Partial<WatchInput> = {}): WatchInput {
  const flow = new Float64Array(360).fill(2);
  return {
    nowMs: NOW,
    wallMs: NOW,
    lanes: [lane("A"), lane("B")],
    watched: ["A", "B"].map((l) => ({
      lane: l,
      design: presetDesign("corrugated"),
      areaM2: 2,
      plateC: 60,
      tankC: null,
    })),
    channels: [],
    devices: [],
    series: {
      startMs: 0,
      stepMs: STEP,
      irradiance: new Float64Array(360).fill(900),
      ambient: new Float64Array(360).fill(10),
      wind: null,
      humidity: null,
      pressure: null,
      lanes: new Map([
        ["A", { inlet: null, outlet: null, flow, fanPower: null }],
        ["B", { inlet: null, outlet: null, flow: flow.slice(), fanPower: null }],
      ]),
    },
    irradianceWm2: 900,
    unsettledMinutes: 0,
    stagnationMeant: false,
    paused: false,
    ...change,
  };
}
const kinds = (change: Partial<WatchInput> = {}) => alarmsNow(watch(change)).map((a) => a.kind);
const withFlow = (f: (i: number) => number): Partial<WatchInput> => {
  const base = watch();
  const lanes = new Map(base.series.lanes);
  lanes.set("A", { ...lanes.get("A")!, flow: Float64Array.from({ length: 360 }, (_, i) => f(i)) });
  return { series: { ...base.series, lanes } };
};

describe("alarms", () => {
  test("a good bench has none", () => expect(kinds()).toEqual([]));

  test("a plate near what a layer bears, and over it; where no plate is measured the outlet tells", () => {
    const at = (plateC: number | null, outletC = 38) =>
      alarmsNow(
        watch({
          lanes: [lane("A", { outlet: measured(outletC) })],
          watched: [{ lane: "A", design: presetDesign("corrugated"), areaM2: 2, plateC, tankC: null }],
        }),
      );
    const limit = (at(900)[0] as { limitC: number }).limitC;
    expect(at(limit - 20)).toEqual([]);
    expect(at(limit - 5)).toMatchObject([{ kind: "hot", over: false, by: "plate" }]);
    expect(at(limit + 1)).toMatchObject([{ kind: "hot", over: true }]);
    expect(at(null, limit + 1)).toMatchObject([{ kind: "hot", by: "outlet" }]);
  });

  test("flow lost in the sun; not at night; not where stillness is meant", () => {
    const lost = withFlow((i) => (i > 350 ? 0 : 2));
    expect(kinds(lost)).toEqual(["flowLost"]);
    expect(kinds({ ...lost, irradianceWm2: 20 })).toEqual([]);
    expect(kinds({ ...lost, stagnationMeant: true })).toEqual([]);
    expect(kinds({ ...lost, irradianceWm2: null })).toEqual(["flowLost"]);
  });

  test("a fan that starts again and again hunts; one that sags does not", () => {
    expect(kinds(withFlow((i) => (i % 30 < 15 ? 2 : 0)))).toContain("hunting");
    expect(kinds(withFlow((i) => (i % 30 < 15 ? 2 : 1)))).not.toContain("hunting");
  });

  test("lanes with different flow, hot and freezing water, long unsettled", () => {
    expect(kinds({ lanes: [lane("A", { massFlow: measured(0.05) }), lane("B")] })).toEqual(["flowsApart"]);
    const water = { ...presetDesign("tubeSheet"), fluid: { kind: "water" as const } };
    const wet = (outletC: number, inletC = 20) =>
      alarmsNow(
        watch({
          lanes: [lane("A", { outlet: measured(outletC), inlet: measured(inletC) })],
          watched: [{ lane: "A", design: water, areaM2: 2, plateC: null, tankC: null }],
        }),
      );
    expect(wet(65)).toMatchObject([{ kind: "scald", boils: false }]);
    expect(wet(97)[0]).toMatchObject({ kind: "scald", boils: true });
    expect(wet(20, 1)).toMatchObject([{ kind: "freezing" }]);
    expect(kinds({ unsettledMinutes: 90 })).toEqual(["unsettled"]);
    expect(kinds({ unsettledMinutes: 90, paused: true })).toEqual([]);
  });

  test("a lost and a stuck probe, a silent logger, a wrong clock; old findings are none", () => {
    const channel = (value: number, reason?: "stuck" | "errorCode", ageMs = 0) => ({
      name: "A out",
      kind: "outlet" as const,
      lane: "A",
      latest: { atMs: NOW - 1000, value },
      unmovedMs: 0,
      device: "logger",
      goneSinceMs: null,
      findings: reason ? [{ reason, count: 9, firstMs: NOW - 1200_000 - ageMs, lastMs: NOW - ageMs }] : [],
    });
    expect(kinds({ channels: [channel(-127, "errorCode")] })).toEqual(["range"]);
    expect(kinds({ channels: [channel(40, "stuck")] })).toEqual(["stuck"]);
    expect(kinds({ channels: [channel(40, "stuck", 1800_000)] })).toEqual([]);
    expect(kinds({ channels: [{ ...channel(40), unmovedMs: 29 * 60_000 }] })).toEqual([]);
    expect(kinds({ channels: [{ ...channel(40), unmovedMs: 31 * 60_000 }] })).toEqual(["stuck"]);
    expect(kinds({ channels: [{ ...channel(0), kind: "speed", unmovedMs: 31 * 60_000 }] })).toEqual([]);
  });

  test("a channel that no longer comes is named; where others came instead, the device was set up anew", () => {
    const channel = (name: string, goneSinceMs: number | null) => ({
      name,
      device: "logger",
      kind: "outlet" as const,
      lane: "A",
      latest: null,
      unmovedMs: 0,
      goneSinceMs,
      findings: [],
    });
    const device = (came: string[]) => ({
      name: "logger",
      came,
      simulated: false,
      heardMs: NOW,
      intervalMs: 10_000,
      lagMs: 0,
      lagSinceMs: NOW,
    });
    const channels = [channel("T1", NOW - 600_000), channel("T2", null), channel("T3", NOW - 300_000)];
    const found = (came: string[]) => alarmsNow({ ...watch(), channels, devices: [device(came)] });
    expect(found([]).filter((a) => a.kind === "gone")).toEqual([
      { kind: "gone", lane: "A", channel: "T1", minutes: 10, channelKind: "outlet" },
      { kind: "gone", lane: "A", channel: "T3", minutes: 5, channelKind: "outlet" },
    ]);
    expect(found(["T9"]).filter((a) => a.kind === "rewired")).toEqual([
      { kind: "rewired", device: "logger", gone: ["T1", "T3"], came: ["T9"], sinceMs: NOW - 600_000 },
    ]);
    expect(found(["T9"]).some((a) => a.kind === "gone")).toBe(false);
    // A probe more is nothing that went.
    const all = alarmsNow({ ...watch(), channels: [channel("T2", null)], devices: [device(["T9"])] });
    expect(all.some((a) => a.kind === "gone" || a.kind === "rewired")).toBe(false);
  });

  test("a silent logger, a wrong clock: slow is not silent, and what was kept back is neither", () => {
    const device = (heardMs: number, lagMs: number | null, lagForMs = 3600_000, simulated = false) => ({
      name: "logger",
      came: [],
      simulated,
      heardMs,
      intervalMs: 10_000,
      lagMs,
      lagSinceMs: NOW - lagForMs,
    });
    const of = (d: ReturnType<typeof device>) => kinds({ devices: [d] });
    expect(of(device(NOW - 120_000, 0))).toEqual(["silent"]);
    expect(of(device(NOW - 3 * 3600_000, 0))).toEqual(["silent"]);
    expect(of(device(NOW - 5000, 90_000))).toEqual(["clock"]);
    expect(of(device(NOW - 5000, 2000))).toEqual([]);
    // An hour slow for minutes is a clock; an hour late a moment ago is a memory card being read out.
    expect(of(device(NOW - 5000, 3600_000))).toEqual(["clock"]);
    expect(of(device(NOW - 5000, 3600_000, 10_000))).toEqual([]);
    expect(of(device(NOW - 5000, -3600_000, 0))).toEqual(["clock"]);
    // A simulated bench has its own clock, and falls silent like any other.
    expect(of(device(NOW - 5000, 9e6, 3600_000, true))).toEqual([]);
    expect(of(device(NOW - 9e6, 9e6, 3600_000, true))).toEqual(["silent"]);
  });

  test("flows are compared while they flow: the minutes after a stop say nothing", () => {
    const apart = [lane("A", { massFlow: measured(0.05) }), lane("B")];
    expect(kinds({ lanes: apart })).toEqual(["flowsApart"]);
    expect(kinds({ lanes: apart, ...withFlow((i) => (i > 335 && i < 345 ? 0 : 2)) })).toEqual([]);
    expect(kinds({ lanes: apart, ...withFlow((i) => (i > 300 && i < 320 ? 0 : 2)) })).toEqual(["flowsApart"]);
  });

  test("people first: what endangers comes before what spoils data, and each has a name of its own", () => {
    const all = alarmsNow({
      ...watch({ unsettledMinutes: 90, ...withFlow((i) => (i > 350 ? 0 : 2)) }),
      watched: [{ lane: "A", design: presetDesign("corrugated"), areaM2: 2, plateC: 400, tankC: null }],
    });
    expect(all.map(isDanger)).toEqual([...all.map(isDanger)].sort((a, b) => Number(b) - Number(a)));
    expect(new Set(all.map(alarmKey)).size).toBe(all.length);
  });
});
