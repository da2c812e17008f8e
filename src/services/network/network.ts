import type { Knex } from "knex";
import { z } from "zod";
import { listExperiments } from "../../data/experiment/experiments";
import { endingAtOnce } from "../live/feed";
import { insertViewer, listViewers, revokeViewer, viewedBy, type ViewerLink } from "../../data/viewer/viewers";
import { command, done, refused } from "../web/command";
import { isGuarded } from "../web/session";
import { people, type People } from "./people";
import { lineSchema } from "../../core/text/line";

export interface NetworkPage extends People {
  /** Addresses under which other devices reach Bravel; empty while it answers this computer only. */
  addresses: string[];
  encrypted: boolean;
  /** The small authority whose certificate a phone installs once; null without encryption. */
  authority: string | null;
  viewers: ViewerLink[];
  experiments: { id: number; name: string }[];
}

/** How Bravel is reached, and by whom. */
export async function networkPage(knex: Knex, nowMs: number): Promise<NetworkPage> {
  const addresses = (process.env.BRAVEL_ADDRESSES ?? "").split(" ").filter(Boolean);
  const [viewers, experiments, known] = await Promise.all([
    listViewers(knex),
    listExperiments(knex),
    people(knex, nowMs),
  ]);
  return {
    addresses: isGuarded(process.env) ? addresses : [],
    encrypted: addresses.some((a) => a.startsWith("https:")),
    authority: process.env.BRAVEL_AUTHORITY || null,
    ...known,
    viewers,
    experiments: experiments.map(({ id, name }) => ({ id, name })),
  };
}

export const addViewer = command({
  input: z.tuple([
    z.object({
      experimentId: z.number().int().positive(),
      label: lineSchema().min(1, "say for whom").max(80),
      takes: z.boolean(),
    }),
  ]),
  run: async (knex, link) => done({ token: await insertViewer(knex, link) }),
  touches: () => "everything",
});

export const endViewer = command({
  input: z.tuple([z.number().int().positive(), z.boolean()]),
  run: async (knex, id, revoked) =>
    (await endingAtOnce(revokeViewer(knex, id, revoked)))
      ? done()
      : refused("This link is no longer there. Reload the page."),
  touches: () => "everything",
});

export const experimentOfLink = viewedBy;
