import { seededRandom, type Random } from "../random/seededRandom";

/** Which specimen stands at which station in each period: `order[period][station]` is a specimen's index. */
export interface Schedule {
  order: number[][];
  /** How well places and neighbours in time are shared out. */
  balance: Balance;
}

export interface Balance {
  /** `places[specimen][station]`: periods spent there. */
  places: number[][];
  /** `after[first][second]`: how often the second followed the first at a station. */
  after: number[][];
  /** Every specimen has been at every station equally often: what belongs to a place cancels. */
  placesEven: boolean;
  /** Every specimen has followed every other equally often: what one leaves behind (heat, damp, a changed setting) cancels. */
  carryOverEven: boolean;
  /** Share of the squared station effects left in the mean difference of the worst pair: 0 when even, 1 when nothing is swapped. */
  stationShareLeft: number;
  /** Of the periods' worth, what arrangements of unlike lengths leave to the worst pair, over 0 to 1. */
  evenness: number;
}

/**
 * Rows of Williams' (1949) squares for k treatments, one after the other: Latin squares in which each treatment follows each
 * other one equally often (within one square for even k, within two mirrored ones for odd k). Each further square begins with the
 * row the last ended with, so that the joint adds no followers of its own. Rows are periods, columns stations.
 *
 * @param k 2 or more
 */
export function williamsRows(k: number, rows: number): number[][] {
  if (!(Number.isInteger(k) && k >= 2)) throw new RangeError("a square needs at least two specimens");
  // 0, 1, k−1, 2, k−2, …: neighbouring differences are all different.
  const zigzag = Array.from({ length: k }, (_, i) => (i % 2 ? (i + 1) / 2 : (k - i / 2) % k));
  let offset = 0;
  return Array.from({ length: rows }, (_, p) => {
    const square = Math.floor(p / k);
    const sign = k % 2 && square % 2 ? -1 : 1;
    if (p % k === 0 && p > 0) offset += (k % 2 && (square - 1) % 2 ? -1 : 1) * zigzag[k - 1];
    return Array.from({ length: k }, (_, column) => (((sign * zigzag[p % k] + offset + column) % k) + k) % k);
  });
}

/** Periods after which places and followers are even. */
export const evenPeriods = (k: number): number => (k % 2 ? 2 * k : k);

/**
 * An order of swaps for k specimens over so many periods: Williams' squares cut to length, with specimens and stations dealt at
 * random from the seed. Where the cut matters, the part that leaves least of the stations' effects is taken.
 *
 * @param periods 1 or more: days, or half days when lanes are swapped at noon
 */
export function swapSchedule(k: number, periods: number, seed: number): Schedule {
  if (!(Number.isInteger(periods) && periods >= 1)) throw new RangeError("a schedule needs at least one period");
  const random = seededRandom(seed);
  const whole = williamsRows(k, evenPeriods(k) + periods);
  const start = bestStart(whole, k, periods);
  const specimens = shuffled(k, random);
  const stations = shuffled(k, random);
  const order = Array.from({ length: periods }, (_, p) => {
    const row = whole[start + p];
    return Array.from({ length: k }, (_, station) => specimens[row[stations[station]]]);
  });
  return { order, balance: balanceOf(order, k) };
}

/** Where in the repeated squares to start so that the cut to length is best balanced. */
function bestStart(whole: readonly number[][], k: number, periods: number): number {
  let best = 0;
  let least = Infinity;
  for (let start = 0; start < evenPeriods(k); start++) {
    const cut = whole.slice(start, start + periods);
    const b = balanceOf(cut, k);
    const cost = b.stationShareLeft * 1000 + spread(b.places.flat()) + 0.01 * spread(offDiagonal(b.after));
    if (cost < least - 1e-9) [least, best] = [cost, start];
  }
  return best;
}

const offDiagonal = (rows: readonly number[][]): number[] => rows.flatMap((r, i) => r.filter((_, j) => i !== j));

function spread(values: readonly number[]): number {
  const mean = values.reduce((a, b) => a + b, 0) / values.length;
  return values.reduce((s, v) => s + (v - mean) ** 2, 0);
}

function shuffled(k: number, random: Random): number[] {
  const deck = Array.from({ length: k }, (_, i) => i);
  for (let i = k - 1; i > 0; i--) {
    const j = Math.floor(random.uniform() * (i + 1));
    [deck[i], deck[j]] = [deck[j], deck[i]];
  }
  return deck;
}

/** Counts of places and followers of any order, also one changed by hand. */
export function balanceOf(order: readonly (readonly number[])[], k: number): Balance {
  const zeros = () => Array.from({ length: k }, () => Array<number>(k).fill(0));
  const places = zeros();
  const after = zeros();
  order.forEach((row, p) =>
    row.forEach((specimen, station) => {
      places[specimen][station]++;
      if (p > 0 && order[p - 1][station] !== specimen) after[order[p - 1][station]][specimen]++;
    }),
  );
  const even = (values: number[]) => Math.max(...values) === Math.min(...values);
  const pairs = pairsOf(k).map(([a, b]) => pairBalance(order, a, b));
  return {
    places,
    after,
    placesEven: even(places.flat()),
    carryOverEven: order.length > 1 && even(offDiagonal(after)),
    stationShareLeft: Math.max(0, ...pairs.map((p) => p.stationShareLeft)),
    evenness: Math.min(1, ...pairs.map((p) => p.evenness)),
  };
}

const pairsOf = (k: number): [number, number][] =>
  Array.from({ length: k }, (_, a) =>
    Array.from({ length: k - a - 1 }, (_, i): [number, number] => [a, a + 1 + i]),
  ).flat();

/**
 * What an order leaves of the places in the difference of two specimens, weighed as the judge weighs: each arrangement of the two counts
 * alike, however many periods it lasted. And how much of the periods' worth unlike lengths leave: 1/(n·Σw²) (Kish 1965).
 */
function pairBalance(
  order: readonly (readonly number[])[],
  a: number,
  b: number,
): { stationShareLeft: number; evenness: number } {
  const lasted = new Map<string, { places: [number, number]; periods: number }>();
  for (const row of order) {
    const places: [number, number] = [row.indexOf(a), row.indexOf(b)];
    const known = lasted.get(places.join());
    if (known) known.periods++;
    else lasted.set(places.join(), { places, periods: 1 });
  }
  const shares = new Map<number, number>();
  let squares = 0;
  for (const { places, periods } of lasted.values()) {
    places.forEach((station, i) => shares.set(station, (shares.get(station) ?? 0) + (i ? -1 : 1) / lasted.size));
    squares += 1 / lasted.size ** 2 / periods;
  }
  // Mean difference holds Σ (share of a at s − share of b at s)·effect(s); two fixed places give 2 squared effects.
  const stationShareLeft = [...shares.values()].reduce((s, share) => s + share ** 2, 0) / 2;
  return { stationShareLeft, evenness: 1 / (order.length * squares) };
}
