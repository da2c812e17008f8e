import { z } from "zod";
import { calibrationSchema } from "../experiment/schema/calibration";
import { asBuiltSchema, designSchema } from "../experiment/schema/design";
import { EVENT_KINDS } from "../log/eventKind";
import { eventDetailSchema } from "../experiment/schema/event";
import { instantSchema } from "../experiment/schema/bounds";
import { lineSchema } from "../text/line";
import { LAYER_DETAILS, RUN_LAYER_KINDS, type LayerKind } from "../experiment/schema/layer";
import { planSettingsSchema } from "../experiment/schema/plan";
import { storedRunSchema } from "../experiment/schema/run";
import { experimentSettingsSchema } from "../experiment/schema/settings";
import { siteSchema } from "../experiment/schema/site";
import { CHANNEL_KINDS, type ChannelKind } from "../log/channel";

/** Changes when a reader of the old could no longer read the new. */
export const PACKAGE_VERSION = 1;

const letter = z.string().regex(/^[A-H]$/);
const path = z.string().max(200);
const channelKind = z.enum(Object.keys(CHANNEL_KINDS) as [ChannelKind, ...ChannelKind[]]);

/** Refuses a list in which two have one name. */
const once =
  <T>(nameOf: (of: T) => string | number) =>
  (list: readonly T[], context: z.RefinementCtx): void => {
    const names = list.map(nameOf);
    const twice = names.find((n, i) => names.indexOf(n) !== i);
    if (twice !== undefined) context.addIssue({ code: "custom", message: `“${twice}” is there twice` });
  };

const layerSchema = z
  .object({
    kind: z.enum(RUN_LAYER_KINDS as [LayerKind, ...LayerKind[]]),
    detail: z.unknown(),
    reason: z.string().max(300),
    on: z.boolean(),
    createdAt: instantSchema,
    /** Of a calibration: what it found, so that the package needs no other. */
    calibration: z.object({ name: z.string().min(1).max(120), result: calibrationSchema }).optional(),
  })
  .superRefine((layer, context) => {
    const read = LAYER_DETAILS[layer.kind].safeParse(layer.detail);
    if (!read.success) context.addIssue({ code: "custom", message: read.error.issues[0].message, path: ["detail"] });
    if ((layer.kind === "calibration") !== Boolean(layer.calibration))
      context.addIssue({ code: "custom", message: "a calibration layer brings its calibration, and no other does" });
  });

export const streamSchema = z.object({
  /** Of this run, from 1: what layers name. */
  number: z.number().int().min(1).max(40),
  name: z.string().min(1).max(255),
  /** Its readings, SI, and the bytes they were read from; null for a device's. */
  readings: path,
  raw: path.nullable(),
  settings: z.unknown(),
  summary: z.record(z.string(), z.unknown()),
  channels: z
    .array(
      z.object({
        channelNo: z.number().int().min(1).max(2000),
        name: z.string().min(1).max(255),
        kind: channelKind.nullable(),
        unit: z.string().max(24).nullable(),
      }),
    )
    .max(2000)
    .superRefine(once((c) => c.channelNo)),
});

/** Everything of an experiment but its readings: `experiment.json` of a package. */
export const packageSchema = z.object({
  bravel: z.literal(PACKAGE_VERSION),
  name: lineSchema().min(1).max(120),
  question: z.string().max(500),
  site: siteSchema,
  settings: experimentSettingsSchema,
  lanes: z
    .array(
      z.object({
        letter,
        variantKey: z.string().min(1).max(120),
        variantName: lineSchema().min(1).max(120),
        design: designSchema,
        asBuilt: asBuiltSchema,
      }),
    )
    .max(8)
    .superRefine(once((l) => l.letter)),
  /** Drawn and not built. */
  drawn: z
    .array(z.object({ letter: z.string().min(1).max(4), name: lineSchema().min(1).max(120), design: designSchema }))
    .max(60),
  plan: planSettingsSchema.nullable(),
  runs: z
    .array(
      z.object({
        number: z.number().int().min(1).max(10_000),
        note: z.string().max(500),
        setup: storedRunSchema,
        streams: z
          .array(streamSchema)
          .max(40)
          .superRefine(once((x) => x.number)),
        layers: z.array(layerSchema).max(2000),
        events: z
          .array(
            z.object({
              key: z.string().regex(/^[\w-]{16,64}$/),
              atMs: instantSchema,
              kind: z.enum(EVENT_KINDS),
              detail: eventDetailSchema,
            }),
          )
          .max(5000),
      }),
    )
    .max(400)
    .superRefine(once((r) => r.number)),
});
export type PackedExperiment = z.infer<typeof packageSchema>;
export type PackedStream = z.infer<typeof streamSchema>;

/** Names a stream of a run within layers: a number below any real one's meaning, put in place of the database's own. */
export function withStreams(kind: LayerKind, detail: unknown, of: (streamId: number) => number): unknown {
  if (kind === "clock") {
    const clock = LAYER_DETAILS.clock.parse(detail);
    return { ...clock, streamId: of(clock.streamId) };
  }
  if (kind !== "assignment") return detail;
  const { mounts, stands } = LAYER_DETAILS.assignment.parse(detail);
  return { mounts: mounts.map((m) => ({ ...m, streamId: of(m.streamId) })), stands };
}
