import { sniffLog } from "../src/core/log/sniff";
import { designSchema } from "../src/core/experiment/schema/design";
import { experimentSettingsSchema } from "../src/core/experiment/schema/settings";
import { simulateBench } from "../src/core/rig/bench";
import { laneLogCsv, weatherLogCsv } from "./logFiles";
import { DEMO, SITE } from "./tansyRidge";

test("settings and variants of the demo pass the same gates as everybody's", () => {
  for (const demo of DEMO) {
    experimentSettingsSchema.parse(demo.settings);
    for (const lane of demo.lanes) designSchema.parse(lane.design);
    expect(demo.notes.length).toBe(demo.plan.runs.length);
    expect(demo.lanes.map((l) => l.letter)).toEqual(demo.plan.specimens.map((s) => s.lane));
  }
  expect(new Set(DEMO.map((d) => d.key)).size).toBe(DEMO.length);
});

describe("the absorber experiment", () => {
  const demo = DEMO.find((d) => d.key === "absorber-shapes")!;
  const runs = simulateBench({ ...demo.plan, stepS: 60 });
  test("has four lanes with an identical pair, five days, a cloudy one and a swap", () => {
    expect(demo.lanes.map((l) => l.variantKey)).toEqual(["corrugated", "mesh", "cans", "corrugated"]);
    const days = demo.plan.runs.flatMap((r) => r.days);
    expect(days).toHaveLength(5);
    expect(days.filter((d) => d.cloudiness > 0.5)).toHaveLength(1);
    expect(demo.plan.stepS).toBe(10);
    for (const s of demo.lanes.map((l) => l.letter))
      expect(demo.plan.runs[0].stations[s]).not.toBe(demo.plan.runs[1].stations[s]);
  });
  test("holds its planted faults", () => {
    const outlet = runs[0].log.lanes.get("B")!.outlet;
    expect([...outlet].filter((v) => v === -127).length).toBeGreaterThan(3);
    expect([...outlet].filter((v) => v === 85).length).toBeGreaterThan(0);
    const stuck = runs[1].log.lanes.get("C")!.inlet;
    let longest = 0;
    for (let i = 1, n = 1; i < stuck.length; i++)
      longest = Math.max(longest, (n = stuck[i] === stuck[i - 1] ? n + 1 : 1));
    expect(longest).toBeGreaterThan(50);
  });
  test("its two logs are read without help: lanes, units, day first, a zone of its own", () => {
    const lanes = sniffLog(laneLogCsv(runs[0].log, SITE.zone).slice(0, 20000), { whole: false });
    const weather = sniffLog(weatherLogCsv(runs[0].log).slice(0, 20000), { whole: false });
    if (!lanes.ok || !weather.ok) throw new Error("not understood");
    expect(lanes.layout).toMatchObject({
      delimiter: ";",
      timeFormat: { order: "dmy" },
      timeAmbiguous: false,
      timeHasZone: false,
    });
    expect(lanes.layout.columns.filter((c) => c.kind).map((c) => `${c.lane} ${c.kind}`)).toHaveLength(12);
    expect(weather.layout).toMatchObject({ delimiter: ",", timeHasZone: true });
    expect(weather.layout.columns.map((c) => c.kind)).toEqual([null, "irradiance", "ambient", "wind", "humidity"]);
  });
});
