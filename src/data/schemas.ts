import { z } from "zod";
import { isZone } from "../core/log/zone";
import { TYPICAL_BENCH } from "../core/plan/precision";
import { PROTOCOLS } from "../core/plan/protocols";
import { PLAIN_SITE } from "../core/site/site";
import { SKY_MODELS } from "../core/sun/clearSky";
import { CHANNEL_KINDS, type ChannelKind } from "../core/log/channelKinds";
import { ASPECTS } from "../core/collector/compare";
import { SCROUNGED } from "../core/collector/bill";
import type { Design } from "../core/collector/design";
import { ABSORBER_FORMS } from "../core/collector/forms";
import { MATERIAL_FLAGS, MATERIAL_GROUPS, MATERIAL_UNITS, type Material } from "../core/materials/material";

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

export const MOUNTINGS = ["wall", "roof", "ground", "window"] as const;
export const SEASONS = ["winter", "between", "summer", "year"] as const;
/** Units in which a person states the smallest difference that matters. */
export const DIFFERENCE_UNITS = ["heatPerArea", "heat", "efficiency", "share"] as const;

/** What Ask holds beyond the question: factors, what is held equal, and where the winner will run. */
const askSchema = z
  .object({
    factors: z
      .array(
        z.object({
          name: z.string().trim().min(1, "a factor needs a name").max(80),
          aspects: z.array(z.enum(ASPECTS)).max(ASPECTS.length),
        }),
      )
      .max(8)
      .default([]),
    heldEqual: z.array(z.enum(ASPECTS)).max(ASPECTS.length).default([]),
    differenceUnit: z.enum(DIFFERENCE_UNITS).default("heatPerArea"),
    use: z
      .object({
        mounting: z.enum(MOUNTINGS).default("ground"),
        season: z.enum(SEASONS).default("year"),
        tilt: z.number().min(0).max(90).default(60),
        windMs: z.number().min(0).max(20).default(1.5),
        /** Coldest night and hottest still hour with its sun, for frost and stagnation. */
        lowestC: z.number().min(-70).max(40).default(-15),
        hottestC: z.number().min(0).max(60).default(32),
        strongestWm2: z.number().min(300).max(1500).default(1050),
      })
      .prefault({}),
  })
  .prefault({});

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
  ask: askSchema,
});
export type ExperimentSettings = z.infer<typeof experimentSettingsSchema>;
/** As given by forms and demo: what Ask holds may be left to its defaults. */
export type ExperimentSettingsInput = z.input<typeof experimentSettingsSchema>;

const finite = z.number();
const materialKey = z.string().min(1).max(60);

export const materialSchema: z.ZodType<Material, Material> = z.object({
  key: materialKey,
  name: z.string().trim().min(1, "a material needs a name").max(120),
  group: z.enum(MATERIAL_GROUPS),
  density: positive.max(25000),
  specificHeat: positive.max(10000),
  conductivity: positive.max(2000),
  absorptance: share,
  emittance: share,
  optics: z.object({ index: z.number().min(1).max(3.9), extinctionPerM: z.number().min(0).max(1e5) }).nullable(),
  infraredTransmittance: z.number().min(0).max(0.95),
  limitC: finite.min(-50).max(3000).nullable(),
  expansionPerK: z.number().min(0).max(0.01),
  thicknessM: positive.max(1),
  unit: z.enum(MATERIAL_UNITS),
  price: z.number().min(0).max(1e7),
  pack: positive.max(1e6),
  flags: z.array(z.enum(MATERIAL_FLAGS)).max(MATERIAL_FLAGS.length),
  note: z.string().max(400),
  source: z.string().max(200),
});

/** Of a drawing the share may be half-typed: core/collector/validate says so; here it only must be a number. */
const fluidSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("air") }),
  z.object({ kind: z.literal("water") }),
  z.object({ kind: z.literal("glycol"), massFraction: z.number().min(0).max(0.6) }),
]);

const fanSchema = z.object({
  points: z
    .array(z.object({ flowM3PerS: z.number().min(0).max(100), pressurePa: z.number().min(0).max(1e7) }))
    .min(2)
    .max(40),
  powerW: positive.max(1e5),
});
const layerBase = { id: z.string().min(1).max(40), thicknessM: finite };
const layerSchema = z.discriminatedUnion("kind", [
  z.object({ ...layerBase, kind: z.literal("cover"), material: materialKey }),
  z.object({ ...layerBase, kind: z.literal("gap") }),
  z.object({ ...layerBase, kind: z.literal("channel") }),
  z.object({
    ...layerBase,
    kind: z.literal("absorber"),
    form: z.enum(ABSORBER_FORMS),
    material: materialKey,
    coating: materialKey.nullable(),
    shape: z.record(z.string().max(20), finite),
  }),
  z.object({ ...layerBase, kind: z.literal("sheet"), material: materialKey, coating: materialKey.nullable() }),
  z.object({ ...layerBase, kind: z.literal("insulation"), material: materialKey }),
]);

