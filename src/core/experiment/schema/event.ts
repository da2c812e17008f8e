import { z } from "zod";
import { EVENT_KINDS, type EventKind } from "../../log/eventKind";
import { instantSchema } from "./bounds";

const letter = z.string().regex(/^[A-H]$/);

/** An event as it was pressed: its key was made on the device that pressed it, so that it may be sent again. */
export const eventSchema = z.object({
  key: z.string().regex(/^[\w-]{16,64}$/),
  atMs: instantSchema,
  kind: z.enum(EVENT_KINDS),
  /** null: all lanes. */
  lane: letter.nullable().default(null),
  /** Who changed places. */
  lanes: z.tuple([letter, letter]).optional(),
  text: z.string().trim().max(500).default(""),
  /** A reading taken by hand, SI, and of what. */
  spot: z
    .object({ what: z.enum(["inlet", "outlet", "plate", "ambient", "tank"]), valueC: z.number().min(-60).max(400) })
    .optional(),
  photoId: z.number().int().positive().nullable().default(null),
});
export type EventInput = z.input<typeof eventSchema>;
export type StatedEvent = z.output<typeof eventSchema>;

/** What is kept beside time and kind. */
export const eventDetailSchema = eventSchema
  .omit({ key: true, atMs: true, kind: true })
  .extend({ layerId: z.number().int().positive().nullable().default(null) });
export type EventDetail = z.infer<typeof eventDetailSchema>;

export interface RunEvent extends EventDetail {
  id: number;
  key: string;
  atMs: number;
  kind: EventKind;
}
