import fc from "fast-check";
import { arrangementAt, foldLayers, stationOf, type RunLayer } from "./layers";
import { LAYER_DETAILS, RUN_LAYER_KINDS, type LayerDetail, type LayerKind } from "./schema/layer";

let id = 0;
const layer = <K extends LayerKind>(kind: K, detail: LayerDetail<K>, on = true): RunLayer =>
  ({ id: ++id, kind, detail, on, reason: "test", createdAt: 0 }) as RunLayer;
const stand = (station: number, lane: string | null, fromMs: number | null = null, untilMs: number | null = null) => ({
  station,
  lane,
  fromMs,
  untilMs,
});
const imported = layer("assignment", { mounts: [], stands: [stand(1, "A"), stand(2, "B")] });
const swap = (fromMs: number, on = true) =>
  layer("assignment", { mounts: [], stands: [stand(1, "B", fromMs), stand(2, "A", fromMs)] }, on);
const lanes = (layers: RunLayer[]) =>
  foldLayers(layers).arrangements.map((a) => [
    a.fromMs,
    a.untilMs,
    [...a.lanes]
      .sort(([x], [y]) => x - y)
      .map(([s, l]) => `${s}${l}`)
      .join(" "),
  ]);

describe("who stood where", () => {
  test("without a change there is one arrangement for the whole run", () => {
    expect(lanes([imported])).toEqual([[null, null, "1A 2B"]]);
  });
  test("a swap begins another at its instant; switched off it leaves no seam", () => {
    expect(lanes([imported, swap(1000)])).toEqual([
      [null, 1000, "1A 2B"],
      [1000, null, "1B 2A"],
    ]);
    expect(lanes([imported, swap(1000, false)])).toEqual([[null, null, "1A 2B"]]);
  });
  test("swapped and swapped back: three spans, the last like the first", () => {
    const back = layer("assignment", { mounts: [], stands: [stand(1, "A", 5000), stand(2, "B", 5000)] });
    expect(lanes([imported, swap(1000), back]).map(([, , who]) => who)).toEqual(["1A 2B", "1B 2A", "1A 2B"]);
  });
  test("a place can be empty for a while, and its lane then stands nowhere", () => {
    const away = layer("assignment", { mounts: [], stands: [stand(2, null, 1000, 2000)] });
    const { arrangements } = foldLayers([imported, away]);
    expect(arrangements.map((a) => a.lanes.size)).toEqual([2, 1, 2]);
    expect(stationOf(arrangements, "B", 1500)).toBeNull();
    expect(stationOf(arrangements, "B", 2500)).toBe(2);
    expect(arrangementAt(arrangements, 500).untilMs).toBe(1000);
  });
  test("arrangements cover all time without gap or overlap, whatever is laid over what", () => {
    const change = fc.record({
      station: fc.integer({ min: 1, max: 3 }),
      lane: fc.constantFrom("A", "B", "C", null),
      fromMs: fc.option(fc.integer({ min: 0, max: 50 }), { nil: null }),
      untilMs: fc.option(fc.integer({ min: 51, max: 100 }), { nil: null }),
    });
    fc.assert(
      fc.property(fc.array(change, { maxLength: 8 }), (stands) => {
        const { arrangements } = foldLayers([imported, layer("assignment", { mounts: [], stands })]);
        expect(arrangements[0].fromMs).toBeNull();
        expect(arrangements.at(-1)!.untilMs).toBeNull();
        for (let i = 1; i < arrangements.length; i++) expect(arrangements[i].fromMs).toBe(arrangements[i - 1].untilMs);
      }),
    );
  });
});

describe("what is measured with what", () => {
  const mount = (instrument: string, fromMs: number | null, untilMs: number | null) => ({
    streamId: 1,
    channelNo: 3,
    instrument,
    station: 1,
    fromMs,
    untilMs,
  });
  test("a probe changed in the middle: the channel is one instrument before and another after", () => {
    const { mounts } = foldLayers([
      layer("assignment", { mounts: [mount("old", null, null)], stands: [] }),
      layer("assignment", { mounts: [mount("new", 700, null)], stands: [] }),
    ]);
    expect(mounts.map((m) => [m.instrument, m.fromMs, m.untilMs])).toEqual([
      ["old", null, 700],
      ["new", 700, null],
    ]);
  });
});

describe("the other kinds", () => {
  test("clock shifts of a logger add up, findings kept are joined, the newest flow factor of a meter counts", () => {
    const flow = (factor: number) => ({ meter: "1", method: "traverse" as const, factor, limit: 0.01 });
    const folded = foldLayers([
      layer("clock", { streamId: 4, offsetMs: 60000 }),
      layer("clock", { streamId: 4, offsetMs: -5000 }),
      layer("clock", { streamId: 5, offsetMs: 7 }, false),
      layer("cleaning", { keep: ["stuck"] }),
      layer("cleaning", { keep: ["spike"] }),
      layer("flow", flow(0.8)),
      layer("flow", flow(0.9)),
      layer("exclusion", { lane: null, fromMs: 1, toMs: 2 }),
    ]);
    expect([...folded.clocks]).toEqual([[4, 55000]]);
    expect([...folded.keep].sort()).toEqual(["spike", "stuck"]);
    expect(folded.flowFactors.get("1")!.factor).toBe(0.9);
    expect(folded.exclusions).toHaveLength(1);
  });
  test("no layers at all still make one arrangement, with nobody in it", () => {
    expect(foldLayers([]).arrangements).toEqual([{ fromMs: null, untilMs: null, lanes: new Map() }]);
  });
  test("every kind has a shape of its own and refuses another's", () => {
    for (const kind of RUN_LAYER_KINDS) expect(LAYER_DETAILS[kind].safeParse({ nonsense: true }).success).toBe(false);
  });
});
