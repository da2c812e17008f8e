/** More answers than these of one function are not held: all go, and are found anew. */
const MOST = 200_000;

/**
 * A pure function that looks up what it was asked before. For answers that follow from the argument alone and cost more than a
 * look: what is held is bounded, and losing it costs time, never an answer.
 *
 * @param make from the key, and from whatever else says the same thing as the key
 * @param most answers held at a time
 * @example
 * const square = tabled((n: number) => n * n);
 * square(12); // 144
 */
export function tabled<K, V, Same extends unknown[] = []>(
  make: (key: K, ...same: Same) => V,
  most = MOST,
): (key: K, ...same: Same) => V {
  const answers = new Map<K, V>();
  return (key, ...same) => {
    const known = answers.get(key);
    if (known !== undefined) return known;
    const made = make(key, ...same);
    if (answers.size >= most) answers.clear();
    answers.set(key, made);
    return made;
  };
}

/** The same for answers about an object that is never changed in place; they go when it goes. */
export function ofObject<K extends object, V>(make: (key: K) => V): (key: K) => V {
  const answers = new WeakMap<K, V>();
  return (key) => {
    const known = answers.get(key);
    if (known !== undefined) return known;
    const made = make(key);
    answers.set(key, made);
    return made;
  };
}
