import type { Knex } from "knex";
import { noteChange } from "./journal";
import type { z } from "zod";
import type { BrokenKind, BrokenPart } from "../core/experiment/records";
import { calibrationSchema, instrumentSchema } from "../core/experiment/schema/calibration";
import {
  asBuiltSchema,
  billSchema,
  checklistSchema,
  designSchema,
  materialSchema,
} from "../core/experiment/schema/design";
import { LAYER_DETAILS, RUN_LAYER_KINDS, type LayerKind } from "../core/experiment/schema/layer";
import { planSettingsSchema, unavailableSchema } from "../core/experiment/schema/plan";
import { storedRunSchema } from "../core/experiment/schema/run";
import { experimentSettingsSchema } from "../core/experiment/schema/settings";
import { standardSettings } from "../core/experiment/standardSettings";
import { climateSchema, PLAIN_DETAIL, siteDetailSchema } from "../core/experiment/schema/site";
import { isZone } from "../core/log/zone";
import { faultOf } from "./json";
import { transact } from "./transact";

interface Row {
  id: number | string;
  experimentId: number | null;
  name: string;
  value: unknown;
  kind?: string;
}

/** Where a kind of part is stored, how it is read, and how it is put away so that the rest can be shown. */
interface Store {
  rows(knex: Knex): Promise<Row[]>;
  schema: z.ZodType;
  fault?(row: Row): string | null;
  /** Done after the old value went into the journal. */
  putAway(trx: Knex, id: number | string): Promise<number>;
}

const marked = (table: string, mark: string, key = "id") => ({
  putAway: (trx: Knex, id: number | string) =>
    trx(table)
      .where({ [key]: id })
      .update({ [mark]: Date.now() }),
});
const replaced = (table: string, column: string, value: unknown, key = "id") => ({
  putAway: (trx: Knex, id: number | string) =>
    trx(table)
      .where({ [key]: id })
      .update({ [column]: value }),
});
const none = { experimentId: null } as const;
/** A variant or specimen belongs to each experiment it stands in; the first names it. */
const FIRST_EXPERIMENT =
  "(SELECT MIN(experiment_id) FROM experiment_variant ev WHERE ev.variant_id = v.id AND ev.removed_at IS NULL)";

