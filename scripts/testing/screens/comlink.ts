type Api = Record<string, (...args: unknown[]) => unknown>;
let last: Api | null = null;

/** Stands in for comlink: a worker's module hands its functions over here instead of waiting for messages. */
export const expose = (api: Api): void => {
  last = api;
};

/** What the worker imported just before exposed, each answering later as over a thread. */
export function exposed(): Api {
  const api = last;
  if (!api) throw new Error("no worker exposed anything");
  return Object.fromEntries(
    Object.entries(api).map(([name, work]) => [name, async (...args: unknown[]) => work(...args)]),
  );
}
