import { z } from "zod";
import { ASSUMABLE } from "../../analysis/setup";
import { CHANNEL_KINDS, type ChannelKind } from "../../log/channel";
import { MOST_COLUMNS } from "../../log/sniff";
import { logAnswersSchema } from "../../log/question";
import { instantSchema } from "./bounds";
import { fluidSchema } from "./design";

const positive = z.number().positive();
const share = z.number().min(0).max(1);

const probeSchema = z.object({
  key: z.string().min(1).max(60),
  limitK: z.number().min(0).max(20),
  resolutionK: z.number().min(0).max(5),
});
const meterSchema = z.object({
  key: z.string().min(1).max(60),
  at: z.enum(["inlet", "outlet"]),
  limitShare: share,
  limitFixed: z.number().min(0),
});
const ductSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("round"), diameterM: positive.max(3) }),
  z.object({ kind: z.literal("rectangular"), widthM: positive.max(5), heightM: positive.max(5) }),
]);
/** A flow that nothing logged, set anew at so many times at most: instants ascending. */
const changes = z
  .array(z.object({ fromMs: z.number().int(), reading: positive.max(60) }))
  .max(60)
  .refine(
    (all) => all.every((c, i) => i === 0 || c.fromMs > all[i - 1].fromMs),
    "times at which a flow was set anew ascend",
  )
  .optional();
const flowSchema = z.discriminatedUnion("kind", [
  z.object({
    kind: z.literal("speed"),
    duct: ductSchema,
    ductLimitM: z.number().min(0).max(0.1),
    profileFactor: positive.max(2),
    profileLimit: z.number().min(0).max(1),
    meter: meterSchema,
    stated: z.number().positive().max(60).nullable().default(null),
    changes,
  }),
  z.object({
    kind: z.literal("volume"),
    meter: meterSchema,
    stated: z.number().positive().max(5).nullable().default(null),
    changes,
  }),
  z.object({ kind: z.literal("mass"), meter: meterSchema }),
  z.object({ kind: z.literal("constant"), massFlowKgPerS: positive.max(10), meter: meterSchema, changes }),
  z.object({ kind: z.literal("tank"), massKg: positive.max(100_000), meter: meterSchema }),
]);

/** What belongs to a place on the bench and stays there when specimens swap: its probes, its meter and duct, its fan. */
export const placeSetupSchema = z.object({
  inletProbe: probeSchema,
  outletProbe: probeSchema,
  flow: flowSchema,
  fanShare: share,
  /** Electric, of this lane's fan or pump where it is not logged, W; null: not known. */
  fanPowerW: z.number().min(0).max(5000).nullable().default(null),
});
export type PlaceSetup = z.infer<typeof placeSetupSchema>;

/** What a specimen carries with it from place to place. */
export const specimenSetupSchema = z.object({
  /** null: what the specimen is drawn for. */
  fluid: fluidSchema.nullable().default(null),
  areaLimitShare: z.number().min(0).max(0.5),
  /** null: as its drawing predicts. */
  timeConstantS: z.number().min(0).max(14400).nullable().default(null),
  /** null: by the covers of its drawing. Negative where light from the side is caught better (spaced tubes). */
  b0: z.number().min(-0.5).max(0.5).nullable().default(null),
  /** Across tubes; null: by the drawing, else as b0. */
  b0Across: z.number().min(-1).max(0.5).nullable().default(null),
  b0Limit: z.number().min(0).max(0.5),
});
export type SpecimenSetup = z.infer<typeof specimenSetupSchema>;

/** A lane as an import states it: its specimen at its place. */
export const laneSetupSchema = z.object({ ...specimenSetupSchema.shape, ...placeSetupSchema.shape });
export type StoredLaneSetup = z.infer<typeof laneSetupSchema>;
/** As given by forms and demo: the fluid may be left to the drawing. */
export type LaneSetupInput = z.input<typeof laneSetupSchema>;

const day = z.string().regex(/^\d{4}-\d{2}-\d{2}$/, "a date is written 2026-11-30");

export const runSetupSchema = z.object({
  plane: z.object({ tilt: z.number().min(0).max(180), azimuth: z.number().min(0).max(360) }),
  sunSensor: z.object({
    key: z.string().min(1).max(60),
    limitShare: share,
    mounting: z.enum(["plane", "horizontal", "modelled"]),
  }),
  /** Of the ground before the boxes while the run lasted (snow); null: as the site says. A horizontal sun sensor needs it. */
  groundReflectance: share.nullable().default(null),
  /** Days on which snow lay before the boxes, first and last, by the site's calendar; null: none, or the whole run as above. */
  snow: z
    .object({ from: day, until: day })
    .refine(({ from, until }) => from <= until, "the first day of snow comes before its last")
    .nullable()
    .default(null),
  ambientProbe: probeSchema,
  /** The air that enters every lane is outside air: the one column of it is the outside temperature too. */
  inletOutside: z.boolean().default(false),
  /** null: from the altitude by the standard atmosphere. */
  pressurePa: z.number().min(50000).max(110000).nullable(),
  relativeHumidity: share,
  assumed: z.array(z.enum(ASSUMABLE)).max(ASSUMABLE.length).default([]),
  /** What physics does not allow and a person has said is right, by its key: a doubt, but no obstacle. */
  accepted: z.array(z.string().max(60)).max(100).default([]),
  byHand: z.boolean().default(false),
});
export type StoredRunSetup = z.infer<typeof runSetupSchema>;

/** A run as kept: what was stated for all, for each place and for each specimen. Layers lie over it. */
export const storedRunSchema = runSetupSchema.extend({
  places: z.array(z.object({ station: z.number().int().min(1).max(24), setup: placeSetupSchema })),
  specimens: z.array(z.object({ letter: z.string().regex(/^[A-H]$/), setup: specimenSetupSchema })),
});

const channelKind = z.enum(Object.keys(CHANNEL_KINDS) as [ChannelKind, ...ChannelKind[]]);
const timeFormatSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("calendar"), order: z.enum(["ymd", "dmy", "mdy"]) }),
  z.object({ kind: z.literal("unix"), unit: z.enum(["s", "ms"]) }),
  z.object({ kind: z.literal("elapsed"), unit: z.enum(["s", "min", "h"]), startMs: instantSchema }),
]);

export const logSettingsSchema = z.object({
  delimiter: z.enum([",", ";", "\t", "|", " "]),
  decimal: z.enum([".", ","]),
  headerRow: z.number().int().min(-1).max(1000),
  firstDataRow: z.number().int().min(0).max(1000),
  timeColumns: z.array(z.number().int().min(0).max(2000)).min(1).max(2),
  timeFormat: timeFormatSchema,
  zone: z.string().min(1).max(64),
  columns: z
    .array(
      z.object({
        index: z.number().int().min(0),
        header: z.string().max(255),
        kind: channelKind.nullable(),
        lane: z
          .string()
          .regex(/^[A-H*]$/)
          .nullable(),
        unit: z.string().max(24).nullable(),
        factor: z
          .number()
          .refine((f) => f !== 0, "a factor of nothing makes nothing of every reading")
          .nullish(),
      }),
    )
    .min(2)
    .max(MOST_COLUMNS),
  answers: logAnswersSchema.optional(),
});