const STORES: Record<BrokenKind, Store> = {
  settings: {
    schema: experimentSettingsSchema,
    rows: (knex) =>
      knex("experiment")
        .whereNull("deleted_at")
        .select({ id: "id", experimentId: "id", name: "name", value: "settings" }),
    ...replaced("experiment", "settings", JSON.stringify(standardSettings("air"))),
  },
  site: {
    schema: siteDetailSchema,
    rows: async (knex) =>
      (await knex("site").select({ id: "id", name: "name", value: "detail", kind: "zone" })).map((r: Row) => ({
        ...r,
        ...none,
      })),
    fault: ({ kind }) => (isZone(kind!) ? null : `the time zone “${kind}” is not known`),
    async putAway(trx, id) {
      const { zone } = await trx("site").where({ id }).first("zone");
      return trx("site")
        .where({ id })
        .update({ detail: JSON.stringify(PLAIN_DETAIL), ...(isZone(zone) ? {} : { zone: "UTC" }) });
    },
  },
  design: {
    schema: designSchema,
    rows: (knex) =>
      knex("variant_revision as r")
        .join("variant as v", "v.id", "r.variant_id")
        .select({ id: "r.id", value: "r.design" })
        .select({ name: knex.raw("CONCAT(v.name, ', revision ', r.revision)") })
        .select({ experimentId: knex.raw(FIRST_EXPERIMENT) }),
    async putAway(trx, id) {
      const { variant_id } = await trx("variant_revision").where({ id }).first("variant_id");
      await trx("experiment_variant").where({ variant_id }).update({ removed_at: Date.now() });
      return trx("variant_revision").where({ id }).delete();
    },
  },
  bill: {
    schema: billSchema.nullable(),
    rows: (knex) =>
      knex("variant as v")
        .whereNotNull("v.bill")
        .select({ id: "v.id", name: "v.name", value: "v.bill", experimentId: knex.raw(FIRST_EXPERIMENT) }),
    ...replaced("variant", "bill", null),
  },
  checklist: {
    schema: checklistSchema.nullable(),
    rows: (knex) =>
      knex("variant as v")
        .whereNotNull("v.checklist")
        .select({ id: "v.id", name: "v.name", value: "v.checklist", experimentId: knex.raw(FIRST_EXPERIMENT) }),
    ...replaced("variant", "checklist", null),
  },
  specimen: {
    schema: asBuiltSchema,
    rows: (knex) =>
      knex("specimen as s")
        .join("variant as v", "v.id", "s.variant_id")
        .select({ id: "s.id", value: "s.as_built" })
        .select({ name: knex.raw("CONCAT(v.name, ', specimen ', s.number)") })
        .select({ experimentId: knex.raw(FIRST_EXPERIMENT) }),
    ...replaced("specimen", "as_built", JSON.stringify(asBuiltSchema.parse({}))),
  },
  run: {
    schema: storedRunSchema,
    rows: (knex) =>
      knex("run as r")
        .join("experiment as e", "e.id", "r.experiment_id")
        .whereNull("r.deleted_at")
        .whereNull("e.deleted_at")
        .select({ id: "r.id", experimentId: "e.id", value: "r.setup" })
        .select({ name: knex.raw("CONCAT(e.name, ', run ', r.number)") }),
    ...marked("run", "deleted_at"),
  },
  layer: {
    schema: LAYER_DETAILS.clock,
    rows: (knex) =>
      knex("run_layer as l")
        .join("run as r", "r.id", "l.run_id")
        .join("experiment as e", "e.id", "r.experiment_id")
        .whereNull("l.removed_at")
        .whereNull("r.deleted_at")
        .whereNull("e.deleted_at")
        .select({ id: "l.id", experimentId: "e.id", value: "l.detail", kind: "l.kind" })
        .select({ name: knex.raw("CONCAT(e.name, ', run ', r.number, ', ', l.kind, ': ', l.reason)") }),
    fault: ({ kind, value }) =>
      RUN_LAYER_KINDS.includes(kind as LayerKind)
        ? faultOf(LAYER_DETAILS[kind as LayerKind], value)
        : `a layer of kind “${kind}” is not known`,
    ...marked("run_layer", "removed_at"),
  },
  plan: {
    schema: planSettingsSchema,
    rows: (knex) =>
      knex("plan as p")
        .join("experiment as e", "e.id", "p.experiment_id")
        .whereNull("e.deleted_at")
        .select({ id: "p.experiment_id", experimentId: "p.experiment_id", name: "e.name", value: "p.settings" }),
    putAway: (trx, id) => trx("plan").where({ experiment_id: id }).delete(),
  },
  calibration: {
    schema: calibrationSchema,
    rows: (knex) => shared(knex("calibration").whereNull("deleted_at"), "name", "result"),
    ...marked("calibration", "deleted_at"),
  },
  instrument: {
    schema: instrumentSchema,
    rows: (knex) => shared(knex("instrument").whereNull("deleted_at"), "label", "detail"),
    ...marked("instrument", "deleted_at"),
  },
  climate: {
    schema: climateSchema,
    rows: (knex) => shared(knex("climate").whereNull("deleted_at"), "name", "detail"),
    ...marked("climate", "deleted_at"),
  },
  unavailable: {
    schema: unavailableSchema,
    rows: (knex) => shared(knex("unavailable").whereNull("deleted_at"), "id", "detail"),
    ...marked("unavailable", "deleted_at"),
  },
  material: {
    schema: materialSchema,
    rows: (knex) => shared(knex("material").whereNull("deleted_at"), "material_key", "material", "material_key"),
    ...marked("material", "deleted_at", "material_key"),
  },
};

const shared = async (rows: Knex.QueryBuilder, name: string, value: string, id = "id"): Promise<Row[]> =>
  (await rows.select({ id, name, value })).map((r: Row) => ({ ...r, ...none, name: String(r.name) }));

/** Everything stored that cannot be read, wherever it is. */
export async function findBroken(knex: Knex): Promise<BrokenPart[]> {
  const found: BrokenPart[] = [];
  for (const [kind, store] of Object.entries(STORES) as [BrokenKind, Store][])
    for (const row of await store.rows(knex)) {
      const why = store.fault?.(row) ?? (kind === "layer" ? null : faultOf(store.schema, row.value));
      if (why) found.push({ kind, id: row.id, experimentId: row.experimentId, name: row.name, why });
    }
  return found;
}

/**
 * Puts a part away that cannot be read, so that the rest can be shown again; what it held stands in the journal.
 * @returns false when it is not there, or can be read after all
 */
export async function putBrokenAway(knex: Knex, kind: BrokenKind, id: number | string): Promise<boolean> {
  return transact(knex, async (trx) => {
    const row = (await STORES[kind].rows(trx)).find((r) => r.id === id);
    const why =
      row && (STORES[kind].fault?.(row) ?? (kind === "layer" ? null : faultOf(STORES[kind].schema, row.value)));
    if (!row || !why) return false;
    await noteChange(trx, row.experimentId, "put away unreadable", {
      kind,
      id,
      why,
      value: String(row.value).slice(0, 1_000_000),
    });
    await STORES[kind].putAway(trx, id);
    return true;
  });
}
