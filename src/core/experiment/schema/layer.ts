import { z } from "zod";

/** A duct's profile as traversed: mean ÷ the speed the meter shows at its usual place, and its ± limit. */
export const flowLayerSchema = z.object({
  meter: z.string().min(1).max(60),
  method: z.enum(["traverse", "bag", "bucket", "smoke", "fanRating"]),
  factor: z.number().positive().max(5),
  limit: z.number().min(0).max(2),
});
export type FlowLayerDetail = z.infer<typeof flowLayerSchema>;

export const layerDetailSchema = z.object({ probes: z.record(z.string().max(60), z.string().max(60)) });
