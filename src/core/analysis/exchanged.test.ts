import { bench, day } from "../../../scripts/testing/threeLanes";
import { simulateBench } from "../rig/bench";
import { assembleRun, seriesFor, type LoggedChannel } from "./assemble";
import { outletsExchanged } from "./exchanged";

/** A day of three lanes whose fans and inlets are disturbed now and then, each lane at its own times: doors, filters, a heater. */
function run(seed: number, by: { inlet?: boolean; flow?: boolean }, exchange: boolean) {
  const [made] = simulateBench(
    bench(seed, { runs: [{ run: "1", days: [day(5), day(6)], stations: { A: 1, B: 2, C: 3 } }] }),
  );
  const slot = (ms: number, station: number) => (Math.floor(ms / 1_200_000) * (station + 3)) % 7 < 3;
  const disturbed = (c: LoggedChannel): LoggedChannel => {
    const station = c.station!;
    const inlet = made.channels.find((o) => o.kind === "inlet" && o.station === station)?.values;
    const values = c.values.map((v, i) => {
      if (!slot(c.times[i], station)) return v;
      if (c.kind === "speed") return by.flow ? v * 0.85 : v;
      if (c.kind === "inlet") return by.inlet ? v + 2 : v;
      if (c.kind !== "outlet") return v;
      // Less flow makes hotter air; a warmer inlet comes out warmer by most of it.
      const rise = (v - inlet![i]) * (by.flow ? 1.1 : 1);
      return inlet![i] + rise + (by.inlet ? 1.6 : 0);
    });
    return { ...c, values };
  };
  const channels = made.channels.map((c) => (c.station === null ? c : disturbed(c)));
  const mapped = channels.map((c) =>
    exchange && c.kind === "outlet" && c.station! < 3 ? { ...c, station: 3 - c.station! } : c,
  );
  return outletsExchanged(
    made.setup,
    seriesFor(assembleRun(mapped), made.setup.lanes, { fromMs: null, untilMs: null }),
  );
}

describe("whose outlet a column is", () => {
  test.each([
    ["the inlets", { inlet: true }, "inlet"],
    ["the flows", { flow: true }, "flow"],
    ["both", { inlet: true, flow: true }, "inlet"],
  ] as const)("is told by %s, where the lanes' own move apart", (_, by, told) => {
    expect(run(3, by, false)).toEqual([]);
    const found = run(3, by, true);
    expect(found.map((f) => f.lanes.join(""))).toEqual(["AB"]);
    expect(found[0].by).toBe(told);
    expect(found[0].sure).toBeGreaterThan(6);
  });

  test("is not told where nothing moves apart, and never wrongly on thirty honest benches", () => {
    expect(run(3, {}, true)).toEqual([]);
    for (let seed = 10; seed < 40; seed++) expect(run(seed, seed % 2 ? { flow: true } : {}, false)).toEqual([]);
  });
});
