import chiSquareQuantile from "@stdlib/stats-base-dists-chisquare-quantile";
import fCdf from "@stdlib/stats-base-dists-f-cdf";
import normalCdf from "@stdlib/stats-base-dists-normal-cdf";
import { coverageFactor } from "../uncertainty/coverage";
import { placeVariance, type Precision } from "./precision";
import { tabled } from "../numeric/table";

/** How much is measured, and how lanes swap meanwhile. */
export interface TestSize {
  days: number;
  /** Windows over all days. */
  windows: number;
  /** Share of the squared station effects that the order of swaps leaves; 1 without swaps, 0 when even. */
  stationShareLeft: number;
  /** Of the windows' and days' worth, what arrangements of unlike lengths leave, as each counts alike; left out: all. */
  evenness?: number;
  /** Different arrangements of the two lanes: each costs a degree of freedom. */
  arrangements: number;
  /** Comparisons of different variants tested at once (Holm 1979). */
  comparisons: number;
}

const LEVEL = 0.05;
const NODES = 50;

// Coverage factors are asked for thousands of times at the same whole degrees of freedom.
const factorsOf = tabled((comparisons: number) =>
  tabled((dof: number) => coverageFactor(dof, 1 - LEVEL / comparisons)),
);
function criticalFactor(dof: number, comparisons: number): number {
  const rounded = dof < 2 ? Math.round(dof * 50) / 50 : Math.floor(dof);
  return factorsOf(comparisons)(dof < 1e6 ? rounded : Infinity);
}

const chiSquareNodes = tabled((dof: number) =>
  Float64Array.from({ length: NODES }, (_, i) => chiSquareQuantile((i + 0.5) / NODES, dof) / dof),
);

/** The judge calls days different when equal ones would scatter so in less than this share of cases. */
const POOLING_LEVEL = 0.25;
/** Upper quartile of F by bisection of its distribution. */
const poolingLimits = tabled((between: number) =>
  tabled((within: number) => {
    let [low, high] = [0, 100];
    for (let i = 0; i < 50; i++) {
      const middle = (low + high) / 2;
      if (fCdf(middle, between, within) < 1 - POOLING_LEVEL) low = middle;
      else high = middle;
    }
    return high;
  }),
);

/** Chance that the judge takes the days as the sample instead of pooling all windows, 0 to 1: its F test on days with this scatter. */
function chanceDaysDiffer(p: Precision, size: TestSize): number {
  const within = size.windows - size.days - Math.max(0, size.arrangements - 1);
  if (size.days < 2 || within < 2) return 0;
  // Scatter is taken within arrangements, which takes as many means out of the days: with one day an arrangement none is left to differ.
  const free = size.days - size.arrangements;
  if (free < 1) return 0;
  const inflated = 1 + ((size.windows / size.days) * p.day ** 2) / Math.max(1e-12, p.window ** 2);
  return 1 - fCdf((poolingLimits(size.days - 1)(within) * (size.days - 1)) / free / inflated, free, within);
}

/** Standard uncertainty of the difference, W/m²: what repetition leaves, and the scatter of windows and days. */
export function differenceUncertainty(p: Precision, size: TestSize): { fixed: number; scatter: number; total: number } {
  const fixed = Math.sqrt(p.fixed ** 2 + placeVariance(p) * size.stationShareLeft + p.repeatability ** 2);
  const scatter = Math.sqrt((p.window ** 2 / size.windows + p.day ** 2 / size.days) / (size.evenness ?? 1));
  return { fixed, scatter, total: Math.hypot(fixed, scatter) };
}

/**
 * Chance that a true difference is told, 0 to 1: the judge's two-sided t test at 5 % with Welch–Satterthwaite degrees of freedom and
 * the first step of Holm's adjustment. The systematic part is one draw the test knows the size of; the scatter is estimated
 * from the test itself, pooled or by days as the judge would, so the chance is a mean over its chi-square (50 equally likely values).
 *
 * @param difference true difference, W/m²
 */
export function powerOf(difference: number, p: Precision, size: TestSize): number {
  const { fixed, scatter, total } = differenceUncertainty(p, size);
  if (total === 0) return difference === 0 ? LEVEL : 1;
  // By days the scatter is estimated as it is; pooled, windows of one day count as if they were days of their own.
  const told = (estimated2: number, dof: number): number => {
    const spreads = chiSquareNodes(Math.max(1, dof));
    let sum = 0;
    for (let i = 0; i < NODES; i++) {
      const s2 = estimated2 * spreads[i];
      const u = Math.sqrt(fixed ** 2 + s2);
      const effective = s2 > 0 ? u ** 4 / (s2 ** 2 / Math.max(1, dof)) : Infinity;
      const critical = criticalFactor(effective, size.comparisons) * u;
      sum +=
        normalCdf((Math.abs(difference) - critical) / total, 0, 1) +
        normalCdf((-Math.abs(difference) - critical) / total, 0, 1);
    }
    return sum / NODES;
  };
  const seen = Math.max(0, size.days - size.arrangements) / size.days;
  const pooled = told(
    (p.window ** 2 + p.day ** 2 * seen) / size.windows / (size.evenness ?? 1),
    size.windows - size.arrangements,
  );
  const byDays = chanceDaysDiffer(p, size);
  return byDays < 1e-6 ? pooled : byDays * told(scatter ** 2, size.days - size.arrangements) + (1 - byDays) * pooled;
}

/** Smallest true difference that is told with the wanted chance, W/m². @param power 0.05 < power < 1 */
export function resolvable(power: number, p: Precision, size: TestSize): number {
  if (!(power > LEVEL && power < 1)) throw new RangeError("a power lies between 0.05 and 1");
  const { total } = differenceUncertainty(p, size);
  let [low, high] = [0, total * 4 + 1e-9];
  while (powerOf(high, p, size) < power) high *= 2;
  for (let i = 0; i < 30; i++) {
    const middle = (low + high) / 2;
    if (powerOf(middle, p, size) < power) low = middle;
    else high = middle;
  }
  return high;
}

/** Days the planner looks ahead at most. */
export const LONGEST = 60;

/**
 * Fewest days from which on the difference is told with the wanted chance; null when 60 do not. What two days tell because neither can
 * be held against another of its arrangement, and the third takes back, is not told. @param sizeAt test size after so many days
 */
export function daysNeeded(
  difference: number,
  power: number,
  p: Precision,
  sizeAt: (days: number) => TestSize,
): number | null {
  let from: number | null = null;
  for (let days = LONGEST; days >= 1 && powerOf(difference, p, sizeAt(days)) >= power; days--) from = days;
  return from;
}
