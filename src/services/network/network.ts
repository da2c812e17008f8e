import type { Knex } from "knex";
import { z } from "zod";
import { listExperiments } from "../../data/experiment/experiments";
import { insertViewer, listViewers, revokeViewer, viewedBy, type ViewerLink } from "../../data/viewer/viewers";
import { command, done, refused } from "../web/command";
import { Bucket } from "../ingest/rate";
import { isGuarded, passphraseFits } from "../web/session";
import { lineSchema } from "../../core/experiment/schema/bounds";

export interface NetworkPage {
  /** Addresses under which other devices reach Bravel; empty while it answers this computer only. */
  addresses: string[];
  encrypted: boolean;
  viewers: ViewerLink[];
  experiments: { id: number; name: string }[];
}

/** How Bravel is reached, and by whom. */
export async function networkPage(knex: Knex): Promise<NetworkPage> {
  const addresses = (process.env.BRAVEL_ADDRESSES ?? "").split(" ").filter(Boolean);
  const [viewers, experiments] = await Promise.all([listViewers(knex), listExperiments(knex)]);
  return {
    addresses: isGuarded(process.env) ? addresses : [],
    encrypted: addresses.some((a) => a.startsWith("https:")),
    viewers,
    experiments: experiments.map(({ id, name }) => ({ id, name })),
  };
}

export const addViewer = command({
  input: z.tuple([
    z.object({ experimentId: z.number().int().positive(), label: lineSchema().min(1, "say for whom").max(80) }),
  ]),
  run: async (knex, { experimentId, label }) => done({ token: await insertViewer(knex, experimentId, label) }),
  touches: () => "everything",
});

export const endViewer = command({
  input: z.tuple([z.number().int().positive(), z.boolean()]),
  run: async (knex, id, revoked) =>
    (await revokeViewer(knex, id, revoked)) ? done() : refused("This link is no longer there. Reload the page."),
  touches: () => "everything",
});

export const experimentOfLink = (knex: Knex, token: string): Promise<number | undefined> => viewedBy(knex, token);

/** Attempts of everybody together: who guesses from many addresses waits like who guesses from one. */
const holder = globalThis as { bravelAttempts?: Bucket };
const ATTEMPTS = { perSecond: 0.1, burst: 10 };

/** Whether a passphrase opens Bravel, or how long nobody may try again, s. */
export function tryPassphrase(passphrase: string, nowMs: number): { ok: boolean; waitS: number } {
  holder.bravelAttempts ??= new Bucket(ATTEMPTS.perSecond, ATTEMPTS.burst, nowMs);
  const waitMs = holder.bravelAttempts.take(nowMs);
  if (waitMs) return { ok: false, waitS: Math.ceil(waitMs / 1000) };
  return { ok: passphraseFits(passphrase.slice(0, 500), process.env.BRAVEL_GUARD ?? "."), waitS: 0 };
}
