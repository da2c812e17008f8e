import "../../../src/workers/sun.worker";
import { exposed } from "./comlink";

const api = exposed();

/** The page's worker: the same functions, on the thread at hand. */
export const sunWorker = () => api;
