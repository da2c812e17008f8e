import { z } from "zod";
import { TYPICAL_BENCH } from "../../plan/precision";
import { METHOD_NAMES } from "../../method/list";
import { BENCH_FIELDS, PLAN_FIELDS, STATED_FIELDS } from "../settingFields";
import { numbersOf } from "../../quantity/numbersOf";
import { instantSchema } from "./bounds";
import { lineSchema } from "../../text/line";

const plan = numbersOf(PLAN_FIELDS);
const bench = numbersOf(BENCH_FIELDS);

const reason = lineSchema().max(120);
export const unavailableSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("once"), fromMs: instantSchema, toMs: instantSchema, reason }),
  z.object({
    kind: z.literal("weekly"),
    weekday: z.number().int().min(1).max(7),
    fromMinute: z.number().int().min(0).max(1439),
    toMinute: z.number().int().min(1).max(1440),
    reason,
  }),
]);
export type StoredUnavailable = z.infer<typeof unavailableSchema>;

const day = z.string().regex(/^\d{4}-\d{2}-\d{2}$/, "a date is written 2026-11-30");

/** A plan is settings; dates, order and hours are derived from them. */
export const planSettingsSchema = z.object({
  protocol: z.enum(METHOD_NAMES).default("steady"),
  /** First day; null: today. */
  start: day.nullable().default(null),
  days: plan.days.default(4),
  seed: plan.seed.default(1),
  swaps: z.enum(["none", "daily", "noon"]).default("daily"),
  bench: z
    .object({
      tilt: bench.tilt.default(55),
      azimuth: bench.azimuth.default(180),
      rows: bench.rows.default(1),
      gapM: bench.gapM.default(0.3),
      rowPitchM: bench.rowPitchM.default(3.5),
      bottomM: bench.bottomM.default(0.5),
    })
    .prefault({}),
  levelsK: z.array(z.number().min(0).max(80)).min(1, "at least one inlet level").max(6).default([0, 15, 30]),
  swapMin: plan.swapMin.default(30),
  checkMin: plan.checkMin.default(15),
  power: z.union([z.literal(0.8), z.literal(0.95)]).default(0.8),
  /** Calibration before the first and after the last day. */
  calibrate: z.boolean().default(true),
  stated: z.object(numbersOf(STATED_FIELDS)).default({ ...TYPICAL_BENCH }),
  skipped: z.array(day).max(200).default([]),
  moved: z.record(z.string().max(40), z.number().min(-1440).max(1440)).default({}),
  /** Ticked lines of the day sheets. */
  ticked: z.array(z.string().max(80)).max(2000).default([]),
});
export type PlanSettings = z.infer<typeof planSettingsSchema>;

const shape = planSettingsSchema.shape;
const entry = z.string().max(80);

/** A change of a plan: what is not named stays. Lists and marks change by their entries, so that two changes keep both. */
export const planPatchSchema = z.object({
  set: z
    .object({
      protocol: shape.protocol.unwrap(),
      start: shape.start.unwrap(),
      days: shape.days.unwrap(),
      seed: shape.seed.unwrap(),
      swaps: shape.swaps.unwrap(),
      levelsK: shape.levelsK.unwrap(),
      swapMin: shape.swapMin.unwrap(),
      checkMin: shape.checkMin.unwrap(),
      power: shape.power.unwrap(),
      calibrate: z.boolean(),
    })
    .partial()
    .optional(),
  bench: z.record(z.string(), z.number()).optional(),
  stated: z.record(z.string(), z.number()).optional(),
  /** Days left out (true) or taken again. */
  skipped: z.record(day, z.boolean()).optional(),
  /** Minutes by entry; null puts it back. */
  moved: z.record(entry, z.number().min(-1440).max(1440).nullable()).optional(),
  /** Lines of day sheets ticked (true) or not. */
  ticked: z.record(entry, z.boolean()).optional(),
});
export type PlanPatch = z.infer<typeof planPatchSchema>;
