type Plain = Record<string, unknown>;

const isPlain = (value: unknown): value is Plain =>
  typeof value === "object" && value !== null && !Array.isArray(value);
const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

/** What names an item of a list; undefined when the list's items have no names. */
const nameOf = (item: unknown): string | undefined => {
  if (!isPlain(item)) return undefined;
  const name = item.key ?? item.id;
  return typeof name === "string" ? name : undefined;
};

const byName = (list: unknown): Plain | null => {
  if (!Array.isArray(list)) return null;
  const names = list.map(nameOf);
  if (names.some((n) => n === undefined) || new Set(names).size !== names.length) return null;
  return Object.fromEntries(list.map((item, i) => [names[i]!, item]));
};

/**
 * Lays the change from `before` to `after` over what is stored meanwhile: only what was changed is changed, so that two pages
 * that change different parts keep both. Of one part that both changed, the later change stands. Lists whose items carry a key
 * or an id are merged item by item, others as a whole.
 */
export function mergeChange<T>(stored: T, before: T, after: T): T {
  if (same(before, after)) return stored;
  if (isPlain(stored) && isPlain(before) && isPlain(after)) return mergeFields(stored, before, after) as T;
  const [s, b, a] = [byName(stored), byName(before), byName(after)];
  if (s && b && a && (Object.keys(s).length || Object.keys(b).length)) return Object.values(mergeFields(s, b, a)) as T;
  return after;
}

function mergeFields(stored: Plain, before: Plain, after: Plain): Plain {
  const merged: Plain = {};
  for (const key of new Set([...Object.keys(after), ...Object.keys(stored)])) {
    const [inStored, inBefore, inAfter] = [stored, before, after].map((o) => key in o);
    // Taken out here, or taken out elsewhere and not touched here.
    if (inBefore && !inAfter) continue;
    if (inBefore && !inStored && same(before[key], after[key])) continue;
    if (!inAfter) merged[key] = stored[key];
    else merged[key] = inBefore && inStored ? mergeChange(stored[key], before[key], after[key]) : after[key];
  }
  return merged;
}
