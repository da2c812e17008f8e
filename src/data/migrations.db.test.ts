import { addLayer } from "@/data/run/layers";
import { listSpots, recordSpot } from "@/data/spot/spots";
import { readChannels } from "@/data/reading/readings";
import { findSite, insertSite } from "@/data/site/sites";
import { findExperiment } from "@/data/experiment/experiments";
import { migrate, migrateBackTo, migrateDown } from "@/data/migrate";
import { listVariants } from "@/data/variant/variants";
import { PLAIN_DETAIL } from "@/core/experiment/schema/site";
import { analyse } from "@/services/analysis/analyse";
import { importRun } from "@/services/import/imports";
import { testDatabase } from "../../scripts/testing/database";
import { importTwoBoxes, twoBoxes } from "../../scripts/testing/twoBoxes";

const knex = testDatabase("migrations");
const never = new AbortController().signal;
const request = (lanes?: string) => twoBoxes(knex, lanes);

describe("schema", () => {
  test("goes up, down and up again", async () => {
    await migrateDown(knex);
    const [gone] = (await knex.raw("SHOW TABLES LIKE 'reading_block'")) as [unknown[]];
    expect(gone).toHaveLength(0);
    await migrate(knex);
    const [there] = (await knex.raw("SHOW TABLES LIKE 'reading_block'")) as [unknown[]];
    expect(there).toHaveLength(1);
  }, 60000);
});

describe("a design's one mirror", () => {
  test("becomes a list of one, and goes back", async () => {
    const { experimentId } = await importRun(knex, await request(), () => undefined, never);
    await migrateBackTo(knex, "20261127_0011_mirrors");
    const [row] = await knex("variant_revision").orderBy("id", "desc").select("id", "design");
    const old = typeof row.design === "string" ? JSON.parse(row.design) : row.design;
    expect(old).toMatchObject({ reflector: null });
    expect(old).not.toHaveProperty("mirrors");
    const reflector = { material: "aluminium-bright", side: "top", lengthM: 1.2, angle: 95 };
    await knex("variant_revision")
      .where({ id: row.id })
      .update({ design: JSON.stringify({ ...old, reflector }) });
    await migrate(knex);
    const designs = (await findExperiment(knex, experimentId))!.lanes.map((l) => l.design);
    const mirrored = designs.find((d) => d.mirrors.length > 0)!;
    expect(mirrored.mirrors).toMatchObject([{ stand: "top", depthM: 1.2, angle: 95, widthM: null, up: null }]);
    expect(mirrored.thermostat).toBeNull();
    await migrateBackTo(knex, "20261127_0011_mirrors");
    const [back] = await knex("variant_revision").where({ id: row.id }).select("design");
    expect(typeof back.design === "string" ? JSON.parse(back.design) : back.design).toMatchObject({ reflector });
    await migrate(knex);
  }, 120000);
});

describe("variants that were a few words become designs", () => {
  test("with their areas kept by the specimen, and back again", async () => {
    const { experimentId } = await importRun(knex, await request(), () => undefined, never);
    await migrateBackTo(knex, "20261125_0002_designs");
    const [old] = await knex("variant_revision").orderBy("id").select("specification");
    const specification = typeof old.specification === "string" ? JSON.parse(old.specification) : old.specification;
    expect(specification).toMatchObject({ absorber: "flat", fluid: "air", covers: 1 });
    await knex("variant_revision").update({
      specification: JSON.stringify({
        ...specification,
        absorber: "mesh",
        grossAreaM2: 1.9,
        apertureAreaM2: 1.7,
        absorberAreaM2: 1.6,
      }),
    });
    await migrate(knex);
    const [lane] = (await findExperiment(knex, experimentId))!.lanes;
    expect(lane.design.layers.some((l) => l.kind === "absorber" && l.form === "mesh")).toBe(true);
    expect(lane.design.sketch).toBe(true);
    expect(lane.asBuilt).toMatchObject({ grossAreaM2: 1.9, apertureAreaM2: 1.7, absorberAreaM2: 1.6 });
    expect((await listVariants(knex, experimentId)).map((v) => v.letter)).toEqual(["A", "B"]);
    expect((await analyse(knex, experimentId))?.reduction.points.length).toBeGreaterThan(3);
  }, 120000);
});

describe("sites before they knew their skyline", () => {
  test("keep their turbidity as twelve months, and give it back when the step is undone", async () => {
    const id = await insertSite(knex, {
      name: "Old hut",
      latitude: 46,
      longitude: 9,
      altitudeM: 500,
      zone: "Europe/Zurich",
      detail: { ...PLAIN_DETAIL, turbidity: Array(12).fill(4) },
    });
    await migrateBackTo(knex, "20261125_0004_site_and_plan");
    expect(Number((await knex("site").where({ id }).first("linke_turbidity")).linke_turbidity)).toBe(4);
    await migrate(knex);
    expect((await findSite(knex, id))!.detail).toEqual({ ...PLAIN_DETAIL, turbidity: Array(12).fill(4) });
  }, 60000);
});

