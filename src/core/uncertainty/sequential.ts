import normalCdf from "@stdlib/stats-base-dists-normal-cdf";
import normalQuantile from "@stdlib/stats-base-dists-normal-quantile";

const { sqrt, exp, PI, abs, min, max, ceil, floor } = Math;
/** Even, so that the grid has a middle. */
const GRID = 400;
/** Beyond so many standard deviations a normal density adds nothing to the last digit. */
const FAR = 8.6;

/** Level spent by the share t of a plan, both sides together: each side's α/2 by 2 − 2Φ(z_{α/4}/√t) (Lan & DeMets 1983, of O'Brien–Fleming's kind). Early looks cost almost nothing. */
export const levelSpent = (t: number, level = 0.05): number =>
  t <= 0 ? 0 : 4 - 4 * normalCdf(normalQuantile(1 - level / 4, 0, 1) / sqrt(min(1, t)), 0, 1);

interface Density {
  from: number;
  step: number;
  /** GRID + 1 of them; the two ends count half. */
  values: Float64Array;
}

/** A density a while later at one place: what lay near it spread by the variance dt. */
function carried({ from, step, values }: Density, s: number, dt: number): number {
  const far = FAR * sqrt(dt);
  const last = min(GRID, floor((s + far - from) / step));
  let sum = 0;
  for (let j = max(0, ceil((s - far - from) / step)); j <= last; j++) {
    const d = s - from - j * step;
    sum += values[j] * exp((-d * d) / (2 * dt));
  }
  return (sum * step) / sqrt(2 * PI * dt);
}

/**
 * Bounds on |z| at successive looks so that looking again and again keeps the chance of a false find at the level: by
 * recursive integration over the path not yet stopped (Armitage, McPherson & Rowe 1969) with the level spent as above.
 *
 * @param shares of the planned windows at each look, rising, over 0 and at most 1
 * @example sequentialBounds([0.5, 1]) // [2.963, 1.969] (DeMets & Lan 1994)
 */
export function sequentialBounds(shares: readonly number[], level = 0.05): number[] {
  const bounds: number[] = [];
  // Density of the path's sum S = z·√t among those not yet stopped, on a grid; the same on both sides of nothing.
  let density: Density | null = null;
  shares.forEach((t, k) => {
    if (!(t > 0 && t <= 1) || (k > 0 && t <= shares[k - 1]))
      throw new RangeError("looks come at rising shares of the plan, up to 1");
    const spend = levelSpent(t, level) - (k > 0 ? levelSpent(shares[k - 1], level) : 0);
    const dt = t - (k > 0 ? shares[k - 1] : 0);
    const before = density;
    const beyond = (b: number): number => {
      const s = b * sqrt(t);
      if (!before) return 2 * (1 - normalCdf(b, 0, 1));
      let sum = 0;
      for (let i = max(0, ceil((s - FAR * sqrt(dt) - before.from) / before.step)); i <= GRID; i++)
        sum += before.values[i] * (1 - normalCdf((s - before.from - i * before.step) / sqrt(dt), 0, 1));
      return 2 * sum * before.step;
    };
    let [low, high] = [0.5, 12];
    for (let i = 0; i < 60; i++) {
      const middle = (low + high) / 2;
      if (beyond(middle) > spend) low = middle;
      else high = middle;
    }
    const bound = (low + high) / 2;
    bounds.push(bound);
    const reach = min(bound, 8) * sqrt(t);
    const step = (2 * reach) / GRID;
    const values = new Float64Array(GRID + 1);
    for (let i = 0; i <= GRID / 2; i++) {
      const s = -reach + i * step;
      const whole = before ? carried(before, s, dt) : exp((-s * s) / (2 * t)) / sqrt(2 * PI * t);
      values[i] = values[GRID - i] = i === 0 ? whole / 2 : whole;
    }
    density = { from: -reach, step, values };
  });
  return bounds;
}

/**
 * Chance that the planned end will tell the difference, given what is there now, if the truth is `effect` (Lan & Wittes 1988): with B = z·√t and drift θ,
 * P = 1 − Φ((z_end − B − θ(1 − t))/√(1 − t)) and its mirror. @param z so far, @param t share of the plan, @param drift θ: expected z at the end
 */
export function conditionalPower(z: number, t: number, drift: number, endBound: number): number {
  if (t >= 1) return abs(z) > endBound ? 1 : 0;
  const b = z * sqrt(t);
  const spread = sqrt(1 - t);
  return (
    1 -
    normalCdf((endBound - b - drift * (1 - t)) / spread, 0, 1) +
    normalCdf((-endBound - b - drift * (1 - t)) / spread, 0, 1)
  );
}

/** Share of the plan's information that a result so far holds, 0 to 1: what its variance leaves of the planned one's (Lan & Zucker 1993). Two unswapped days may hold next to nothing of two swapped ones. */
export const informationShare = (now: number, atEnd: number): number => (now > 0 ? min(1, (atEnd / now) ** 2) : 1);

/** A look before a plan's end: how many days were planned and measured, and what chance of a false find it may cost, both sides. */
export interface Look {
  taken: number;
  planned: number;
  level: number;
}

/**
 * What a look after so many of the planned days may spend, so that looking each day costs no more than looking once at the end.
 * null without a plan: nobody said when it would end.
 */
export function lookAfter(days: number, planned: number | null, level = 0.05): Look | null {
  if (planned === null || days < 1) return null;
  const taken = min(days, planned);
  const bounds = sequentialBounds(
    Array.from({ length: taken }, (_, i) => (i + 1) / planned),
    level,
  );
  return { taken: days, planned, level: 2 * (1 - normalCdf(bounds[taken - 1], 0, 1)) };
}
