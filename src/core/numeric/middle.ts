/**
 * The k-th smallest of some numbers, k from 0, as sorting them all would put it there, in linear time (Hoare 1961, FIND, with the middle
 * of three as pivot). The array is put into another order.
 * @param values no NaN among them
 */
export function kthSmallest(values: Float64Array, k: number): number {
  let low = 0;
  let high = values.length - 1;
  while (low < high) {
    const [a, b, c] = [values[low], values[(low + high) >> 1], values[high]];
    const pivot = Math.max(Math.min(a, b), Math.min(Math.max(a, b), c));
    let [i, j] = [low, high];
    while (i <= j) {
      while (values[i] < pivot) i++;
      while (values[j] > pivot) j--;
      if (i > j) break;
      const moved = values[i];
      values[i++] = values[j];
      values[j--] = moved;
    }
    if (k <= j) high = j;
    else if (k >= i) low = i;
    else break;
  }
  return values[k];
}

/**
 * The number in the middle, the upper one of two; NaN are left out, and NaN when nothing is left.
 * @param counts which numbers count; left out: all
 */
export function upperMiddle(values: ArrayLike<number>, counts: (value: number) => boolean = () => true): number {
  const known = new Float64Array(values.length);
  let n = 0;
  for (let i = 0; i < values.length; i++) if (!Number.isNaN(values[i]) && counts(values[i])) known[n++] = values[i];
  return n ? kthSmallest(known.subarray(0, n), n >> 1) : NaN;
}

/** The median: the mean of the two in the middle of an even number. NaN are left out, and NaN when nothing is left. */
export function median(values: ArrayLike<number>): number {
  const known = Float64Array.from(values).filter((v) => !Number.isNaN(v));
  const n = known.length;
  if (n === 0) return NaN;
  const upper = kthSmallest(known, n >> 1);
  return n % 2 ? upper : (kthSmallest(known, (n >> 1) - 1) + upper) / 2;
}