const kept = <T>(value: unknown): T => (typeof value === "string" ? JSON.parse(value) : value) as T;

describe("one fluid from the drawing on", () => {
  test("a drawn glycol box was measured as water; it is glycol with its share now, and the word goes back", async () => {
    const experimentId = await importTwoBoxes(knex);
    const [a, b] = (await findExperiment(knex, experimentId))!.lanes;
    await migrateBackTo(knex, "20261126_0005_one_fluid");
    const old = async (variantId: number) =>
      kept<Record<string, unknown>>(
        (await knex("variant_revision").where({ variant_id: variantId }).first("design")).design,
      );
    expect(await old(a.variantId)).toMatchObject({ fluid: "air", glycolShare: 0 });
    const wasWater = await knex("run_lane").where({ letter: "B" }).orderBy("run_id", "desc").first("setup", "run_id");
    expect(kept<{ fluid: unknown }>(wasWater.setup).fluid).toEqual({ kind: "air" });
    await knex("variant_revision")
      .where({ variant_id: b.variantId })
      .update({ design: JSON.stringify({ ...(await old(b.variantId)), fluid: "glycol", glycolShare: 0.4 }) });
    await migrate(knex);
    const lanes = (await findExperiment(knex, experimentId))!.lanes;
    expect(lanes.map((l) => l.design.fluid)).toEqual([{ kind: "air" }, { kind: "glycol", massFraction: 0.4 }]);
    // No lane of a run says otherwise than its drawing.
    const [run] = (await findExperiment(knex, experimentId))!.runs;
    expect(JSON.stringify(run)).not.toMatch(/"fluid":\{/);
    await migrateBackTo(knex, "20261126_0005_one_fluid");
    expect(await old(b.variantId)).toMatchObject({ fluid: "glycol", glycolShare: 0.4 });
    await migrate(knex);
    expect((await findExperiment(knex, experimentId))!.lanes).toEqual(lanes);
  }, 120000);
});

describe("layers and places", () => {
  let experimentId: number;
  beforeAll(async () => {
    experimentId = await importTwoBoxes(knex);
  }, 60000);
  const experiment = async () => (await findExperiment(knex, experimentId))!;

  test("clock, spans set aside and spot readings survive both ways, and no reading is touched", async () => {
    const [run] = (await experiment()).runs;
    const [stream] = run.streams;
    const span = { lane: "B", fromMs: stream.startMs + 60000, toMs: stream.startMs + 120000 };
    await addLayer(knex, experimentId, run.id, { kind: "exclusion", detail: span, reason: "a hand" });
    await addLayer(knex, experimentId, run.id, {
      kind: "clock",
      detail: { streamId: stream.id, offsetMs: -4000 },
      reason: "side by side",
    });
    await recordSpot(knex, experimentId, { text: "20 in, 41 out", values: { heatW: 812 } });
    const readings = await readChannels(knex, stream.id, [0, 1, 2]);
    const points = (await analyse(knex, experimentId))!.reduction.points.map((p) => p.efficiency.value);

    await migrateBackTo(knex, "20261126_0006_layers_and_places");
    expect(Number((await knex("stream").where({ id: stream.id }).first("clock_offset_ms")).clock_offset_ms)).toBe(
      -4000,
    );
    const [aside] = await knex("exclusion").where({ run_id: run.id });
    expect(aside).toMatchObject({ lane: "B", from_ms: span.fromMs, to_ms: span.toMs, reason: "a hand" });
    expect(await knex("run_lane").where({ run_id: run.id }).orderBy("letter").pluck("letter")).toEqual(["A", "B"]);
    expect(await knex("journal").where({ action: "spot reading" })).toHaveLength(1);

    await migrate(knex);
    const back = (await experiment()).runs[0];
    expect(back.layers.map((l) => l.kind)).toEqual(["cleaning", "clock", "assignment", "exclusion"]);
    expect(back.layers.find((l) => l.kind === "exclusion")!.detail).toEqual(span);
    expect(back.places).toEqual(run.places);
    expect(await readChannels(knex, stream.id, [0, 1, 2])).toEqual(readings);
    expect(await listSpots(knex, experimentId)).toMatchObject([{ text: "20 in, 41 out", run: 1 }]);
    expect(await knex("journal").where({ action: "spot reading" })).toHaveLength(0);
    expect((await analyse(knex, experimentId))!.reduction.points.map((p) => p.efficiency.value)).toEqual(points);
  }, 120000);

  test("every channel that counts stands at a place with its instrument, what all share at none", async () => {
    const [run] = (await experiment()).runs;
    const assignment = run.layers.find((l) => l.kind === "assignment")!;
    const { mounts, stands } = assignment.detail as {
      mounts: { station: number | null; instrument: string | null }[];
      stands: unknown[];
    };
    expect(stands).toHaveLength(2);
    expect(mounts.filter((m) => m.station === 1).map((m) => m.instrument)).toEqual(["1-in", "1-out", "1"]);
    expect(mounts.some((m) => m.station === null)).toBe(true);
  });
});
