import { randomBytes } from "node:crypto";
import type { Knex } from "knex";
import { listSites } from "@/data/site/sites";
import { benchPage } from "@/services/page/pages";
import { findExperiment, listExperiments, markExperimentDeleted, patchSettings } from "@/data/experiment/experiments";
import { listProblems, markRunDeleted } from "@/data/run/runs";
import { runsWithFile } from "@/data/file/files";
import { addLayer, markLayersRemoved } from "@/data/run/layers";
import { BLOCK, readChannels } from "@/data/reading/readings";
import { analyse } from "@/services/analysis/analyse";
import { transact } from "@/data/transact";
import { importRun, madeByKey } from "@/services/import/imports";
import {
  ImportCancelled,
  ImportUnsure,
  type ImportAsks,
  type ImportProgress,
  type ImportRefused,
} from "@/services/import/importRequest";
import { runTraces } from "@/services/read/traces";
import { experimentView } from "@/services/page/views";
import { openWorking } from "@/services/working/working";
import { testDatabase } from "../../../scripts/testing/database";
import { keepFile, LANES, run, twoBoxes, WEATHER } from "../../../scripts/testing/twoBoxes";

const knex = testDatabase("imports");
const never = new AbortController().signal;
const keep = (name: string, content: string | Uint8Array, limit?: number) => keepFile(knex, name, content, limit);
const request = (lanes?: string) => twoBoxes(knex, lanes);

const rows = async () =>
  Promise.all(
    ["experiment", "run", "stream", "reading_block", "site", "variant"].map(async (t) =>
      Number((await knex(t).count({ n: "*" }))[0].n),
    ),
  );

describe("an import that is in doubt", () => {
  test("asks about its times, keeps nothing, and goes by the answer", async () => {
    const before = await rows();
    const minutes = LANES.replace(/^(\S+ \d\d:\d\d):\d\d/gm, "$1");
    const asked = await request(minutes);
    const asks = { kind: "asks", files: [{ name: "lanes.csv", questions: [{ kind: "sameTime" }] }], implausible: [] };
    await expect(importRun(knex, asked, () => undefined, never)).rejects.toMatchObject({ failure: asks });
    expect(await rows()).toEqual(before);
    asked.files[0].settings.answers = { sameTime: "spread" };
    const { experimentId: id } = await importRun(knex, asked, () => undefined, never);
    const { runs } = (await findExperiment(knex, id))!;
    expect((await readChannels(knex, runs[0].streams[0].id, [0])).get(0)).toEqual(run.log.times);
    await markExperimentDeleted(knex, id, true);
  }, 60000);

  test.each([
    ["in and out exchanged", { inlet: "outlet", outlet: "inlet" }, ["efficiencyBelowZero"]],
    ["one column for both ends", { outlet: "inlet" }, ["noRiseInSun"]],
  ])(
    "%s: named with its lane, nothing kept; said to be right, it is kept with its doubt",
    async (_, to, kinds) => {
      const before = await rows();
      const asked = await request();
      const { columns } = asked.files[0].settings;
      const source = new Map(columns.map((c) => [`${c.kind} ${c.lane}`, c.index]));
      const swapped = LANES.split("\r\n").map((line, i) => {
        const cells = line.split(";");
        const from = (c: (typeof columns)[number]) =>
          source.get(`${to[c.kind as keyof typeof to] ?? c.kind} ${c.lane}`);
        return i === 0 || cells.length < columns.length
          ? line
          : cells.map((cell, k) => (columns[k].lane === "A" ? cells[from(columns[k])!] : cell)).join(";");
      });
      const wrong = await request(swapped.join("\r\n"));
      const error = await importRun(knex, wrong, () => undefined, never).catch((e: ImportRefused) => e);
      const { implausible } = (error as ImportRefused).failure as ImportAsks;
      expect(implausible.map((f) => f.found.kind)).toEqual(kinds);
      expect(implausible[0].key).toBe(`${kinds[0]} A`);
      expect(await rows()).toEqual(before);
      const kept = await importRun(knex, { ...wrong, accepted: implausible.map((f) => f.key) }, () => undefined, never);
      const view = (await experimentView(knex, kept.experimentId))!;
      expect(view.doubts.find((d) => d.kind === "impossible")).toMatchObject({ found: { lane: "A" } });
      await markExperimentDeleted(knex, kept.experimentId, true);
    },
    60000,
  );
});

