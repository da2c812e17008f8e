import { z } from "zod";
import { INSTRUMENT_KINDS } from "../choices";
import { BATH_FIELDS, INSTRUMENT_FIELDS } from "../settingFields";
import { numbersOf } from "../../quantity/numbersOf";
import { lineSchema } from "../../text/line";

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

export const bathOptionsSchema = z.object({
  reference: z.string().min(1).max(60),
  ...numbersOf(BATH_FIELDS),
  model: z.enum(["auto", "offset", "line"]),
  gradientK: z.number().min(0.001).max(1),
  leftOut: z.array(z.string().max(60)).max(200).readonly(),
  span: z.tuple([z.number(), z.number()]).nullable(),
});

/** An instrument as its maker states it, and how it is. Accuracy in the unit of what it measures, and as a share of the reading. */
export const instrumentSchema = z.object({
  label: lineSchema().min(1, "an instrument needs a label").max(60),
  kind: z.enum(INSTRUMENT_KINDS),
  ...numbersOf(INSTRUMENT_FIELDS),
  range: z.tuple([z.number(), z.number()]),
  retired: z.boolean(),
  note: z.string().max(500),
});
export type Instrument = z.infer<typeof instrumentSchema>;
