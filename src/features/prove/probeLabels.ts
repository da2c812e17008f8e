import { keepHere, readKept } from "@/ui/browserDraft";

/** Which label of a bath each probe of a run was, last time: benches keep their probes, loggers their headers. */
const STORE = "bravel-probe-labels";

/** `A-In (°C)` and `a in` are one label. */
const plain = (label: string): string => label.toLowerCase().replace(/[^a-z0-9à-ÿ]+/g, "");

const remembered = (): Record<string, string> =>
  readKept(STORE, (kept) =>
    kept && typeof kept === "object" && !Array.isArray(kept) ? (kept as Record<string, string>) : null,
  ) ?? {};

/** By name, however it is written. @returns run's probe → bath's label */
export const matchedProbes = (keys: readonly string[], labels: readonly string[]): Record<string, string> =>
  Object.fromEntries(
    keys.flatMap((key) => {
      const found = labels.find((l) => l === key) ?? labels.find((l) => plain(l) === plain(key));
      return found ? [[key, found]] : [];
    }),
  );

/** As it was said before, for labels that are in this bath; only in the browser. */
export function rememberedProbes(keys: readonly string[], labels: readonly string[]): Record<string, string> {
  const before = remembered();
  return Object.fromEntries(keys.flatMap((key) => (labels.includes(before[key]) ? [[key, before[key]]] : [])));
}

export function rememberProbes(mapping: Record<string, string>): void {
  const said = Object.fromEntries(Object.entries(mapping).filter(([, label]) => label));
  keepHere(STORE, { ...remembered(), ...said });
}
