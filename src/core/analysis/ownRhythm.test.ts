import { stopsVerdict } from "../judge/doubt/dismissed";
import { standardRules } from "../log/windows";
import { CORRUGATED, simulateBench } from "../rig/bench";
import type { RigCollector } from "../rig/simulate";
import { implausibleWords } from "../../words/implausible";
import { assembleRun, type LoggedChannel } from "./assemble";
import { reduceRun, wholeRun } from "./reduce";
import type { RunSetup } from "./setup";

const OUTSIDE = [{ fromHour: 0, aboveAmbientK: 0 }];
function bench(cloudiness: number, collectors: Record<string, RigCollector>, seed = 5, inletProgram = OUTSIDE) {
  const letters = Object.keys(collectors);
  const [run] = simulateBench({
    seed,
    stepS: 60,
    hours: [8, 18],
    accuracy: { probeK: 0.3, speedShare: 0.03, profileLimit: 0.03, sunShare: 0.03, ambientK: 0.3, stationShare: 0.005 },
    inletProgram,
    specimens: letters.map((lane) => ({
      lane,
      variant: lane,
      collector: collectors[lane],
      areaM2: 2,
      massFlowKgPerS: 0.04,
    })),
    runs: [
      {
        run: "1",
        stations: Object.fromEntries(letters.map((l, i) => [l, i + 1])),
        days: [5, 6].map((d) => ({ dateMs: Date.UTC(2026, 8, d, 10), cloudiness, meanAmbientC: 9, meanWind: 1.5 })),
      },
    ],
  });
  return run;
}
const reduced = (setup: RunSetup, channels: LoggedChannel[]) =>
  reduceRun(wholeRun(setup, assembleRun(channels)), { rules: standardRules("air"), basis: "mean" });
const found = (setup: RunSetup, channels: LoggedChannel[]) =>
  reduced(setup, channels).implausible.filter((f) => f.kind === "riseByItself");

const { setup, channels } = bench(0.1, { A: CORRUGATED, B: CORRUGATED });
const of = (kind: string, station: number) => channels.find((c) => c.kind === kind && c.station === station)!;
/** On for 25 minutes and off for 20. */
const isOff = (i: number) => i % 45 >= 25;
const inlet = of("inlet", 1).values;
/** A's fan goes on and off: while it stands its outlet is hotter; its speed was not logged. */
const cycled = (leave: (c: LoggedChannel) => boolean = () => true) =>
  channels
    .filter((c) => !(c.kind === "speed" && c.station === 1) && leave(c))
    .map((c) =>
      c === of("outlet", 1)
        ? { ...c, values: c.values.map((v, i) => (isOff(i) ? inlet[i] + 1.6 * (v - inlet[i]) : v)) }
        : c,
    );
const stated: RunSetup = {
  ...setup,
  lanes: setup.lanes.map((l) => (l.lane === "A" ? { ...l, flow: { ...l.flow, stated: 3 } as typeof l.flow } : l)),
};
const power = (watts: (i: number) => number): LoggedChannel => ({
  ...of("inlet", 1),
  id: 900,
  name: "A fan power",
  kind: "fanPower",
  values: inlet.map((_, i) => watts(i)),
});

describe("a fan that goes on and off while its flow is stated as if it ran", () => {
  test("is named with what to log, and no verdict stands on it until somebody says that it ran", () => {
    for (const leave of [() => true, (c: LoggedChannel) => c.kind !== "irradiance"]) {
      const [rhythm, ...more] = found(stated, cycled(leave));
      expect(more).toEqual([]);
      expect(rhythm).toMatchObject({ kind: "riseByItself", lane: "A" });
      expect(rhythm.ratio).toBeGreaterThan(1.3);
      const doubt = { kind: "impossible", run: "1", found: rhythm, accepted: false, effect: null } as const;
      expect(stopsVerdict(doubt)).toBe(true);
      expect(stopsVerdict({ ...doubt, accepted: true })).toBe(false);
      expect(implausibleWords(rhythm, { zone: "UTC", system: "metric" }).title).toBe(
        "A’s rise goes up and down by itself",
      );
    }
  });

  test("counts while the fan draws power, where that was logged: its heat is then the fan's own hours", () => {
    const run = power((i) => (isOff(i) ? 0.4 : 22));
    expect(found(stated, [...cycled(), run])).toEqual([]);
    const heat = (list: LoggedChannel[]) =>
      reduced(stated, list)
        .heat.days.filter((d) => d.lane === "A")
        .reduce((s, d) => s + d.energy.value, 0);
    const [through, while_] = [heat(cycled()), heat([...cycled(), run])];
    // 25 of 45 minutes, and without the heat that nothing carried away.
    expect(while_ / through).toBeLessThan(0.55);
    expect(while_ / through).toBeGreaterThan(0.3);
    // One that draws always runs always.
    expect(heat([...cycled(), power(() => 22)])).toBeCloseTo(through, 0);
  });

  test("is left to its own line where the meter saw it stop", () => {
    const seen = channels.map((c) => {
      if (c === of("outlet", 1)) return { ...c, values: cycled().find((x) => x.id === c.id)!.values };
      return c === of("speed", 1) ? { ...c, values: c.values.map((v, i) => (isOff(i) ? 0 : v)) } : c;
    });
    expect(found(setup, seen)).toEqual([]);
  });
});

test("clouds move every box's rise, quick ones and slow ones: none is named, with a sun sensor and without", () => {
  const slow = { ...CORRUGATED, capacity: 16000, backCapacity: 9000 };
  const quick = { ...CORRUGATED, capacity: 1800, backCapacity: 800 };
  for (const cloudiness of [0.1, 0.45, 0.75])
    for (const seed of [3, 8]) {
      const run = bench(cloudiness, { A: quick, B: slow, C: CORRUGATED }, seed);
      expect(found(run.setup, run.channels)).toEqual([]);
      const noSun = run.channels.filter((c) => c.kind !== "irradiance");
      expect(found(run.setup, noSun)).toEqual([]);
      const pair = noSun.filter((c) => c.station !== 3);
      expect(found({ ...run.setup, lanes: run.setup.lanes.slice(0, 2) }, pair)).toEqual([]);
    }
});

test("an inlet that is warmed in steps, again and again, is no fan that stops", () => {
  const steps = Array.from({ length: 16 }, (_, i) => ({ fromHour: 8 + 0.6 * i, aboveAmbientK: i % 2 ? 2 : 16 }));
  for (const seed of [1, 2, 3]) {
    const run = bench(0.05, { A: CORRUGATED, B: CORRUGATED }, seed, steps);
    expect(found(run.setup, run.channels)).toEqual([]);
  }
});
