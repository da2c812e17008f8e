import type { Knex } from "knex";
import type { z } from "zod";
import type { Design } from "../../core/collector/design";
import { asBuiltSchema, designSchema, type AsBuilt } from "../../core/experiment/schema/design";
import { experimentSettingsSchema, type ExperimentSettingsInput } from "../../core/experiment/schema/settings";
import type { DrawnVariant, Experiment, ExperimentHead, ExperimentLane } from "../../core/experiment/types";
import { mergeChange } from "../../core/experiment/merge";
import { recordChange } from "../journal";
import { json, readable } from "../json";
import { siteAsRead } from "../site/sites";
import { findRuns } from "../run/runs";
import { transact } from "../transact";
import { closeRevision } from "../variant/revisions";

/** All experiments on the bench, by id. */
export const listExperiments = (knex: Knex): Promise<ExperimentHead[]> => findHeads(knex, null);

/** Experiments whole, by id: as many queries for one as for all. */
export async function findExperiments(knex: Knex, ids: readonly number[] | null): Promise<Experiment[]> {
  const heads = await findHeads(knex, ids);
  const runs = await findRuns(
    knex,
    heads.map((h) => h.id),
  );
  return heads.map((head) => ({ ...head, runs: runs.get(head.id) ?? [] }));
}

export async function findExperiment(knex: Knex, id: number): Promise<Experiment | null> {
  return (await findExperiments(knex, [id]))[0] ?? null;
}

async function findHeads(knex: Knex, ids: readonly number[] | null): Promise<ExperimentHead[]> {
  const rows = await knex("experiment as e")
    .join("site as s", "s.id", "e.site_id")
    .leftJoin("plan as p", "p.experiment_id", "e.id")
    .whereNull("e.deleted_at")
    .modify((q) => ids && q.whereIn("e.id", [...ids]))
    .orderBy("e.id")
    .select({
      id: "e.id",
      name: "e.name",
      question: "e.question",
      demoKey: "e.demo_key",
      changedAt: "e.changed_at",
      settings: "e.settings",
      siteId: "s.id",
      site: "s.name",
      latitude: "s.latitude",
      longitude: "s.longitude",
      altitudeM: "s.altitude_m",
      zone: "s.zone",
      detail: "s.detail",
      plannedDays: knex.raw("JSON_VALUE(p.settings, '$.days')"),
      plannedFrom: knex.raw("JSON_VALUE(p.settings, '$.start')"),
    });
  const found = rows.map((r: { id: number }) => r.id);
  const lanes = await lanesOf(knex, found);
  const drawn = await drawnOf(knex, found);
  return rows.flatMap((r: Record<string, never>): ExperimentHead[] => {
    const settings = readable(experimentSettingsSchema, r.settings);
    // Settings decide results: without them the experiment waits for its repair on the bench.
    if (!settings) return [];
    const built = (lanes.get(r.id) ?? []).map((l) => l.variantId);
    return [
      {
        id: r.id,
        name: r.name,
        question: r.question,
        demoKey: r.demoKey,
        changedAt: Number(r.changedAt),
        settings,
        site: {
          id: r.siteId,
          name: r.site,
          latitude: r.latitude,
          longitude: r.longitude,
          altitudeM: r.altitudeM,
          ...siteAsRead(r.zone, r.detail),
        },
        lanes: lanes.get(r.id) ?? [],
        drawn: (drawn.get(r.id) ?? []).filter((d) => !built.includes(d.variantId)),
        plannedDays: r.plannedDays === null ? null : Number(r.plannedDays),
        plannedFrom: r.plannedFrom,
      },
    ];
  });
}

/** Rows by experiment; a row that gives nothing is left out. */
function grouped<T, U>(rows: readonly (T & { experimentId: number })[], toItems: (row: T) => U[]): Map<number, U[]> {
  const groups = new Map<number, U[]>();
  for (const { experimentId, ...row } of rows)
    groups.set(experimentId, [...(groups.get(experimentId) ?? []), ...toItems(row as unknown as T)]);
  return groups;
}

