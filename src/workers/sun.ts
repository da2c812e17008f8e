import { wrap, type Remote } from "comlink";
import type { SunApi } from "./sun.worker";

let shared: Remote<SunApi> | null = null;

/** The one sun worker of the page, started when first asked for. */
export function sunWorker(): Remote<SunApi> {
  shared ??= wrap<SunApi>(new Worker(new URL("./sun.worker.ts", import.meta.url), { type: "module" }));
  return shared;
}
