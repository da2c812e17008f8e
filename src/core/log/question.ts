import { z } from "zod";

/** What only a person can say about a file, once it has been read. Above what share of its rows is in `order.ts`. */
export type LogQuestion =
  /** Several rows with one time and different readings. */
  | { kind: "sameTime"; rows: number; share: number; row: number }
  /** Rows that write their time in another way than the rest. */
  | { kind: "otherPattern"; rows: number; share: number; row: number }
  /** Rows with a time far from all others. */
  | { kind: "strayTimes"; rows: number; share: number; row: number; fromMs: number; toMs: number }
  /** The whole file lies before any logger's clock was set, or after now. */
  | { kind: "oddDates"; fromMs: number; toMs: number }
  /** Many rows whose time or number of cells does not fit the settings. */
  | { kind: "leftOut"; rows: number; share: number; row: number }
  /** "1,012" with no sign elsewhere whether the mark stands between thousands. */
  | { kind: "thousands"; column: string; row: number; text: string };

/** What a person said to each. */
export const logAnswersSchema = z
  .object({
    sameTime: z.enum(["first", "last", "mean", "spread"]),
    otherPattern: z.enum(["leaveOut", "keep"]),
    strayTimes: z.enum(["leaveOut", "keep"]),
    oddDates: z.enum(["right"]),
    leftOut: z.enum(["leaveOut"]),
    thousands: z.enum(["thousands", "leaveOut"]),
  })
  .partial();
export type LogAnswers = z.infer<typeof logAnswersSchema>;