/** Form only: whether a stack can be built is for core/collector/validate to say, so that half-built drafts can be kept too. */
export const designSchema: z.ZodType<Design, Design> = z.object({
  fluid: fluidSchema,
  grossWidthM: finite,
  grossLengthM: finite,
  frame: z.object({ material: materialKey, thicknessM: finite }),
  layers: z.array(layerSchema).max(60),
  ports: z.object({ diameterM: finite, count: finite }),
  manifoldLoss: finite,
  drive: z.discriminatedUnion("kind", [
    z.object({ kind: z.literal("fan"), fan: fanSchema }),
    z.object({ kind: z.literal("pump"), fan: fanSchema }),
    z.object({ kind: z.literal("photovoltaicFan"), fan: fanSchema, panelW: finite }),
    z.object({ kind: z.literal("natural"), heightM: finite }),
  ]),
  reflector: z
    .object({ material: materialKey, side: z.enum(["bottom", "top"]), lengthM: finite, angle: finite })
    .nullable(),
  concentration: finite,
  inSeries: z.number().int(),
  inParallel: z.number().int(),
  exchanger: finite.nullable(),
  materials: z.record(materialKey, materialSchema),
  sketch: z.boolean(),
});

/** What a specimen measures where it differs from the plan; null: as planned. */
export const asBuiltSchema = z.object({
  grossAreaM2: positive.max(400).nullable().default(null),
  apertureAreaM2: positive.max(400).nullable().default(null),
  absorberAreaM2: positive.max(800).nullable().default(null),
  massKg: positive.max(5000).nullable().default(null),
  channelM: positive.max(1).nullable().default(null),
  note: z.string().max(500).default(""),
});
export type AsBuilt = z.infer<typeof asBuiltSchema>;

export const billSchema = z.object({
  currency: z.string().trim().min(1).max(8),
  lines: z.record(
    z.string().max(60),
    z.object({
      quantity: z.number().min(0).max(1e6).optional(),
      price: z.number().min(0).max(1e7).optional(),
      pack: positive.max(1e6).optional(),
      scrounged: z.enum(SCROUNGED).optional(),
    }),
  ),
  extra: z
    .array(
      z.object({
        name: z.string().trim().min(1, "a line needs a name").max(120),
        unit: z.enum(MATERIAL_UNITS),
        quantity: z.number().min(0).max(1e6),
        price: z.number().min(0).max(1e7),
        pack: positive.max(1e6),
        scrounged: z.enum(SCROUNGED),
      }),
    )
    .max(100),
  hoursFirst: z.number().min(0).max(10000).nullable(),
  hoursRepeat: z.number().min(0).max(10000).nullable(),
  wage: z.number().min(0).max(10000),
});

/** Ticks and notes by item key, and items of one's own. */
export const checklistSchema = z.object({
  items: z.record(
    z.string().max(120),
    z.object({ done: z.boolean(), doneAt: z.number().nullable().default(null), note: z.string().max(1000) }),
  ),
  own: z.array(z.object({ key: z.string().min(1).max(60), text: z.string().trim().min(1).max(300) })).max(60),
});
export type ChecklistState = z.infer<typeof checklistSchema>;

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
const flowSchema = z.discriminatedUnion("kind", [
  z.object({
    kind: z.literal("speed"),
    duct: ductSchema,
    ductLimitM: z.number().min(0).max(0.1),
    profileFactor: positive.max(2),
    profileLimit: z.number().min(0).max(1),
    meter: meterSchema,
  }),
  z.object({ kind: z.literal("volume"), meter: meterSchema }),
  z.object({ kind: z.literal("mass"), meter: meterSchema }),
  z.object({ kind: z.literal("constant"), massFlowKgPerS: positive.max(10), meter: meterSchema }),
]);

