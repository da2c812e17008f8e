import { wrap, type Remote } from "comlink";
import type { CollectorApi } from "./collector.worker";

let shared: Remote<CollectorApi> | null = null;

/** The one worker of the page, started when first asked for. */
export function collectorWorker(): Remote<CollectorApi> {
  shared ??= wrap<CollectorApi>(new Worker(new URL("./collector.worker.ts", import.meta.url), { type: "module" }));
  return shared;
}
