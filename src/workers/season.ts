import { wrap, type Remote } from "comlink";
import type { SeasonApi } from "./season.worker";

/** What a worker is for: one question running is no reason to end another. */
export type SeasonDesk = "year" | "mirror" | "study" | "pair";

const desks = new Map<SeasonDesk, { worker: Worker; api: Remote<SeasonApi> }>();

/** The page's worker for a kind of question, started when first asked for. */
export function seasonWorker(desk: SeasonDesk): Remote<SeasonApi> {
  let found = desks.get(desk);
  if (!found) {
    const worker = new Worker(new URL("./season.worker.ts", import.meta.url), { type: "module" });
    desks.set(desk, (found = { worker, api: wrap<SeasonApi>(worker) }));
  }
  return found.api;
}

/** Ends what runs; the next question starts a worker of its own. */
export function stopSeason(desk: SeasonDesk): void {
  desks.get(desk)?.worker.terminate();
  desks.delete(desk);
}
