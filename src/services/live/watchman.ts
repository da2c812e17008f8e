import type { Knex } from "knex";
import { compactStream, fullStreams } from "../../data/reading/compact";
import { liveExperiments, runsFedBy } from "../../data/run/live";
import { database } from "../web/connection";
import { heavy } from "../heavy/heavy";
import { log } from "../web/log";

/** How often live runs are looked at without a viewer, ms. */
const EVERY_MS = 15_000;
const holder = globalThis as { bravelWatchman?: NodeJS.Timeout };

/** Looks at every live run from time to time, so that alarms are logged unseen; moves tails that grew while nobody moved them. */
export function startWatching(): void {
  holder.bravelWatchman ??= setInterval(() => void round(), EVERY_MS).unref();
}

let busy = false;

async function round(): Promise<void> {
  if (busy) return;
  busy = true;
  try {
    const knex = database();
    for (const id of await liveExperiments(knex)) {
      await heavy(knex).noteBench(id, Date.now());
      const view = await heavy(knex).liveView(id, Date.now());
      if (view?.plan?.followed) await heavy(knex).followPlan(id, view.nowMs);
    }
    for (const id of await fullStreams(knex)) await compactStream(knex, id);
  } catch (error) {
    // A database that is away is away for a while only: the next round looks again.
    log.warn({ err: error }, "live runs could not be looked at");
  } finally {
    busy = false;
  }
}

/** Alarms of a bench are written down at most so often, ms. */
const NOTE_EVERY_MS = 2000;
const noting = ((globalThis as { bravelNoting?: Map<number, number> }).bravelNoting ??= new Map<number, number>());

/** Readings came: what is wrong at the benches they show is written down beside the answer to their device. */
export async function noteBenchesOf(knex: Knex, streamId: number, nowMs: number): Promise<void> {
  if (Math.abs(nowMs - (noting.get(streamId) ?? -Infinity)) < NOTE_EVERY_MS) return;
  noting.set(streamId, nowMs);
  const fed = (await runsFedBy(knex, streamId)).filter((r) => r.endedAt === null);
  for (const id of new Set(fed.map((r) => r.experimentId))) await heavy(knex).noteBench(id, nowMs);
}
