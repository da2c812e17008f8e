import type { Knex } from "knex";
import { freshDatabase } from "../../../scripts/testing/database";
import { run, twoBoxes } from "../../../scripts/testing/twoBoxes";
import { foldLayers } from "../../core/experiment/layers";
import { findExperiment } from "../../data/experiment/experiments";
import { findEvents } from "../../data/run/events";
import { addLayer, markLayersRemoved } from "../../data/run/layers";
import { analyse } from "../analysis/analyse";
import { markEvent } from "../live/commands";
import { importPage, stepPage } from "../page/pages";
import type { ImportRefused, ImportRequest } from "./importRequest";
import { importRun } from "./imports";
import { takeReadingBack } from "./readAgain";

let knex: Knex;
beforeAll(async () => {
  knex = await freshDatabase("readagain");
}, 60_000);
afterAll(() => knex.destroy());

const go = (asked: ImportRequest) => importRun(knex, asked, () => undefined, new AbortController().signal);
const refusal = (asked: ImportRequest) =>
  go(asked).then(
    () => null,
    (e: ImportRefused) => e.failure,
  );
const HOUR = 3600_000;

/** The two boxes with something wrong in how their file was read. */
async function imported(
  wrong: (file: ImportRequest["files"][number]) => void,
): Promise<{ id: number; asked: ImportRequest }> {
  const asked = await twoBoxes(knex);
  const slip = structuredClone(asked);
  wrong(slip.files[0]);
  return { id: (await go({ ...slip, accepted: ["everything"] })).experimentId, asked };
}
const again = (id: number, runId: number, asked: ImportRequest): ImportRequest => ({
  ...asked,
  target: { kind: "existing", experimentId: id },
  newLanes: [],
  replaces: runId,
});
const runsOf = async (id: number) => (await findExperiment(knex, id))!.runs;
const heats = async (id: number) =>
  (await analyse(knex, id))!.reduction.points.map((p) => [p.lane, p.startMs, Math.round(p.heat.value * 1e6) / 1e6]);

/** Both boxes' columns changed about: the careless mapping. */
const exchanged = ({ settings }: ImportRequest["files"][number]) => {
  const other = { A: "B", B: "A" } as Record<string, string>;
  settings.columns = settings.columns.map((c) => ({ ...c, lane: other[c.lane ?? ""] ?? c.lane }));
};
/** A zone without summer time, an hour off on these days. */
const wrongZone = ({ settings }: ImportRequest["files"][number]) => {
  settings.zone = "UTC+01:00";
};

