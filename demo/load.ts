import { Readable } from "node:stream";
import type { Knex } from "knex";
import { BATH_DEFAULTS } from "../src/core/calibration/bathOptions";
import { simulateBath } from "../src/core/rig/bath";
import { benchProbes, simulateBench, type BenchRun } from "../src/core/rig/bench";
import { insertExperiment } from "../src/data/experiment/experiments";
import { insertEvent } from "../src/data/run/events";
import { savePlan } from "../src/data/plan/plans";
import { planSettingsSchema } from "../src/core/experiment/schema/plan";
import { insertVariant } from "../src/data/variant/variants";
import { storeFile } from "../src/data/file/files";
import { transact } from "../src/data/transact";
import { importRun, inspectFile } from "../src/services/import/imports";
import { type ImportRequest } from "../src/services/import/importRequest";
import { inspectBath, keepBath } from "../src/services/prove/calibrations";
import { AFTERNOON, afternoonRequest, afternoonSheet } from "./afternoon";
import { bathLogCsv, laneLogCsv, weatherLogCsv } from "./logFiles";
import { LIVE, loadLive } from "./live";
import { BENCH_PLANE, DEMO, SITE, TEN_WAYS, type DemoExperiment } from "./tansyRidge";

/** The demo's own files need no limits. */
const KEEP = { bytes: 1 << 29, stallMs: 600_000 };

/**
 * Loads the demo world through the same door as everybody's files: log text in, columns guessed, run imported.
 * What is already there, or was deleted by the user, is left alone.
 */
export async function loadDemoWorld(knex: Knex, note: (text: string) => void): Promise<void> {
  let loaded = 0;
  for (const demo of DEMO) {
    if (await knex("experiment").where({ demo_key: demo.key }).first("id")) continue;
    note(`simulating ${demo.name}`);
    // Whole or not at all: a start that is interrupted here loads it anew.
    await transact(knex, (trx) => loadExperiment(trx, demo, note));
    loaded++;
  }
  if (!(await knex("experiment").where({ demo_key: AFTERNOON.key }).first("id"))) {
    await transact(knex, loadAfternoon);
    loaded++;
  }
  if (!(await knex("experiment").where({ demo_key: TEN_WAYS.key }).first("id"))) {
    const site = await knex("site").where({ name: SITE.name }).first("id");
    const experimentId = await insertExperiment(knex, {
      name: TEN_WAYS.name,
      question: TEN_WAYS.question,
      siteId: site.id,
      settings: TEN_WAYS.settings(),
      demoKey: TEN_WAYS.key,
      lanes: [],
    });
    for (const { name, design } of TEN_WAYS.variants) await insertVariant(knex, experimentId, name, design);
    loaded++;
  }
  if (!(await knex("experiment").where({ demo_key: LIVE.key }).first("id"))) {
    note(`simulating ${LIVE.name}`);
    const site = await knex("site").where({ name: SITE.name }).first("id");
    await transact(knex, (trx) => loadLive(trx, site.id));
    loaded++;
  }
  note(loaded ? `${loaded} experiments loaded` : "already there");
}