async function lanesOf(knex: Knex, ids: readonly number[]): Promise<Map<number, ExperimentLane[]>> {
  const rows = await knex("experiment_lane as el")
    .join("specimen as s", "s.id", "el.specimen_id")
    .join("variant as v", "v.id", "s.variant_id")
    .join("variant_revision as r", (on) => on.on("r.variant_id", "v.id").andOn("r.revision", "s.revision"))
    .whereIn("el.experiment_id", [...ids])
    .orderBy("el.letter")
    .select({
      experimentId: "el.experiment_id",
      letter: "el.letter",
      specimenId: "s.id",
      specimenNumber: "s.number",
      variantId: "v.id",
      variant: "v.name",
      revision: "s.revision",
      design: "r.design",
      asBuilt: "s.as_built",
    });
  type Row = Omit<ExperimentLane, "design" | "asBuilt"> & { design: unknown; asBuilt: unknown };
  return grouped(rows, (l: Row): ExperimentLane[] => {
    const design = readable(designSchema, l.design);
    const asBuilt = readable(asBuiltSchema, l.asBuilt);
    return design && asBuilt ? [{ ...l, design, asBuilt }] : [];
  });
}

async function drawnOf(knex: Knex, ids: readonly number[]): Promise<Map<number, DrawnVariant[]>> {
  const rows = await knex("experiment_variant as ev")
    .join("variant as v", "v.id", "ev.variant_id")
    .join("variant_revision as r", "r.variant_id", "v.id")
    .whereRaw("r.revision = (SELECT MAX(revision) FROM variant_revision WHERE variant_id = v.id)")
    .whereIn("ev.experiment_id", [...ids])
    .whereNull("ev.removed_at")
    .orderBy("ev.letter")
    .select({
      experimentId: "ev.experiment_id",
      letter: "ev.letter",
      variantId: "v.id",
      variant: "v.name",
      design: "r.design",
    });
  return grouped(rows, (d: Omit<DrawnVariant, "design"> & { design: unknown }): DrawnVariant[] => {
    const design = readable(designSchema, d.design);
    return design ? [{ ...d, design }] : [];
  });
}

export interface NewExperiment {
  name: string;
  question: string;
  siteId: number;
  settings: ExperimentSettingsInput;
  demoKey?: string;
  /** Lanes by letter; lanes with one `variantKey` are copies of one variant. */
  lanes: { letter: string; variantKey: string; variantName: string; design: Design; asBuilt?: Partial<AsBuilt> }[];
}

export async function insertExperiment(trx: Knex, input: NewExperiment): Promise<number> {
  const now = Date.now();
  const [experimentId] = await trx("experiment").insert({
    name: input.name,
    question: input.question,
    site_id: input.siteId,
    settings: JSON.stringify(experimentSettingsSchema.parse(input.settings)),
    demo_key: input.demoKey ?? null,
    created_at: now,
    changed_at: now,
  });
  await addLanes(trx, experimentId, input.lanes);
  return experimentId;
}

/** Makes a drawn variant's first specimen the lane of its letter. @returns false when no drawn variant has that letter */
export async function buildDrawn(trx: Knex, experimentId: number, letter: string): Promise<boolean> {
  const drawn = await trx("experiment_variant")
    .where({ experiment_id: experimentId, letter })
    .whereNull("removed_at")
    .first("variant_id");
  if (!drawn) return false;
  const [{ last }] = await trx("specimen").where({ variant_id: drawn.variant_id }).max({ last: "number" });
  const [{ revision }] = await trx("variant_revision")
    .where({ variant_id: drawn.variant_id })
    .max({ revision: "revision" });
  await closeRevision(trx, drawn.variant_id);
  const [id] = await trx("specimen").insert({
    variant_id: drawn.variant_id,
    number: Number(last ?? 0) + 1,
    revision,
    as_built: JSON.stringify(asBuiltSchema.parse({})),
  });
  await trx("experiment_lane").insert({ experiment_id: experimentId, letter, specimen_id: id });
  return true;
}

/** Letters of the lanes an experiment has. */
export const laneLetters = (knex: Knex, experimentId: number): Promise<string[]> =>
  knex("experiment_lane").where({ experiment_id: experimentId }).pluck("letter");

/** Its name; undefined when it is not there, or deleted. */
export const experimentName = async (knex: Knex, experimentId: number): Promise<string | undefined> =>
  (await knex("experiment").where({ id: experimentId }).whereNull("deleted_at").first("name"))?.name;

