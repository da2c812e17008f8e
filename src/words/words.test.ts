import { failureText } from "./failure";
import { layerText, LAYER_WORDS, offsetWords } from "./layers";
import { clock, dated, dayOf, dayText, exact, timeOfDay, weekdayOf } from "./times";
import type { RunLayer } from "../core/experiment/layers";

const NOON = Date.UTC(2026, 9, 6, 10, 40, 10);
const ZONE = "Europe/Zurich";

describe("times stand on the clock of their site", () => {
  test.each([
    [clock(NOON, ZONE), "6 Oct, 12:40"],
    [dated(NOON, ZONE), "6 Oct 2026, 12:40"],
    [exact(NOON, ZONE), "6 Oct 2026, 12:40:10"],
    [timeOfDay(NOON, ZONE), "12:40"],
    [dayOf(NOON, ZONE), "6 Oct 2026"],
    [weekdayOf(NOON, ZONE), "Tue 6 Oct"],
    [weekdayOf(NOON, ZONE, "long"), "Tuesday 6 October"],
    [dayText("2026-10-06"), "Tue 6 Oct"],
  ])("%s", (written, expected) => expect(written).toBe(expected));
  test("the same moment is another day elsewhere", () => {
    expect(dayOf(Date.UTC(2026, 9, 6, 23, 30), "Pacific/Auckland")).toBe("7 Oct 2026");
  });
});

describe("layers in a line", () => {
  test.each([
    [125_000, "2 min 5 s slow"],
    [-3_600_000, "1 h fast"],
    [0, "0 s slow"],
    [400, "0 s slow"],
  ])("%d ms is %s", (ms, words) => expect(offsetWords(ms)).toBe(words));

  const base = { id: 1, reason: "because", on: true, atMs: NOON, position: 0 };
  const layer = (kind: RunLayer["kind"], detail: object) =>
    ({ ...base, kind, detail, name: "June bath" }) as unknown as RunLayer;
  test.each<[RunLayer, string]>([
    [layer("cleaning", { keep: [] }), "faults of instruments left out"],
    [layer("clock", { streamId: 4, offsetMs: 60_000 }), "shed.csv was 1 min slow"],
    [layer("clock", { streamId: 9, offsetMs: -1000 }), "a logger was 1 s fast"],
    [
      layer("assignment", {
        stands: [
          { station: 1, lane: "B", fromMs: NOON },
          { station: 2, lane: null, fromMs: NOON },
        ],
        mounts: [],
      }),
      "from 6 Oct, 12:40 1: B, 2: nobody",
    ],
    [layer("calibration", { probes: { p: {}, q: {} } }), "June bath, 2 probes"],
    [layer("flow", { meter: "vane", factor: 0.861, limit: 0.04 }), "meter vane: true ÷ shown 0.861 ± 0.040"],
    [layer("exclusion", { lane: null, fromMs: NOON, toMs: NOON + 60_000 }), "6 Oct, 12:40 to 6 Oct, 12:41, all lanes"],
  ])("$kind", (given, words) => {
    expect(layerText(given, ZONE, new Map([[4, "shed.csv"]]))).toBe(words);
    expect(LAYER_WORDS[given.kind]).toBeTruthy();
  });
});

describe("a page that failed blames what is at fault, and nothing else", () => {
  test("only without the database is the database named as silent", () => {
    expect(failureText("noDatabase", "77")).toMatch(/database does not answer.*under 77/);
    expect(failureText("well", null)).not.toMatch(/does not answer/);
    expect(failureText("silent", null)).toMatch(/bravel start/);
    expect(failureText("asking", null)).toMatch(/Looking/);
  });
});
