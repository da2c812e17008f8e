import type { Knex } from "knex";
import { foldLayers } from "@/core/experiment/layers";
import { RUN_LAYER_KINDS } from "@/core/experiment/schema/layer";
import { freshDatabase } from "../../../scripts/testing/database";
import { importTwoBoxes } from "../../../scripts/testing/twoBoxes";
import { findExperiment } from "../experiment/experiments";
import { addLayer, applyFlow, findLayers, markLayersRemoved, switchLayer } from "./layers";
import { findRuns, markRunDeleted } from "./runs";

let knex: Knex;
let id: number;
let runId: number;
beforeAll(async () => {
  knex = await freshDatabase("layers");
  id = await importTwoBoxes(knex);
  runId = (await findExperiment(knex, id))!.runs[0].id;
}, 90000);
afterAll(() => knex.destroy());

const layers = async () => (await findLayers(knex, [runId])).get(runId)!;
const aside = (fromMs: number) => ({
  kind: "exclusion" as const,
  detail: { lane: null, fromMs, toMs: fromMs + 60000 },
  reason: "cloud",
});

describe("layers over a run", () => {
  test("an import lays cleaning and who stood where, and no more", async () => {
    expect((await layers()).map((l) => [l.kind, l.on])).toEqual([
      ["cleaning", true],
      ["assignment", true],
    ]);
    expect((await findLayers(knex, [])).size).toBe(0);
  });

  test("stand in the order of their kinds however late they come, and within a kind by age", async () => {
    const [stream] = (await findExperiment(knex, id))!.runs[0].streams;
    const second = await addLayer(knex, id, runId, aside(2_000_000));
    const third = await addLayer(knex, id, runId, aside(1_000_000));
    await addLayer(knex, id, runId, {
      kind: "clock",
      detail: { streamId: stream.id, offsetMs: -5000 },
      reason: "side by side",
    });
    const order = (await layers()).map((l) => RUN_LAYER_KINDS.indexOf(l.kind));
    expect(order).toEqual([...order].sort((a, b) => a - b));
    const kept = (await layers()).filter((l) => l.kind === "exclusion").map((l) => l.id);
    expect(kept).toEqual([second, third]);
  });

  test("one switched off keeps its place and counts no more", async () => {
    const [first] = (await layers()).filter((l) => l.kind === "exclusion");
    const folded = async () => foldLayers(await layers()).exclusions.length;
    const before = await folded();
    expect(await switchLayer(knex, id, first.id, false)).toBe(true);
    expect((await layers()).map((l) => l.id)).toContain(first.id);
    expect(await folded()).toBe(before - 1);
    expect(await switchLayer(knex, id, first.id, true)).toBe(true);
    expect(await folded()).toBe(before);
  });

  test("what is removed is off the list, and every change is dated", async () => {
    const [first] = (await layers()).filter((l) => l.kind === "exclusion");
    expect(await markLayersRemoved(knex, id, [first.id], true)).toBe(1);
    expect((await layers()).map((l) => l.id)).not.toContain(first.id);
    expect(await markLayersRemoved(knex, id, [first.id], false)).toBe(1);
    const actions = await knex("journal").where({ experiment_id: id }).pluck("action");
    expect(actions).toEqual(expect.arrayContaining(["exclusion layer added", "layers removed", "layers put back"]));
  });

  test("one flow factor a meter: the new one takes the old one’s place, another meter’s stays", async () => {
    const detail = (meter: string, factor: number) => ({ meter, method: "traverse" as const, factor, limit: 0.01 });
    for (const [meter, factor] of [
      ["1", 0.8],
      ["2", 0.9],
      ["1", 0.85],
    ] as const)
      expect(await applyFlow(knex, id, { runIds: [runId], detail: detail(meter, factor), reason: "traverse" })).toBe(
        true,
      );
    const flows = (await layers()).flatMap((l) => (l.kind === "flow" ? [[l.detail.meter, l.detail.factor]] : []));
    expect(flows).toEqual([
      ["2", 0.9],
      ["1", 0.85],
    ]);
  });

  test("nobody reaches another experiment’s run or layer", async () => {
    const [first] = await layers();
    expect(await addLayer(knex, id + 1, runId, aside(0))).toBeNull();
    expect(await switchLayer(knex, id + 1, first.id, false)).toBe(false);
    expect(await markLayersRemoved(knex, id + 1, [first.id], true)).toBe(0);
    expect(
      await applyFlow(knex, id, {
        runIds: [runId, 4711],
        detail: { meter: "1", method: "traverse", factor: 1, limit: 0 },
        reason: "",
      }),
    ).toBe(false);
    expect((await layers()).every((l) => l.on)).toBe(true);
  });

  test("a detail that does not fit its kind is refused before it is written", async () => {
    const count = (await layers()).length;
    const wrong = { kind: "exclusion", detail: { lane: "A", fromMs: "noon" }, reason: "x" } as never;
    await expect(addLayer(knex, id, runId, wrong)).rejects.toThrow();
    expect(await layers()).toHaveLength(count);
  });
});

describe("runs", () => {
  test("come by experiment in order of their numbers, with their streams and layers", async () => {
    const runs = await findRuns(knex, [id, 4711]);
    expect(runs.get(id)!.map((r) => r.number)).toEqual([1]);
    expect(runs.get(id)![0].streams).toHaveLength(2);
    expect(runs.get(4711) ?? []).toEqual([]);
    expect((await findRuns(knex, [])).size).toBe(0);
  });

  test("a deleted one takes no more layers, and comes back with all it had", async () => {
    const before = (await findRuns(knex, [id])).get(id);
    expect(await markRunDeleted(knex, id + 1, runId, true)).toBe(false);
    expect(await markRunDeleted(knex, id, runId, true)).toBe(true);
    expect((await findRuns(knex, [id])).get(id) ?? []).toEqual([]);
    expect(await addLayer(knex, id, runId, aside(0))).toBeNull();
    expect(await markRunDeleted(knex, id, runId, false)).toBe(true);
    expect((await findRuns(knex, [id])).get(id)).toEqual(before);
  });
});