test("columns exchanged at import are mended: the verdict is that of a right import, what lies over the run stays, and all comes back", async () => {
  const { id, asked } = await imported(exchanged);
  const right = (await go(asked)).experimentId;
  expect(await heats(id)).not.toEqual(await heats(right));
  const wrong = await heats(id);
  const [before] = await runsOf(id);
  const noon = run.log.times[Math.floor(run.log.times.length / 2)];
  for (const one of [id, right]) {
    const [r] = await runsOf(one);
    await addLayer(knex, one, r.id, {
      kind: "exclusion",
      detail: { lane: "A", fromMs: noon, toMs: noon + HOUR },
      reason: "somebody stood before it",
    });
    const pressed = { key: `event-of-experiment-${one}`, atMs: noon + 2 * HOUR, kind: "swap" as const };
    expect(
      await markEvent.run(knex, one, r.id, { ...pressed, lane: null, lanes: ["A", "B"], text: "", photoId: null }),
    ).toMatchObject({ ok: true });
  }
  const made = await go(again(id, before.id, asked));
  expect(made).toEqual({ experimentId: id, run: 2 });
  const runs = await runsOf(id);
  expect(runs.map((r) => r.number)).toEqual([2]);
  expect(await heats(id)).toEqual(await heats(right));
  const folded = foldLayers(runs[0].layers);
  expect(folded.exclusions).toEqual([{ lane: "A", fromMs: noon, toMs: noon + HOUR }]);
  expect(folded.arrangements).toHaveLength(2);
  const [event] = (await findEvents(knex, [runs[0].id])).get(runs[0].id)!;
  expect(runs[0].layers.map((l) => l.id)).toContain(event.layerId);

  // Judge says what it was before.
  const page = await stepPage(knex, id, "judge", Date.UTC(2026, 9, 8));
  if (!page || "lost" in page) throw new Error("no page");
  expect(page.reading).toMatchObject({ run: 2, from: 1 });
  expect(page.reading!.was!.kind).toBeDefined();

  // What was laid over it since would be lost: that comes first.
  const since = await addLayer(knex, id, runs[0].id, {
    kind: "exclusion",
    detail: { lane: "B", fromMs: noon, toMs: noon + HOUR },
    reason: "laid over the new reading",
  });
  expect(await takeReadingBack.run(knex, id)).toMatchObject({
    ok: false,
    error: expect.stringContaining("Remove them"),
  });
  expect((await runsOf(id)).map((r) => r.number)).toEqual([2]);
  await markLayersRemoved(knex, id, [since!], true);

  // Taken back it is as it was, its event on its own layer.
  expect(await takeReadingBack.run(knex, id)).toMatchObject({ ok: true });
  const back = await runsOf(id);
  expect(back.map((r) => r.id)).toEqual([before.id]);
  const [own] = (await findEvents(knex, [before.id])).get(before.id)!;
  expect(back[0].layers.map((l) => l.id)).toContain(own.layerId);
  expect((await heats(id)).length).toBeGreaterThan(0);
  expect(await heats(id)).not.toEqual(await heats(right));
  expect(wrong.length).toBeGreaterThan(0);
  expect(await takeReadingBack.run(knex, id)).toMatchObject({ ok: false });
}, 120_000);

test("a wrong zone is mended, and what was set aside on the chart moves with its readings", async () => {
  const { id, asked } = await imported(wrongZone);
  const [before] = await runsOf(id);
  const start = before.streams[0].startMs;
  await addLayer(knex, id, before.id, {
    kind: "exclusion",
    detail: { lane: null, fromMs: start + HOUR, toMs: start + 2 * HOUR },
    reason: "cloud of dust",
  });
  await go(again(id, before.id, asked));
  const [now] = await runsOf(id);
  const moved = now.streams[0].startMs - start;
  expect(moved).toBe(-HOUR);
  expect(foldLayers(now.layers).exclusions).toEqual([{ lane: null, fromMs: start, toMs: start + HOUR }]);
}, 120_000);

test("the page brings the files with how they were read; another experiment's, a deleted and a live run are refused", async () => {
  const { id, asked } = await imported(exchanged);
  const other = (await go(await twoBoxes(knex))).experimentId;
  const [before] = await runsOf(id);
  const page = await importPage(knex, before.id);
  expect(page.again).toMatchObject({ experimentId: id, run: { id: before.id } });
  expect(page.again!.files.map((f) => f.fileId)).toEqual(asked.files.map((f) => f.fileId));
  const shown = page.again!.files[0].settings.columns.find((c) => c.lane === "A")!;
  const was = asked.files[0].settings.columns.find((c) => c.index === shown.index)!;
  expect([shown.header, was.lane]).toEqual([was.header, "B"]);
  const runs = async () => Number((await knex("run").count({ n: "*" }))[0].n);
  const count = await runs();
  expect(await refusal(again(other, before.id, asked))).toMatchObject({ kind: "againGone" });
  await knex("run").where({ id: before.id }).update({ deleted_at: 1 });
  expect(await refusal(again(id, before.id, asked))).toMatchObject({ kind: "againGone" });
  expect((await importPage(knex, before.id)).again).toBeNull();
  expect(await runs()).toBe(count);
}, 120_000);
