import type { Knex } from "knex";

const parse = <T>(value: unknown): T => (typeof value === "string" ? JSON.parse(value) : value) as T;

/** What stays with the place; the rest of an old lane goes with the specimen. */
const OF_THE_PLACE = ["inletProbe", "outletProbe", "flow", "fanShare"];

interface OldLane {
  run_id: number;
  letter: string;
  station: number;
  setup: unknown;
}

const FLOWS = ["speed", "volumeFlow", "massFlow"];

function instrumentOf(kind: string, setup: Record<string, { key: string } & { meter?: { key: string } }>) {
  if (kind === "inlet") return setup.inletProbe.key;
  if (kind === "outlet") return setup.outletProbe.key;
  return FLOWS.includes(kind) ? setup.flow.meter!.key : null;
}

/**
 * One ordered list of layers a run, where there were four places: clock offsets of streams, spans set aside, calibrations
 * with flow factors, and who stood where. A run's lanes part into places and specimens, joined by an assignment layer
 * (channel → instrument → place → specimen) that later layers may change from an instant on. No reading is touched.
 * Spot readings get a table of their own.
 */
export async function up(knex: Knex): Promise<void> {
  await knex.schema.alterTable("run_layer", (t) => {
    t.integer("position").unsigned().notNullable().defaultTo(0);
    t.boolean("is_on").notNullable().defaultTo(true);
  });
  await knex.schema.createTable("spot_reading", (t) => {
    t.increments("id");
    t.integer("experiment_id").unsigned().notNullable().references("id").inTable("experiment").onDelete("CASCADE");
    t.integer("run_number").unsigned();
    t.bigInteger("at").notNullable();
    t.string("text", 300).notNullable();
    t.json("reading_values").notNullable();
  });
  const lanes: OldLane[] = await knex("run_lane").orderBy(["run_id", "letter"]);
  for (const run of await knex("run").select("id", "setup", "created_at")) {
    const own = lanes.filter((l) => l.run_id === run.id).map((l) => ({ ...l, setup: parse<object>(l.setup) }));
    await knex("run")
      .where({ id: run.id })
      .update({ setup: JSON.stringify({ ...parse<object>(run.setup), ...parted(own) }) });
    await layersOf(knex, run, own);
  }
  for (const spot of await knex("journal").where({ action: "spot reading" }).whereNotNull("experiment_id")) {
    const { text, values, run } = parse<{ text: string; values: object; run: number | null }>(spot.detail);
    await knex("spot_reading").insert({
      experiment_id: spot.experiment_id,
      run_number: run,
      at: spot.at,
      text: text.slice(0, 300),
      reading_values: JSON.stringify(values ?? {}),
    });
  }
  await knex("journal").where({ action: "spot reading" }).delete();
  await knex.schema.dropTable("exclusion");
  await knex.schema.dropTable("run_lane");
  await knex.schema.alterTable("stream", (t) => t.dropColumn("clock_offset_ms"));
  await knex.schema.alterTable("channel", (t) => t.dropColumn("lane"));
}

/** Two specimens at one place were possible before; the place keeps the first one's instruments. */
function parted(lanes: { letter: string; station: number; setup: object }[]) {
  const pick = (setup: object, place: boolean) =>
    Object.fromEntries(Object.entries(setup).filter(([key]) => OF_THE_PLACE.includes(key) === place));
  const places = new Map<number, object>();
  for (const { station, setup } of lanes) if (!places.has(station)) places.set(station, pick(setup, true));
  return {
    places: [...places].map(([station, setup]) => ({ station, setup })),
    specimens: lanes.map(({ letter, setup }) => ({ letter, setup: pick(setup, false) })),
  };
}

async function layersOf(
  knex: Knex,
  run: { id: number; created_at: number },
  lanes: { letter: string; station: number; setup: object }[],
): Promise<void> {
  const streams = await knex("stream").where({ run_id: run.id }).orderBy("id").select("id", "clock_offset_ms");
  const channels = await knex("channel")
    .whereIn(
      "stream_id",
      streams.map((s: { id: number }) => s.id),
    )
    .whereNotNull("kind")
    .orderBy(["stream_id", "channel_no"]);
  const mounts = channels.map((c: { stream_id: number; channel_no: number; kind: string; lane: string | null }) => {
    const lane = lanes.find((l) => l.letter === c.lane);
    return {
      streamId: c.stream_id,
      channelNo: c.channel_no,
      instrument: lane ? instrumentOf(c.kind, lane.setup as never) : null,
      station: lane?.station ?? null,
      fromMs: null,
      untilMs: null,
    };
  });
  const stands = lanes.map(({ letter, station }) => ({ station, lane: letter, fromMs: null, untilMs: null }));
  const insert = (kind: string, detail: object, reason: string, more: object = {}) =>
    knex("run_layer").insert({
      run_id: run.id,
      kind,
      detail: JSON.stringify(detail),
      reason,
      created_at: run.created_at,
      ...more,
    });
  await insert("cleaning", { keep: [] }, "as imported", { position: 0 });
  for (const s of streams)
    if (Number(s.clock_offset_ms) !== 0)
      await insert("clock", { streamId: s.id, offsetMs: Number(s.clock_offset_ms) }, "logger’s clock", { position: 1 });
  await insert("assignment", { mounts, stands }, "as imported", { position: 2 });
  await knex("run_layer").where({ run_id: run.id }).whereIn("kind", ["calibration", "flow"]).update({ position: 3 });
  for (const e of await knex("exclusion").where({ run_id: run.id }).orderBy("id"))
    await insert("exclusion", { lane: e.lane, fromMs: e.from_ms, toMs: e.to_ms }, e.reason, {
      position: 4,
      created_at: e.created_at,
      removed_at: e.removed_at,
    });
}