async function loadExperiment(knex: Knex, demo: DemoExperiment, note: (text: string) => void): Promise<void> {
  const runs = simulateBench(demo.plan);
  let experimentId = 0;
  for (const [i, run] of runs.entries()) {
    note(`importing ${demo.name}, run ${i + 1} of ${runs.length}`);
    const files = [
      {
        name: `${demo.key}-run${i + 1}-lanes.csv`,
        text: laneLogCsv(run.log, SITE.zone, demo.plan.fluid ? "liquid" : "air"),
      },
      ...(demo.lanesOnly ? [] : [{ name: `${demo.key}-run${i + 1}-weather.csv`, text: weatherLogCsv(run.log) }]),
    ];
    const stored = await Promise.all(
      files.map(async (f) => {
        const file = await storeFile(knex, f.name, Readable.from([Buffer.from(f.text)]), KEEP);
        const inspection = await inspectFile(knex, file.id);
        if (!inspection?.layout) throw new Error(`demo log ${f.name} was not understood`);
        // The demo's days may lie ahead of a machine whose clock is not set.
        const answers = { oddDates: "right" } as const;
        return { fileId: file.id, settings: { ...inspection.layout, zone: SITE.zone, answers } };
      }),
    );
    const known = experimentId ? undefined : await knex("site").where({ name: SITE.name }).first("id");
    const request: ImportRequest = {
      target: experimentId
        ? { kind: "existing", experimentId }
        : {
            kind: "new",
            name: demo.name,
            question: demo.question,
            settings: demo.settings,
            site: known ? { kind: "known", id: known.id } : { kind: "new", ...SITE },
          },
      newLanes: experimentId ? [] : demo.lanes,
      run: { note: demo.notes[i] ?? "", ...runRequest(run) },
      files: stored,
    };
    const result = await importRun(knex, request, () => undefined, new AbortController().signal);
    experimentId = result.experimentId;
    await knex("experiment").where({ id: experimentId }).update({ demo_key: demo.key });
  }
  for (const { run, atMs, kind, lane } of demo.events ?? []) {
    const { id } = await knex("run").where({ experiment_id: experimentId, number: run }).first("id");
    await insertEvent(
      knex,
      id,
      { key: `${demo.key}-${kind}-${lane}-${atMs}`, atMs, kind },
      { lane, text: "", photoId: null, layerId: null },
    );
  }
  if (demo.bath) await loadBath(knex, demo, demo.bath);
  if (demo.planned) await savePlan(knex, experimentId, planSettingsSchema.parse(demo.planned));
  for (const { name, design } of demo.drafts ?? []) await insertVariant(knex, experimentId, name, design);
}

/** The notebook, as its sheet sends it. */
async function loadAfternoon(knex: Knex): Promise<void> {
  const { id: siteId } = await knex("site").where({ name: SITE.name }).first("id");
  const file = await storeFile(knex, "sheet-2026-11-03.csv", Readable.from([Buffer.from(afternoonSheet())]), KEEP);
  const request = afternoonRequest(file.id, { kind: "known", id: siteId });
  const { experimentId } = await importRun(knex, request, () => undefined, new AbortController().signal);
  await knex("experiment").where({ id: experimentId }).update({ demo_key: AFTERNOON.key });
}

/** The bath goes through the same door as everybody's: a file, its columns guessed, calibrated and kept. */
async function loadBath(knex: Knex, demo: DemoExperiment, bath: { name: string; dateMs: number }): Promise<void> {
  const log = simulateBath({
    seed: demo.plan.seed + 1,
    probes: benchProbes(demo.plan),
    startMs: bath.dateMs,
    minutes: 150,
    stepS: 10,
    fromC: 14,
    hotC: 74,
    roomC: 12,
    coolingMin: 80,
    gradientK: 0.02,
  });
  const file = await storeFile(knex, `${demo.key}-bath.csv`, Readable.from([Buffer.from(bathLogCsv(log))]), KEEP);
  const inspected = await inspectBath(knex, file.id);
  if (!inspected?.ok) throw new Error("the demo's bath was not understood");
  await keepBath(knex, bath.name, {
    fileId: file.id,
    zone: SITE.zone,
    columns: inspected.columns,
    options: BATH_DEFAULTS,
  });
}

function runRequest(run: BenchRun): Pick<ImportRequest["run"], "setup" | "lanes"> {
  return {
    setup: {
      plane: BENCH_PLANE,
      sunSensor: run.setup.sunSensor,
      ambientProbe: run.setup.ambientProbe,
      pressurePa: null,
      relativeHumidity: 0.5,
    },
    lanes: run.setup.lanes.map(
      ({ lane, station, fluid, inletProbe, outletProbe, flow, fanShare, timeConstantS, b0, b0Limit }) => ({
        letter: lane,
        station,
        setup: {
          fluid,
          areaLimitShare: 0.003,
          inletProbe,
          outletProbe,
          flow: flow.kind === "speed" ? { ...flow, ductLimitM: 0.0005 } : flow,
          fanShare,
          timeConstantS,
          b0,
          b0Limit,
        },
      }),
    ),
  };
}
