import { createHash } from "node:crypto";

const KEPT = 12;
const cache = ((globalThis as { bravelPlans?: Map<string, unknown> }).bravelPlans ??= new Map());

/** Derived only: losing it costs a second (docs/decisions/0003). */
export function remembered<T>(key: unknown, make: () => T): T {
  const hash = createHash("sha256").update(JSON.stringify(key)).digest("hex");
  let found = cache.get(hash) as T | undefined;
  if (found === undefined) cache.set(hash, (found = make()));
  for (const old of [...cache.keys()].slice(0, -KEPT * 8)) cache.delete(old);
  return found;
}