/** Goes back as far as the old tables can hold it: arrangements after the first, and layers that are off, are lost. */
export async function down(knex: Knex): Promise<void> {
  await knex.schema.alterTable("stream", (t) => {
    t.bigInteger("clock_offset_ms").notNullable().defaultTo(0);
  });
  await knex.schema.alterTable("channel", (t) => {
    t.specificType("lane", "CHAR(1)");
  });
  await knex.schema.createTable("run_lane", (t) => {
    t.integer("run_id").unsigned().notNullable().references("id").inTable("run").onDelete("CASCADE");
    t.specificType("letter", "CHAR(1) NOT NULL");
    t.integer("station").unsigned().notNullable();
    t.json("setup").notNullable();
    t.primary(["run_id", "letter"]);
  });
  await knex.schema.createTable("exclusion", (t) => {
    t.increments("id");
    t.integer("run_id").unsigned().notNullable().references("id").inTable("run").onDelete("CASCADE");
    t.specificType("lane", "CHAR(1)");
    t.double("from_ms").notNullable();
    t.double("to_ms").notNullable();
    t.string("reason", 300).notNullable();
    t.bigInteger("created_at").notNullable();
    t.bigInteger("removed_at");
  });
  for (const run of await knex("run").select("id", "setup")) await lanesBack(knex, run);
  for (const layer of await knex("run_layer").whereIn("kind", ["exclusion", "clock"]).where({ is_on: true })) {
    const detail = parse<{ lane: string | null; fromMs: number; toMs: number; streamId: number; offsetMs: number }>(
      layer.detail,
    );
    if (layer.kind === "clock")
      await knex("stream").where({ id: detail.streamId }).increment("clock_offset_ms", detail.offsetMs);
    else
      await knex("exclusion").insert({
        run_id: layer.run_id,
        lane: detail.lane,
        from_ms: detail.fromMs,
        to_ms: detail.toMs,
        reason: layer.reason,
        created_at: layer.created_at,
        removed_at: layer.removed_at,
      });
  }
  await knex("run_layer").whereNotIn("kind", ["calibration", "flow"]).delete();
  for (const spot of await knex("spot_reading"))
    await knex("journal").insert({
      at: spot.at,
      action: "spot reading",
      experiment_id: spot.experiment_id,
      detail: JSON.stringify({ text: spot.text, values: parse(spot.reading_values), run: spot.run_number }),
    });
  await knex.schema.dropTable("spot_reading");
  await knex.schema.alterTable("run_layer", (t) => t.dropColumns("position", "is_on"));
}

async function lanesBack(knex: Knex, run: { id: number; setup: unknown }): Promise<void> {
  const { places, specimens, ...setup } = parse<{
    places: { station: number; setup: object }[];
    specimens: { letter: string; setup: object }[];
  }>(run.setup);
  await knex("run")
    .where({ id: run.id })
    .update({ setup: JSON.stringify(setup) });
  const layer = await knex("run_layer").where({ run_id: run.id, kind: "assignment" }).orderBy("id").first("detail");
  if (!layer) return;
  const { mounts, stands } = parse<{
    mounts: { streamId: number; channelNo: number; station: number | null }[];
    stands: { station: number; lane: string }[];
  }>(layer.detail);
  for (const { letter, setup: own } of specimens) {
    const station = stands.find((s) => s.lane === letter)?.station;
    const place = places.find((p) => p.station === station);
    if (station !== undefined && place)
      await knex("run_lane").insert({
        run_id: run.id,
        letter,
        station,
        setup: JSON.stringify({ ...own, ...place.setup }),
      });
  }
  for (const m of mounts)
    await knex("channel")
      .where({ stream_id: m.streamId, channel_no: m.channelNo })
      .update({ lane: stands.find((s) => s.station === m.station)?.lane ?? null });
}
