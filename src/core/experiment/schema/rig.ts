import { z } from "zod";
import { designSchema } from "./design";
import { instantSchema } from "./bounds";

const letter = z.string().regex(/^[A-H]$/);

/** Where a box's inlet comes from. */
const loopSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("outside") }),
  /** A shared plenum, warmed above outside air by steps of the hour. */
  z.object({ kind: z.literal("plenum") }),
  z.object({
    kind: z.literal("tank"),
    litres: z.number().min(1).max(20000),
    startC: z.number().min(0).max(95),
    lossWPerK: z.number().min(0).max(200),
  }),
]);

export const rigLaneSchema = z.object({
  letter,
  design: designSchema,
  station: z.number().int().min(1).max(24),
  /** kg/s through one box where fan or pump is set; the drawing's own drive otherwise. */
  massFlowKgPerS: z.number().min(0).max(10).nullable(),
  loop: loopSchema,
  /** Fan or pump runs while the absorber is warmer than `onC`, until it falls below `offC`. */
  thermostat: z.object({ onC: z.number().min(-20).max(200), offC: z.number().min(-20).max(200) }).nullable(),
});
export type RigLaneSpec = z.infer<typeof rigLaneSchema>;

export const RIG_FAULTS = [
  "fanStop",
  "fanSag",
  "probeStuck",
  "probeLost",
  "shade",
  "leak",
  "cloud",
  "loggerOff",
  "lostMessages",
  "resends",
  "lateClock",
  "counterReset",
] as const;
export type RigFaultKind = (typeof RIG_FAULTS)[number];

/** What goes wrong, on which lane (null: on the bench), and how badly. */
export const rigFaultSchema = z.object({
  kind: z.enum(RIG_FAULTS),
  lane: letter.nullable(),
  share: z.number().min(0).max(1).default(0.5),
});

export const rigSettingsSchema = z.object({
  seed: z
    .number()
    .int()
    .min(0)
    .max(2 ** 31),
  site: z.object({
    latitude: z.number().min(-90).max(90),
    longitude: z.number().min(-180).max(180),
    altitudeM: z.number().min(-400).max(6000),
    zone: z.string().max(64),
  }),
  plane: z.object({ tilt: z.number().min(0).max(90), azimuth: z.number().min(0).max(360) }),
  /** First instant simulated. */
  startMs: instantSchema,
  /** Local hours that are lived through; nights are skipped. */
  hours: z.tuple([z.number().min(0).max(23), z.number().min(1).max(24)]),
  stepS: z.number().min(1).max(60),
  weather: z.object({
    cloudiness: z.number().min(0).max(1),
    meanAmbientC: z.number().min(-30).max(45),
    meanWind: z.number().min(0).max(20),
  }),
  /** Plenum above outside by local hour, K. */
  plenum: z.array(z.object({ fromHour: z.number().min(0).max(24), aboveAmbientK: z.number().min(0).max(60) })).max(24),
  lanes: z.array(rigLaneSchema).min(1).max(8),
  /** The bench's hidden errors lie within these. */
  accuracy: z.object({
    probeK: z.number().min(0).max(5),
    flowShare: z.number().min(0).max(0.5),
    sunShare: z.number().min(0).max(0.3),
  }),
  faults: z.array(rigFaultSchema).max(20),
  /** Simulated seconds a second. */
  speed: z.number().min(0).max(600),
});
export type RigSettings = z.infer<typeof rigSettingsSchema>;
