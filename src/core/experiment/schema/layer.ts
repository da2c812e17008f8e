import { z } from "zod";
import { CLEAN_REASONS } from "../../log/clean";
import { instantSchema } from "./bounds";

const letter = z.string().regex(/^[A-H]$/);
const station = z.number().int().min(1).max(24);
const instant = z.number().nullable().default(null);

/** A duct's profile as traversed: mean ÷ the speed the meter shows at its usual place, and its ± limit. */
export const flowLayerSchema = z.object({
  meter: z.string().min(1).max(60),
  method: z.enum(["traverse", "bag", "bucket", "smoke", "fanRating"]),
  factor: z.number().positive().max(5),
  limit: z.number().min(0).max(2),
});
export type FlowLayerDetail = z.infer<typeof flowLayerSchema>;

/** A channel's instrument and the place it measures at, from an instant until another; null: the run's begin or end. */
const mountSchema = z.object({
  streamId: z.number().int().positive(),
  channelNo: z.number().int().min(1),
  /** Label in the register of instruments; null when nobody named it. */
  instrument: z.string().min(1).max(60).nullable(),
  /** null: what all lanes share. */
  station: station.nullable(),
  fromMs: instant,
  untilMs: instant,
});
export type Mount = z.infer<typeof mountSchema>;

/** A specimen at a place, from an instant until another. */
const standSchema = z.object({ station, lane: letter.nullable(), fromMs: instant, untilMs: instant });
/** A null lane empties the place. */
export type Stand = z.infer<typeof standSchema>;

const calibrationDetail = z.object({
  /** Probe key in the run → key in the calibration. */
  probes: z.record(z.string().max(60), z.string().max(60)),
});

/** What each kind of layer holds. Later layers go over earlier ones. */
export const LAYER_DETAILS = {
  /** Of the automatic findings those that are not to be left out, because the person knows better. */
  cleaning: z.object({ keep: z.array(z.enum(CLEAN_REASONS)).max(CLEAN_REASONS.length) }),
  /** A logger's clock was slow by this much, ms. */
  clock: z.object({
    streamId: z.number().int().positive(),
    offsetMs: z.number().min(-1e11).max(1e11),
    /** How well that is known, standard; 0 where it was set side by side. */
    standardMs: z.number().min(0).max(1e9).optional(),
  }),
  assignment: z.object({ mounts: z.array(mountSchema).max(4000), stands: z.array(standSchema).max(400) }),
  calibration: calibrationDetail,
  flow: flowLayerSchema,
  /** A span set aside; a null lane means every channel. */
  exclusion: z.object({ lane: letter.nullable(), fromMs: instantSchema, toMs: instantSchema }),
} as const;
export type LayerKind = keyof typeof LAYER_DETAILS;
export const RUN_LAYER_KINDS = Object.keys(LAYER_DETAILS) as LayerKind[];
export type LayerDetail<K extends LayerKind> = z.infer<(typeof LAYER_DETAILS)[K]>;
