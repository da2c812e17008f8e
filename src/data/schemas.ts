import { z } from "zod";
import { CHANNEL_KINDS, type ChannelKind } from "../core/log/channelKinds";
import { ABSORBER_FORMS, AIR_PATHS } from "../core/collector/specification";

/** Shapes of the JSON columns, shared by forms, actions and repositories: validated at the edge, trusted inside. */

const positive = z.number().positive();
const share = z.number().min(0).max(1);

const ruleSchema = z.object({
  name: z.enum(["standard", "backyard"]),
  minIrradiance: z.number().min(50).max(1500),
  irradianceBand: positive.max(1000),
  ambientBand: positive.max(50),
  flowBand: positive.max(1),
  inletBand: positive.max(50),
  minModifier: share,
  settleS: z.number().min(0).max(14400),
  settleTimeConstants: z.number().min(0).max(20),
  averageS: positive.max(14400),
  averageTimeConstants: z.number().min(0).max(20),
});

export const experimentSettingsSchema = z.object({
  rules: ruleSchema,
  basis: z.enum(["mean", "inlet"]),
  areaBasis: z.enum(["gross", "aperture", "absorber"]),
  operatingPoint: z.object({
    irradianceWm2: z.number().min(50).max(1500),
    ambientC: z.number().min(-60).max(60),
    inletC: z.number().min(-60).max(120),
    flowPerArea: z.number().positive().max(1),
  }),
  /** W/m². */
  smallestDifference: z.number().min(0).max(500),
  /** Standard share by which stations may differ. */
  stationShare: z.number().min(0).max(0.2),
});
export type ExperimentSettings = z.infer<typeof experimentSettingsSchema>;

export const specificationSchema = z.object({
  absorber: z.enum(ABSORBER_FORMS),
  airPath: z.enum(AIR_PATHS),
  fluid: z.enum(["air", "water"]),
  covers: z.number().int().min(0).max(2),
  coverMaterial: z.string().max(60),
  /** Of one cover at normal incidence. */
  coverTransmittance: share,
  absorptance: share,
  coating: z.string().max(60),
  insulationMm: z.number().min(0).max(500),
  mirror: z.boolean(),
  grossAreaM2: positive.max(200),
  apertureAreaM2: positive.max(200),
  absorberAreaM2: positive.max(400),
});
export type Specification = z.infer<typeof specificationSchema>;

const probeSchema = z.object({ key: z.string().min(1).max(60), limitK: z.number().min(0).max(20), resolutionK: z.number().min(0).max(5) });
const meterSchema = z.object({ key: z.string().min(1).max(60), at: z.enum(["inlet", "outlet"]), limitShare: share, limitFixed: z.number().min(0) });
const ductSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("round"), diameterM: positive.max(3) }),
  z.object({ kind: z.literal("rectangular"), widthM: positive.max(5), heightM: positive.max(5) }),
]);
const flowSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("speed"), duct: ductSchema, ductLimitM: z.number().min(0).max(0.1), profileFactor: positive.max(2), profileLimit: z.number().min(0).max(1), meter: meterSchema }),
  z.object({ kind: z.literal("volume"), meter: meterSchema }),
  z.object({ kind: z.literal("mass"), meter: meterSchema }),
  z.object({ kind: z.literal("constant"), massFlowKgPerS: positive.max(10), meter: meterSchema }),
]);

export const laneSetupSchema = z.object({
  fluid: z.discriminatedUnion("kind", [z.object({ kind: z.literal("air") }), z.object({ kind: z.literal("water") }), z.object({ kind: z.literal("glycol"), massFraction: z.number().min(0).max(0.6) })]),
  areaLimitShare: z.number().min(0).max(0.5),
  inletProbe: probeSchema,
  outletProbe: probeSchema,
  flow: flowSchema,
  fanShare: share,
  timeConstantS: z.number().min(0).max(14400),
  b0: z.number().min(0).max(0.5),
  b0Limit: z.number().min(0).max(0.5),
});
export type StoredLaneSetup = z.infer<typeof laneSetupSchema>;

export const runSetupSchema = z.object({
  plane: z.object({ tilt: z.number().min(0).max(180), azimuth: z.number().min(0).max(360) }),
  sunSensor: z.object({ key: z.string().min(1).max(60), limitShare: share, mounting: z.enum(["plane", "horizontal"]) }),
  ambientProbe: probeSchema,
  /** null: from the altitude by the standard atmosphere. */
  pressurePa: z.number().min(50000).max(110000).nullable(),
  relativeHumidity: share,
});
export type StoredRunSetup = z.infer<typeof runSetupSchema>;

const channelKind = z.enum(Object.keys(CHANNEL_KINDS) as [ChannelKind, ...ChannelKind[]]);
const timeFormatSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("calendar"), order: z.enum(["ymd", "dmy", "mdy"]) }),
  z.object({ kind: z.literal("unix"), unit: z.enum(["s", "ms"]) }),
  z.object({ kind: z.literal("elapsed"), unit: z.enum(["s", "min", "h"]), startMs: z.number() }),
]);

export const logSettingsSchema = z.object({
  delimiter: z.enum([",", ";", "\t", "|", " "]),
  decimal: z.enum([".", ","]),
  headerRow: z.number().int().min(-1).max(1000),
  firstDataRow: z.number().int().min(0).max(1000),
  timeColumns: z.array(z.number().int().min(0).max(2000)).min(1).max(2),
  timeFormat: timeFormatSchema,
  zone: z.string().min(1).max(64),
  columns: z.array(z.object({ index: z.number().int().min(0), header: z.string().max(255), kind: channelKind.nullable(), lane: z.string().regex(/^[A-H]$/).nullable(), unit: z.string().max(24).nullable() })).min(2).max(2000),
});
