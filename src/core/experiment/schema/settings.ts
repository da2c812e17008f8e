import { z } from "zod";
import { DIFFERENCE_UNITS, MOUNTINGS, SEASONS } from "../choices";
import { FLOW_WAYS } from "../../judge/flowWay";
import { ASPECTS } from "../../collector/compare";
import { applySchema } from "../../season/schema";
import { JUDGE_FIELDS, POINT_FIELDS, USE_FIELDS } from "../settingFields";
import { numbersOf } from "../../quantity/numbersOf";
import { instantSchema } from "./bounds";
import { lineSchema } from "../../text/line";

const use = numbersOf(USE_FIELDS);
const judge = numbersOf(JUDGE_FIELDS);
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

/** What Ask holds beyond the question: factors, what is held equal, and where the winner will run. */
const askSchema = z
  .object({
    factors: z
      .array(
        z.object({
          name: lineSchema().min(1, "a factor needs a name").max(80),
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
        tilt: use.tilt.default(60),
        windMs: use.windMs.default(1.5),
        /** Coldest night and hottest still hour with its sun, for frost and stagnation. */
        lowestC: use.lowestC.default(-15),
        hottestC: use.hottestC.default(32),
        strongestWm2: use.strongestWm2.default(1050),
      })
      .prefault({}),
  })
  .prefault({});

export const experimentSettingsSchema = z.object({
  rules: ruleSchema,
  basis: z.enum(["mean", "inlet"]),
  areaBasis: z.enum(["gross", "aperture", "absorber"]),
  operatingPoint: z.object(numbersOf(POINT_FIELDS)),
  /** At which flows lanes are compared at the operating point. */
  flowWay: z.enum(FLOW_WAYS).default("perArea"),
  /** Heat a watt-hour of the fan's electricity is worth, where heat net of the fan is shown. */
  electricityWeight: judge.electricityWeight.default(1),
  /** W/m². */
  smallestDifference: judge.smallestDifference,
  /** Standard share by which stations may differ. */
  stationShare: judge.stationShare,
  /** Water in the tank a lane's loop heats, and its ± share: what a batch test counts heat by. */
  tanks: z
    .record(
      z.string().regex(/^[A-H]$/),
      z.object({
        massKg: positive.max(100_000),
        limitShare: share,
        /** Of it ice when the test began. */
        iceKg: z.number().min(0).max(100_000).optional(),
      }),
    )
    .default({}),
  /** Doubts a person has said do not count, by key: why, when, and how far each reached then. */
  dismissed: z
    .record(
      z.string().max(160),
      z.object({
        reason: lineSchema().min(8, "a reason is a sentence others can follow").max(400),
        atMs: instantSchema,
        reach: z.number().min(0).nullable(),
      }),
    )
    .default({}),
  ask: askSchema,
  apply: applySchema.prefault({}),
});
export type ExperimentSettings = z.infer<typeof experimentSettingsSchema>;
/** As given by forms and demo: what Ask holds may be left to its defaults. */
export type ExperimentSettingsInput = z.input<typeof experimentSettingsSchema>;