/** Whether an experiment is there, and not deleted. */
export const isThere = async (knex: Knex, experimentId: number): Promise<boolean> =>
  (await knex("experiment").where({ id: experimentId }).whereNull("deleted_at").first("id")) !== undefined;

/** Adds lanes with their variants and specimens to an experiment. */
export async function addLanes(trx: Knex, experimentId: number, lanes: NewExperiment["lanes"]): Promise<void> {
  const variants = new Map<string, { id: number; copies: number }>();
  for (const lane of lanes) {
    let variant = variants.get(lane.variantKey);
    if (!variant) {
      const [id] = await trx("variant").insert({ name: lane.variantName, created_at: Date.now() });
      await trx("variant_revision").insert({
        variant_id: id,
        revision: 1,
        design: JSON.stringify(designSchema.parse(lane.design)),
        created_at: Date.now(),
      });
      await trx("experiment_variant").insert({ experiment_id: experimentId, variant_id: id, letter: lane.letter });
      variants.set(lane.variantKey, (variant = { id, copies: 0 }));
    }
    const [specimenId] = await trx("specimen").insert({
      variant_id: variant.id,
      number: ++variant.copies,
      as_built: JSON.stringify(asBuiltSchema.parse(lane.asBuilt ?? {})),
      revision: 1,
    });
    await trx("experiment_lane").insert({ experiment_id: experimentId, letter: lane.letter, specimen_id: specimenId });
  }
}

/**
 * Changes parts of an experiment's settings, on top of what they are now.
 * @param madeFrom what a part was changed from: then only what differs in it is changed
 * @returns null when it is not there; what is wrong when the whole would not be valid
 */
export async function patchSettings(
  knex: Knex,
  experimentId: number,
  change: Record<string, unknown>,
  madeFrom: Record<string, unknown> = {},
): Promise<{ ok: true } | { ok: false; issues: z.core.$ZodIssue[] } | null> {
  return transact(knex, async (trx) => {
    const row = await trx("experiment")
      .where({ id: experimentId })
      .whereNull("deleted_at")
      .forUpdate()
      .first("settings");
    if (!row) return null;
    const before = json<Record<string, unknown>>(row.settings);
    const laid = Object.entries(change).map(([key, after]) => [
      key,
      key in madeFrom ? mergeChange(before[key], madeFrom[key], after) : after,
    ]);
    const parsed = experimentSettingsSchema.safeParse({ ...before, ...Object.fromEntries(laid) });
    if (!parsed.success) return { ok: false, issues: parsed.error.issues };
    await trx("experiment")
      .where({ id: experimentId })
      .update({ settings: JSON.stringify(parsed.data) });
    await recordChange(trx, experimentId, "settings", { before, change });
    return { ok: true };
  });
}

/** Deleting only marks; the mark can be taken off again. @returns false when there is no such experiment */
export async function markExperimentDeleted(knex: Knex, experimentId: number, deleted: boolean): Promise<boolean> {
  return transact(knex, async (trx) => {
    const marked = await trx("experiment")
      .where({ id: experimentId })
      .update({ deleted_at: deleted ? Date.now() : null });
    if (marked) await recordChange(trx, experimentId, deleted ? "experiment deleted" : "experiment restored", {});
    return marked > 0;
  });
}

const NAME_LENGTH = 120;

/** A name that no experiment on the bench has: this one, or with the next free number. */
export async function copyName(knex: Knex, name: string): Promise<string> {
  const taken = new Set<string>(await knex("experiment").whereNull("deleted_at").pluck("name"));
  if (!taken.has(name)) return name;
  const stem = name.replace(/ \(\d{1,4}\)$/, "");
  for (let n = 2; ; n++) {
    const end = ` (${n})`;
    const next = stem.slice(0, NAME_LENGTH - end.length) + end;
    if (!taken.has(next)) return next;
  }
}

/** @returns false when the experiment is not there */
export async function renameExperiment(
  knex: Knex,
  experimentId: number,
  change: { name: string; question: string },
): Promise<boolean> {
  return transact(knex, async (trx) => {
    const before = await trx("experiment")
      .where({ id: experimentId })
      .whereNull("deleted_at")
      .first("name", "question");
    if (!before) return false;
    await trx("experiment").where({ id: experimentId }).update(change);
    await recordChange(trx, experimentId, "question", { before, after: change });
    return true;
  });
}
