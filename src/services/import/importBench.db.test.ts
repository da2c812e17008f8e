import { foldLayers } from "@/core/experiment/layers";
import { readChannels } from "@/data/reading/readings";
import { continueRun } from "@/services/import/continueRun";
import { simulateBench } from "@/core/rig/bench";
import { findExperiment } from "@/data/experiment/experiments";
import { importRun, inspectFile } from "@/services/import/imports";
import type { ImportAsks, ImportRefused, ImportRequest } from "@/services/import/importRequest";
import { experimentView } from "@/services/page/views";
import { laneLogCsv, weatherLogCsv } from "../../../demo/logFiles";
import { testDatabase } from "../../../scripts/testing/database";
import { keepFile, LANES, run, twoBoxes } from "../../../scripts/testing/twoBoxes";
import { AS_OUTSIDE, clearDays, oneRun, testBench, testLane } from "../../../scripts/testing/bench";

const knex = testDatabase("importbench");

const go = (asked: ImportRequest) => importRun(knex, asked, () => undefined, new AbortController().signal);
const refusal = (asked: ImportRequest) =>
  go(asked).then(
    () => null,
    (e: ImportRefused) => e.failure,
  );

/** The log of two days as its places saw it: at noon of the second day the boxes change places, and the columns stay with the places. */
const NOON = Date.UTC(2026, 9, 6, 10, 40);
const [head, ...lines] = LANES.trimEnd().split("\r\n");
const places = [
  `${head};swap`,
  ...lines.map((line, i) => {
    const c = line.split(";");
    const late = run.log.times[i] >= NOON;
    const [time, a, b] = [c[0], c.slice(1, 4), c.slice(4, 7)];
    return [time, ...(late ? [...b, ...a] : [...a, ...b]), late ? 1 : 0].join(";");
  }),
].join("\r\n");

/** The request with its last column mapped as told. */
async function asPlaces(swapColumn: boolean): Promise<ImportRequest> {
  const asked = await twoBoxes(knex, `${places}\r\n`);
  const { columns } = asked.files[0].settings;
  const last = columns[columns.length - 1];
  asked.files[0].settings.columns = [
    ...columns.slice(0, -1),
    { ...last, kind: swapColumn ? "swap" : null, unit: swapColumn ? "1" : null },
  ];
  return asked;
}
const ratio = async (id: number) => {
  const { tested } = (await experimentView(knex, id))!;
  return tested!.by[0].pairs[0].ratio;
};

describe("one file, two arrangements", () => {
  test("a swap column is found by its name, and its change is a swap that can be switched off", async () => {
    const asked = await twoBoxes(knex, `${places}\r\n`);
    expect(asked.files[0].settings.columns.at(-1)).toMatchObject({ kind: "swap" });
    const { experimentId } = await go(asked);
    const { runs } = (await findExperiment(knex, experimentId))!;
    const { arrangements } = foldLayers(runs[0].layers);
    expect(arrangements.map((a) => [...a.lanes.values()].join(""))).toEqual(["AB", "BA"]);
    expect(Math.abs(arrangements[1].fromMs! - NOON)).toBeLessThan(60000);
    expect(runs[0].layers.map((l) => l.reason)).toContain("swap told by a column of the log");
  }, 60000);

  test("told in a column, typed, or logged by box: one verdict; not told, another", async () => {
    const column = await ratio((await go(await asPlaces(true))).experimentId);
    const typed = await asPlaces(false);
    typed.run.swaps = [{ atMs: NOON, lanes: ["A", "B"] }];
    const byHand = await ratio((await go(typed)).experimentId);
    const byBox = await ratio((await go(await twoBoxes(knex))).experimentId);
    const untold = await ratio((await go(await asPlaces(false))).experimentId);
    expect(byHand).toBeCloseTo(column, 3);
    expect(column).toBeCloseTo(byBox, 1);
    expect(Math.abs(column - byBox)).toBeLessThan(0.3 * Math.abs(untold - byBox));
  }, 120000);

  test("a column that changes all the time, or a swap outside the log, is refused with the way out", async () => {
    const flicker = await twoBoxes(
      knex,
      [`${head};swap`, ...lines.map((l, i) => `${l};${Math.floor(i / 5) % 2}`)].join("\r\n") + "\r\n",
    );
    expect(await refusal(flicker)).toMatchObject({ kind: "swapsUnclear", lanes: 2 });
    const outside = await asPlaces(false);
    outside.run.swaps = [{ atMs: NOON + 9e8, lanes: ["A", "B"] }];
    expect(await refusal(outside)).toMatchObject({ kind: "swapOutside" });
    const stranger = await asPlaces(false);
    stranger.run.swaps = [{ atMs: NOON, lanes: ["A", "C"] }];
    expect(await refusal(stranger)).toMatchObject({ kind: "laneUnknown" });
  }, 60000);
});

