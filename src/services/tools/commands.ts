import { z } from "zod";
import { recordSpot } from "../../data/spot/spots";
import { command, done, GONE } from "../web/command";
import { lineSchema } from "../../core/text/line";

/** Keeps a spot reading with the experiment's record. */
export const keepSpot = command({
  right: "hand",
  input: z.tuple([
    z.number().int().positive(),
    z.object({
      text: lineSchema().min(1, "there is nothing to keep").max(300),
      values: z.record(z.string().max(40), z.number()),
    }),
  ]),
  run: async (knex, experimentId, reading) => ((await recordSpot(knex, experimentId, reading)) ? done() : GONE),
  touches: () => "nothing",
});