describe("an import with a key", () => {
  const key = () => randomBytes(16).toString("hex");

  test("sent again it finds its run; sent twice at once it is one", async () => {
    const before = await rows();
    const asked = { ...(await request()), key: key() };
    const [a, b] = await Promise.all([1, 2].map(() => importRun(knex, asked, () => undefined, never)));
    expect(b).toEqual(a);
    expect(await importRun(knex, asked, () => undefined, never)).toEqual(a);
    expect(await madeByKey(knex, asked.key)).toEqual(a);
    expect(await madeByKey(knex, key())).toBeUndefined();
    const [experiments, runs] = await rows();
    expect([experiments, runs]).toEqual([before[0] + 1, before[1] + 1]);
    await markExperimentDeleted(knex, a.experimentId, true);
  }, 60000);

  test("whose answer got lost at COMMIT finds out whether it was kept", async () => {
    const asked = { ...(await request()), key: key() };
    // Kept, but the connection dies before the answer comes.
    const losing = new Proxy(knex, {
      get: (target, name) =>
        name === "transaction"
          ? async (work: (trx: Knex.Transaction) => Promise<unknown>) => {
              await knex.transaction(work);
              throw Object.assign(new Error("Connection lost"), { code: "PROTOCOL_CONNECTION_LOST" });
            }
          : Reflect.get(target, name),
      apply: (target, _, args) => (target as unknown as (...a: unknown[]) => unknown)(...args),
    });
    const phases: string[] = [];
    const made = await importRun(losing, asked, (p) => phases.push(p.phase), never);
    expect(await madeByKey(knex, asked.key)).toEqual(made);
    expect(phases.at(-1)).toBe("done");
    await markExperimentDeleted(knex, made.experimentId, true);
  }, 60000);

  test("two imports into one experiment at once lose nothing, and are two runs", async () => {
    const first = await importRun(knex, await request(), () => undefined, never);
    const more = async () => ({
      ...(await request()),
      target: { kind: "existing" as const, experimentId: first.experimentId },
      newLanes: [],
      key: key(),
    });
    const both = await Promise.all([await more(), await more()].map((r) => importRun(knex, r, () => undefined, never)));
    expect(both.map((r) => r.run).sort()).toEqual([2, 3]);
    expect((await findExperiment(knex, first.experimentId))!.runs.map((r) => r.number)).toEqual([1, 2, 3]);
    await markExperimentDeleted(knex, first.experimentId, true);
  }, 60000);
});

describe("a deadlock", () => {
  test("is done again, and both changes stand", async () => {
    await knex.schema.createTable("pair", (t) => {
      t.integer("id").primary();
      t.integer("n").notNullable();
    });
    await knex("pair").insert([
      { id: 1, n: 0 },
      { id: 2, n: 0 },
    ]);
    let tries = 0;
    const both = (first: number, second: number) =>
      transact(knex, async (trx) => {
        tries++;
        await trx("pair").where({ id: first }).increment("n", 1);
        await new Promise((r) => setTimeout(r, 100));
        await trx("pair").where({ id: second }).increment("n", 1);
      });
    await Promise.all([both(1, 2), both(2, 1)]);
    expect(tries).toBeGreaterThan(2);
    expect(await knex("pair").orderBy("id").pluck("n")).toEqual([2, 2]);
    await knex.schema.dropTable("pair");
  }, 30000);
});

