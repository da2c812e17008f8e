import type { Knex } from "knex";
import { z } from "zod";
import { verdictChange, type FrozenResults, type VerdictChange } from "../../core/judge/versions";
import { recordChange } from "../../data/journal";
import { json } from "../../data/json";
import { insertVersion, listVersions } from "../../data/verdict/versions";
import { command, done, GONE, refused } from "../web/command";
import { experimentResults, type Results } from "./results";
import { lineSchema } from "../../core/text/line";

export interface VersionView {
  id: number;
  atMs: number;
  note: string;
  fingerprint: string;
  change: VerdictChange;
}

/** Keeps today's results as they stand, with the fingerprint of what they rest on. */
export const freezeVerdict = command({
  input: z.tuple([z.number().int().positive(), lineSchema().max(300)]),
  async run(knex, experimentId, note) {
    const results = await experimentResults(knex, experimentId);
    if (!results) return GONE;
    const [newest] = await listVersions(knex, experimentId);
    if (newest?.fingerprint === results.fingerprint)
      return refused("This very verdict is frozen already. Nothing has changed since.");
    const { fingerprint } = results;
    await insertVersion(knex, experimentId, { atMs: Date.now(), note, fingerprint, results: JSON.stringify(results) });
    await recordChange(knex, experimentId, "verdict frozen", { fingerprint });
    return done();
  },
  touches: (experiment) => ({ experiment }),
});

/** Frozen verdicts, newest first, each with what has changed since. */
export async function versionViews(knex: Knex, experimentId: number, now: Results): Promise<VersionView[]> {
  return (await listVersions(knex, experimentId)).map(({ results, ...version }) => ({
    ...version,
    change: verdictChange(json<FrozenResults>(results), now as unknown as FrozenResults),
  }));
}
