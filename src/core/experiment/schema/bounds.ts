import { z } from "zod";

/** A row's number. */
export const idSchema = z.number().int().positive().max(4294967295);

/** An instant a measurement can have, ms UTC: from 1900 to 2200. Beyond, dates cannot be shown, nor the sun placed. */
export const instantSchema = z
  .number()
  .min(Date.UTC(1900, 0, 1), "before 1900 nothing was logged")
  .max(Date.UTC(2200, 0, 1), "after 2200 nothing can be planned");

/** A number as it comes from outside, where any other type means "not there". */
export const idOrNone = (value: unknown): number => idSchema.catch(0).parse(value);