describe("importing a run", () => {
  let experimentId = 0;

  test("is all or nothing: cancelled half way, it leaves not a row", async () => {
    const before = await rows();
    const abort = new AbortController();
    const importing = importRun(
      knex,
      await request(),
      (p) => {
        if (p.phase === "writing") abort.abort();
      },
      abort.signal,
    );
    await expect(importing).rejects.toThrow(ImportCancelled);
    expect(await rows()).toEqual(before);
  }, 30000);

  test("a file without one readable row is refused, and nothing is kept", async () => {
    const before = await rows();
    const asked = await request();
    asked.files[0].settings.timeFormat = { kind: "unix", unit: "s" };
    await expect(importRun(knex, asked, () => undefined, never)).rejects.toMatchObject({ failure: { kind: "noRows" } });
    expect(await rows()).toEqual(before);
  }, 30000);

  test("whose connection dies at its very end says that it does not know, never that it is done or nothing was kept", async () => {
    const before = await rows();
    // The real answer to COMMIT on a connection that is gone.
    const transaction = async (work: (trx: Knex.Transaction) => Promise<unknown>) =>
      knex.transaction(async (trx) => {
        const [[{ id }]] = await trx.raw("SELECT CONNECTION_ID() AS id");
        const result = await work(trx);
        await knex.raw("KILL ?", [id]);
        return result;
      });
    const dying = new Proxy(knex, {
      get: (target, name) => (name === "transaction" ? transaction : Reflect.get(target, name)),
    });
    const phases: string[] = [];
    await expect(importRun(dying, await request(), (p) => phases.push(p.phase), never)).rejects.toThrow(ImportUnsure);
    expect(phases).toContain("writing");
    expect(phases).not.toContain("done");
    expect(await rows()).toEqual(before);
  }, 30000);

  test("stores every reading exactly as logged, with progress", async () => {
    const steps: ImportProgress[] = [];
    const lines = LANES.split("\r\n");
    lines.splice(50, 0, "not a row", "99.99.2026 10:00:00;1;2;3;4;5;6");
    const asked = await request(lines.join("\r\n"));
    ({ experimentId } = await importRun(knex, asked, (p) => steps.push(p), never));
    const stored = (await findExperiment(knex, experimentId))!;
    expect(steps.at(-1)).toMatchObject({
      phase: "done",
      streams: [{ summary: { rowsRejected: 2 } }, { summary: { rowsRejected: 0 } }],
    });
    const stream = stored.runs[0].streams[0];
    expect(stream.frames).toBe(run.log.times.length);
    expect(stream.frames % BLOCK).not.toBe(0);
    const readings = await readChannels(knex, stream.id, [0, 1, 2]);
    expect(readings.get(0)).toEqual(run.log.times);
    expect([...readings.get(1)!].map((v) => v.toFixed(2))).toEqual(
      [...run.log.lanes.get("A")!.inlet].map((v) => v.toFixed(2)),
    );
    expect(await listProblems(knex, stream.id)).toEqual([
      expect.objectContaining({ kind: "fieldCount", row: 51 }),
      expect.objectContaining({ kind: "badTime", row: 52, reason: "noSuchDate" }),
    ]);
  }, 30000);

  test("the same bytes dropped again are noticed", async () => {
    const again = await keep("again.csv", WEATHER);
    expect(await runsWithFile(knex, again.sha256)).toContainEqual({ experimentId, experiment: "Two boxes", run: 1 });
  });

  test("it is analysed, shown, and every figure opens", async () => {
    const view = (await experimentView(knex, experimentId))!;
    expect(view.points.length).toBeGreaterThan(10);
    expect(view.curves.map((c) => c.lane)).toEqual(["A", "B"]);
    const [first] = view.points;
    const refs = [
      { figure: "verdict" },
      { figure: "difference", a: "B", b: "A" },
      { figure: "laneHeat", lane: "A" },
      { figure: "coefficient", lane: "B", name: "a1" },
      ...(["efficiency", "heat", "massFlow", "rise"] as const).map((name) => ({
        figure: "point" as const,
        run: first.run,
        window: first.window,
        lane: first.lane,
        name,
      })),
    ] as const;
    for (const ref of refs) {
      const working = (await openWorking(knex, experimentId, ref))!;
      expect(working.inputs.length).toBeGreaterThan(0);
      expect(working.budget.reduce((s, b) => s + b.share, 0)).toBeLessThanOrEqual(1.0001);
      expect(working.budget[0].share).toBeGreaterThan(0);
      expect(working.figure.expanded).toBeGreaterThan(0);
    }
    expect(await openWorking(knex, experimentId, { figure: "laneHeat", lane: "H" })).toBeNull();
    expect(await openWorking(knex, 999999, { figure: "verdict" })).toBeNull();
    const ab = (await openWorking(knex, experimentId, { figure: "difference", a: "A", b: "B" }))!;
    const ba = (await openWorking(knex, experimentId, { figure: "difference", a: "B", b: "A" }))!;
    expect(ab.figure.si).toBeCloseTo(-ba.figure.si, 9);
  }, 30000);

  test("a point's working can be followed by hand", async () => {
    const analysis = (await analyse(knex, experimentId))!;
    const p = analysis.reduction.points[0];
    expect(p.heat.value).toBeCloseTo(p.massFlow.value * p.specificHeat.value * (p.outlet.value - p.inlet.value), 6);
    expect(p.efficiency.value).toBeCloseTo(p.heat.value / (2 * p.irradiance.value), 9);
    expect(p.massFlow.value).toBeCloseTo(
      p.density.value * (Math.PI / 4) * 0.125 ** 2 * 0.86 * p.indicatedFlow.value,
      9,
    );
  });

  test("traces are thinned by mean and count what was left out", async () => {
    const { runs } = (await findExperiment(knex, experimentId))!;
    const all = (await runTraces(knex, experimentId, runs[0].id, { buckets: 200 }))!;
    expect(all.traces.length).toBe(10);
    expect(all.traces.every((t) => t.mean.length === all.buckets)).toBe(true);
    const inlet = all.traces.find((t) => t.kind === "inlet" && t.lane === "A")!;
    const raw = run.log.lanes.get("A")!.inlet;
    expect(Math.max(...[...inlet.mean].filter((v) => !Number.isNaN(v)))).toBeLessThanOrEqual(Math.max(...raw) + 1e-3);
    expect(await runTraces(knex, experimentId, 999999, { buckets: 200 })).toBeNull();
  });

  test("a span set aside changes the answer and can be taken back", async () => {
    const before = (await experimentView(knex, experimentId))!;
    const w = before.runs[0].windows[0];
    const id = await addLayer(knex, experimentId, before.runs[0].id, {
      kind: "exclusion",
      detail: { lane: null, fromMs: w.startMs, toMs: w.endMs },
      reason: "door open",
    });
    const during = (await experimentView(knex, experimentId))!;
    expect(during.runs[0].windows.some((x) => x.startMs < w.endMs && x.endMs > w.startMs)).toBe(false);
    expect(await markLayersRemoved(knex, experimentId, [id!], true)).toBe(1);
    const after = (await experimentView(knex, experimentId))!;
    expect(after.points).toEqual(before.points);
    expect(Number((await knex("journal").where({ experiment_id: experimentId }).count({ n: "*" }))[0].n)).toBe(3);
  }, 30000);

  test("settings change the verdict's point and are kept; deletion can be undone", async () => {
    const stored = (await findExperiment(knex, experimentId))!;
    await patchSettings(knex, experimentId, {
      operatingPoint: { ...stored.settings.operatingPoint, inletC: 35 },
    });
    expect((await findExperiment(knex, experimentId))!.settings.operatingPoint.inletC).toBe(35);
    expect(await patchSettings(knex, experimentId, { smallestDifference: -1 })).toMatchObject({ ok: false });
    await markRunDeleted(knex, experimentId, stored.runs[0].id, true);
    expect((await experimentView(knex, experimentId))!.verdict).toEqual({ kind: "none", reason: "noRuns" });
    await markRunDeleted(knex, experimentId, stored.runs[0].id, false);
    await markExperimentDeleted(knex, experimentId, true);
    expect(await findExperiment(knex, experimentId)).toBeNull();
    await markExperimentDeleted(knex, experimentId, false);
    expect((await findExperiment(knex, experimentId))!.runs).toHaveLength(1);
  }, 30000);

  test("the bench keeps its sentence until something it rests on changes", async () => {
    const first = (await benchPage(knex, Date.now())).experiments.find((b) => b.head.id === experimentId)!;
    const kept = await knex("result_summary").where({ experiment_id: experimentId }).first("fingerprint");
    expect((await benchPage(knex, Date.now())).experiments.find((b) => b.head.id === experimentId)!.summary).toEqual(
      first.summary,
    );
    await patchSettings(knex, experimentId, { smallestDifference: 40 });
    await benchPage(knex, Date.now());
    expect(
      (await knex("result_summary").where({ experiment_id: experimentId }).first("fingerprint")).fingerprint,
    ).not.toBe(kept.fingerprint);
    expect((await listExperiments(knex)).length).toBeGreaterThan(0);
    expect((await listSites(knex)).map((s) => s.name)).toContain("Terrace");
  }, 30000);
});