describe("two loggers in one run", () => {
  const [cloudy] = simulateBench(
    testBench({
      seed: 8,
      stepS: 20,
      hours: [10, 16],
      specimens: [testLane("A", "A"), testLane("B", "B")],
      inletProgram: AS_OUTSIDE,
      runs: oneRun(clearDays([5], { cloudiness: 0.4 })),
    }),
  );
  const SLOW = 420_000;
  async function twoLoggers(slowMs: number): Promise<ImportRequest> {
    const asked = await twoBoxes(knex, laneLogCsv(cloudy.log, "Europe/Zurich"));
    const shifted = { ...cloudy.log, times: cloudy.log.times.map((t) => t - slowMs) };
    const file = await keepFile(knex, "weather.csv", weatherLogCsv(shifted));
    return { ...asked, files: [asked.files[0], { ...asked.files[1], fileId: file.id }] };
  }

  test("clocks that disagree are named with how much and its ±; moved, the layer says so and nothing is asked", async () => {
    const asked = await twoLoggers(SLOW);
    const asks = (await refusal(asked)) as ImportAsks;
    const found = asks.implausible.map((i) => i.found).find((f) => f.kind === "clocksApart")!;
    expect(found).toMatchObject({ streams: [0, 1] });
    if (found.kind !== "clocksApart") return;
    expect(Math.abs(found.slowMs - SLOW)).toBeLessThan(3 * found.standardMs);
    expect(found.standardMs).toBeLessThan(240_000);
    asked.files[1].clock = { offsetMs: SLOW, standardMs: found.standardMs };
    const { experimentId } = await go(asked);
    const { runs } = (await findExperiment(knex, experimentId))!;
    expect(runs[0].layers.find((l) => l.kind === "clock")!.detail).toMatchObject({ offsetMs: SLOW });
    expect((await experimentView(knex, experimentId))!.doubts.filter((d) => d.kind === "impossible")).toEqual([]);
  }, 60000);

  test("clocks that agree raise no question", async () => {
    expect(await refusal(await twoLoggers(0))).toBeNull();
  }, 60000);
});

describe("a logger that wrote on", () => {
  const all = LANES.trimEnd().split("\r\n");
  const most = all.length - 7;
  const part = (n: number) => `${all.slice(0, n).join("\r\n")}\r\n`;

  test("its mapping is remembered by its headers, and its new rows go on in its run, once", async () => {
    const asked = await twoBoxes(knex, part(900));
    const { columns } = asked.files[0].settings;
    const slow = columns.map((c) => (c.kind === "speed" ? { ...c, unit: "m/s" } : c));
    asked.files[0].settings.columns = slow;
    asked.files[0].clock = { offsetMs: 5000, standardMs: 1000 };
    const { experimentId, run: number } = await go(asked);

    const grown = await keepFile(knex, "lanes.csv", part(most));
    const seen = (await inspectFile(knex, grown.id))!;
    expect(seen.before).toMatchObject({ experimentId, run: number });
    expect(seen.before!.settings.columns.map((c) => [c.kind, c.lane, c.unit])).toEqual(
      slow.map((c) => [c.kind, c.lane, c.unit]),
    );
    expect(seen.grown).toMatchObject({
      experimentId,
      run: number,
      newBytes: part(most).length - part(900).length,
    });

    expect(await continueRun.run(knex, grown.id)).toMatchObject({ ok: true, rows: most - 900 });
    const [stored] = (await findExperiment(knex, experimentId))!.runs;
    expect(stored.streams).toHaveLength(3);
    const own = stored.streams.filter((s) => s.name === "lanes.csv");
    const times = await Promise.all(own.map(async (s) => [...(await readChannels(knex, s.id, [0])).get(0)!]));
    expect(times.flat()).toEqual([...run.log.times].slice(0, most - 1));
    const { mounts, clocks } = foldLayers(stored.layers);
    for (const s of own) expect(mounts.filter((m) => m.streamId === s.id && m.station === 2)).toHaveLength(3);
    expect(own.map((s) => clocks.get(s.id))).toEqual([5000, 5000]);

    // The same file once more is in already, and adds nothing.
    expect((await inspectFile(knex, grown.id))!.alreadyIn).toHaveLength(1);
    expect(await continueRun.run(knex, grown.id)).toMatchObject({ ok: false });
  }, 60000);

  test("a file of its own has nothing to go on from, whatever its name", async () => {
    const other = await keepFile(knex, "lanes.csv", part(500).replace(/;(\d)/, ";9$1"));
    expect((await inspectFile(knex, other.id))!.grown).toBeNull();
    expect(await continueRun.run(knex, other.id)).toMatchObject({ ok: false });
    expect(await continueRun.run(knex, 999_999)).toMatchObject({ ok: false });
  });
});
