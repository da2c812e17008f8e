import { z } from "zod";
import { isZone } from "../../log/zone";
import { PLAIN_SITE } from "../../site/site";
import { SKY_MODELS } from "../../sun/clearSky";
import { lineSchema } from "../../text/line";

const share = z.number().min(0).max(1);

const twelve = (each: z.ZodNumber) => z.array(each).length(12, "twelve months are needed");
const angle = z.number().min(0).max(360);
const idSchema = z.string().min(1).max(40);
const nameSchema = lineSchema().min(1, "an obstacle needs a name").max(60);

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
  name: lineSchema().min(1, "the site needs a name").max(120),
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