export const laneSetupSchema = z.object({
  /** null: what the specimen is drawn for. */
  fluid: fluidSchema.nullable().default(null),
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
/** As given by forms and demo: the fluid may be left to the drawing. */
export type LaneSetupInput = z.input<typeof laneSetupSchema>;

export const runSetupSchema = z.object({
  plane: z.object({ tilt: z.number().min(0).max(180), azimuth: z.number().min(0).max(360) }),
  sunSensor: z.object({
    key: z.string().min(1).max(60),
    limitShare: share,
    mounting: z.enum(["plane", "horizontal", "modelled"]),
  }),
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
  columns: z
    .array(
      z.object({
        index: z.number().int().min(0),
        header: z.string().max(255),
        kind: channelKind.nullable(),
        lane: z
          .string()
          .regex(/^[A-H]$/)
          .nullable(),
        unit: z.string().max(24).nullable(),
      }),
    )
    .min(2)
    .max(2000),
});

const correctionSchema = z.object({
  t0C: z.number(),
  offsetK: z.number(),
  slope: z.number(),
  standardOffsetK: z.number().min(0),
  standardSlope: z.number().min(0),
  covariance: z.number(),
  range: z.tuple([z.number(), z.number()]),
  atMs: z.number(),
});

/** What a calibration found, probe by probe, and what its reference is good to. */
export const calibrationSchema = z.object({
  kind: z.enum(["bath", "twoPoint"]),
  /** Standard uncertainty of the reference, K. */
  referenceStandardK: z.number().min(0),
  probes: z
    .array(
      z.object({
        key: z.string().min(1).max(60),
        correction: correctionSchema,
        lagS: z.number().nullable(),
        residualSdK: z.number().min(0),
        outlier: z.boolean(),
      }),
    )
    .min(1)
    .max(200),
  spanC: z.tuple([z.number(), z.number()]),
  spreadBeforeK: z.number().min(0),
  spreadAfterK: z.number().min(0),
});
export type StoredCalibration = z.infer<typeof calibrationSchema>;

/** A duct's profile as traversed: mean ÷ the speed the meter shows at its usual place, and its ± limit. */
export const flowLayerSchema = z.object({
  meter: z.string().min(1).max(60),
  method: z.enum(["traverse", "bag", "bucket", "smoke", "fanRating"]),
  factor: z.number().positive().max(5),
  limit: z.number().min(0).max(2),
});
export type FlowLayerDetail = z.infer<typeof flowLayerSchema>;

export const layerDetailSchema = z.object({ probes: z.record(z.string().max(60), z.string().max(60)) });

export const bathOptionsSchema = z.object({
  reference: z.string().min(1).max(60),
  referenceLimitK: z.number().min(0.001).max(5),
  model: z.enum(["auto", "offset", "line"]),
  gradientK: z.number().min(0.001).max(1),
  leftOut: z.array(z.string().max(60)).max(200).readonly(),
  span: z.tuple([z.number(), z.number()]).nullable(),
});

export const INSTRUMENT_KINDS = [
  "probe",
  "logger",
  "anemometer",
  "flowMeter",
  "sunSensor",
  "balance",
  "wattMeter",
  "hygrometer",
  "barometer",
] as const;

/** An instrument as its maker states it, and how it is. Accuracy in the unit of what it measures, and as a share of the reading. */
export const instrumentSchema = z.object({
  label: z.string().trim().min(1, "an instrument needs a label").max(60),
  kind: z.enum(INSTRUMENT_KINDS),
  limitFixed: z.number().min(0).max(1e6),
  limitShare: z.number().min(0).max(1),
  resolution: z.number().min(0).max(1e6),
  lagS: z.number().min(0).max(36000),
  range: z.tuple([z.number(), z.number()]),
  calibrateEveryDays: z.number().min(0).max(3650),
  retired: z.boolean(),
  note: z.string().max(500),
});
export type Instrument = z.infer<typeof instrumentSchema>;

const twelve = (each: z.ZodNumber) => z.array(each).length(12, "twelve months are needed");
const angle = z.number().min(0).max(360);
const idSchema = z.string().min(1).max(40);
const nameSchema = z.string().trim().min(1, "an obstacle needs a name").max(60);

/** What is known of a place beyond its coordinates, and the climate it is planned with. */
export const siteDetailSchema = z.object({
  turbidity: twelve(z.number().min(1, "turbidity is at least 1").max(10, "turbidity is at most 10")),
  groundReflectance: twelve(z.number().min(0).max(0.95, "no ground reflects more than 0.95")),
  pressurePa: z
    .number()
    .min(40000, "pressure is at least 400 hPa")
    .max(110000, "pressure is at most 1,100 hPa")
    .nullable(),
  horizon: z.array(z.object({ azimuth: z.number().min(0).lt(360), altitude: z.number().min(-10).max(85) })).max(720),
  obstacles: z
    .array(
      z.discriminatedUnion("kind", [
        z.object({
          id: idSchema,
          kind: z.literal("wall"),
          name: nameSchema,
          bearing: angle,
          distanceM: z.number().max(500),
          widthM: z.number().max(500),
          heightM: z.number().max(200),
          facing: angle.nullable(),
        }),
        z.object({
          id: idSchema,
          kind: z.literal("tree"),
          name: nameSchema,
          bearing: angle,
          distanceM: z.number().max(500),
          crownDiameterM: z.number().max(100),
          topM: z.number().max(120),
          bottomM: z.number().min(0).max(120),
          transmittance: share,
          winterTransmittance: share,
        }),
      ]),
    )
    .max(60),
  skyModel: z.enum(SKY_MODELS),
  climate: z
    .discriminatedUnion("kind", [
      z.object({ kind: z.literal("shipped"), name: z.string().max(160) }),
      z.object({ kind: z.literal("own"), id: z.number().int().positive() }),
    ])
    .nullable(),
});
export type StoredSiteDetail = z.infer<typeof siteDetailSchema>;
export const PLAIN_DETAIL: StoredSiteDetail = {
  ...PLAIN_SITE,
  turbidity: [...PLAIN_SITE.turbidity],
  groundReflectance: [...PLAIN_SITE.groundReflectance],
  horizon: [],
  obstacles: [],
  climate: null,
};

export const siteSchema = z.object({
  name: z.string().trim().min(1, "the site needs a name").max(120),
  latitude: z.number().min(-90, "latitude lies within ±90°").max(90, "latitude lies within ±90°"),
  longitude: z.number().min(-180, "longitude lies within ±180°").max(180, "longitude lies within ±180°"),
  altitudeM: z.number().min(-430, "no dry land lies lower than −430 m").max(6000, "altitude is at most 6,000 m"),
  zone: z.string().refine(isZone, "this time zone is not known"),
  detail: siteDetailSchema,
});

export const climateSchema = z.object({
  months: z
    .array(
      z.object({
        globalKwhM2: z.number().min(0).max(14),
        meanC: z.number().min(-70).max(60),
        windMs: z.number().min(0).max(60).nullable(),
        clearShare: share.nullable(),
      }),
    )
    .length(12),
  source: z.string().max(300),
  /** What the owner may do with it, in their words. */
  licence: z.string().max(300),
  /** Of a typical-weather file: its place, to be compared with the site's. */
  place: z
    .object({ latitude: z.number(), longitude: z.number(), altitudeM: z.number(), hours: z.number().int() })
    .nullable(),
});
export type StoredClimate = z.infer<typeof climateSchema>;

const reason = z.string().trim().max(120);
export const unavailableSchema = z.discriminatedUnion("kind", [
  z.object({ kind: z.literal("once"), fromMs: z.number(), toMs: z.number(), reason }),
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
  protocol: z.enum(PROTOCOLS).default("steady"),
  /** First day; null: today. */
  start: day.nullable().default(null),
  days: z
    .number()
    .int("days are whole")
    .min(1, "a plan has at least one day")
    .max(60, "a plan has at most 60 days")
    .default(4),
  seed: z.number().int().min(1).max(999999).default(1),
  swaps: z.enum(["none", "daily", "noon"]).default("daily"),
  bench: z
    .object({
      tilt: z.number().min(0).max(90).default(55),
      azimuth: angle.default(180),
      rows: z.number().int().min(1).max(8).default(1),
      gapM: z.number().max(20).default(0.3),
      rowPitchM: z.number().max(50).default(3.5),
      bottomM: z.number().max(10).default(0.5),
    })
    .prefault({}),
  levelsK: z.array(z.number().min(0).max(80)).min(1, "at least one inlet level").max(6).default([0, 15, 30]),
  swapMin: z.number().min(0).max(240).default(30),
  checkMin: z.number().min(0).max(120).default(15),
  power: z.union([z.literal(0.8), z.literal(0.95)]).default(0.8),
  /** Calibration before the first and after the last day. */
  calibrate: z.boolean().default(true),
  stated: z
    .object({
      heatWm2: positive.max(1500),
      riseK: positive.max(150),
      probeLimitK: z.number().min(0).max(10),
      meterLimitShare: share,
      profileLimitShare: share,
      stationShare: z.number().min(0).max(0.2),
      windowShare: z.number().min(0.0005).max(0.5),
      dayShare: z.number().min(0).max(0.5),
    })
    .default({ ...TYPICAL_BENCH }),
  skipped: z.array(day).max(200).default([]),
  moved: z.record(z.string().max(40), z.number().min(-1440).max(1440)).default({}),
  /** Ticked lines of the day sheets. */
  ticked: z.array(z.string().max(80)).max(2000).default([]),
});
export type PlanSettings = z.infer<typeof planSettingsSchema>;
