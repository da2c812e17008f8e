import { foldLayers, type RunLayer } from "./layers";
import type { Stand } from "./schema/layer";
import { changesOf, standsAfter } from "./swaps";

const HOUR = 3600000;
const base: Stand[] = [
  { station: 1, lane: "A", fromMs: null, untilMs: null },
  { station: 2, lane: "B", fromMs: null, untilMs: null },
  { station: 3, lane: "C", fromMs: null, untilMs: null },
];
let id = 0;
const layer = (stands: Stand[]): RunLayer => ({
  id: ++id,
  kind: "assignment",
  detail: { mounts: [], stands },
  reason: "",
  createdAt: 0,
  on: true,
});
const order = (layers: RunLayer[]) =>
  foldLayers(layers).arrangements.map(
    (a) => `${(a.fromMs ?? 0) / HOUR}:${[1, 2, 3].map((s) => a.lanes.get(s) ?? "-").join("")}`,
  );
const swapped = (layers: RunLayer[], hour: number, lanes: [string, string]) => [
  ...layers,
  layer(standsAfter(foldLayers(layers).arrangements, { atMs: hour * HOUR, lanes })!),
];

describe("boxes that change places", () => {
  test("stand exchanged from then on", () =>
    expect(order(swapped([layer(base)], 12, ["A", "B"]))).toEqual(["0:ABC", "12:BAC"]));
  test("and back again", () =>
    expect(order(swapped(swapped([layer(base)], 12, ["A", "B"]), 14, ["A", "B"]))).toEqual([
      "0:ABC",
      "12:BAC",
      "14:ABC",
    ]));
  test("a swap told of later, that came before another, leaves the other a swap", () => {
    const first = swapped([layer(base)], 14, ["A", "B"]);
    expect(order(swapped(first, 10, ["A", "B"]))).toEqual(["0:ABC", "10:BAC", "14:ABC"]);
    expect(order(swapped(first, 10, ["B", "C"]))).toEqual(["0:ABC", "10:ACB", "14:CAB"]);
  });
  test("two that do not both stand there do not change places", () => {
    const { arrangements } = foldLayers([layer(base)]);
    expect(standsAfter(arrangements, { atMs: 0, lanes: ["A", "X"] })).toBeNull();
    expect(standsAfter(arrangements, { atMs: 0, lanes: ["A", "A"] })).toBeNull();
  });
});

test("a column changes where its value does for good", () => {
  const times = [0, 1, 2, 3, 4, 5, 6].map((m) => m * 120000);
  expect(changesOf(times, [0, 0, NaN, 1, 1, 0, 0])).toEqual([360000, 600000]);
  expect(changesOf(times, [0, 0, 0, 0, 0, 0, 0])).toEqual([]);
  // A slip of ten seconds.
  expect(changesOf([0, 10000, 20000, 30000], [0, 0, 1, 0])).toEqual([]);
});
