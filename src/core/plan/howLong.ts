import { AFTER_BATH } from "../uncertainty/whatIf";
import { daysNeeded, LONGEST, resolvable, type TestSize } from "./power";
import type { Precision } from "./precision";
import { swapSchedule } from "./schedule";

export interface DurationInput {
  precision: Precision;
  /** Standard uncertainty a probe counts with now, K: what a bath can bring down. */
  probeK: number;
  smallest: number;
  specimens: number;
  /** Comparisons of different variants. */
  comparisons: number;
  /** Figures that a clear day gives. */
  perDay: number;
  swaps: "none" | "daily" | "noon";
  seed: number;
}

/** How large the test is after so many days with these swaps. */
export function sizeAfter(
  input: Pick<DurationInput, "specimens" | "comparisons" | "perDay" | "swaps" | "seed">,
  days: number,
): TestSize {
  const base = { days, windows: Math.max(1, Math.round(days * input.perDay)), comparisons: input.comparisons };
  if (input.swaps === "none") return { ...base, stationShareLeft: 1, arrangements: 1 };
  const { order, balance } = swapSchedule(input.specimens, days * (input.swaps === "noon" ? 2 : 1), input.seed);
  // Arrangements of a pair: how often two lanes meet a new pair of places.
  const pairs = new Set(order.map((row) => `${row.indexOf(0)}-${row.indexOf(1)}`));
  return {
    ...base,
    stationShareLeft: balance.stationShareLeft,
    evenness: balance.evenness,
    arrangements: Math.min(pairs.size, base.windows - 1 || 1),
  };
}

export interface DurationRow {
  days: number;
  windows: number;
  /** Smallest difference told with 80 % and 95 % chance, W/m². */
  at80: number;
  at95: number;
  balanced: boolean;
}

/** Days at which the curve of {@link duration} stands. */
const CURVE_DAYS = 12;

export type Shortener = "swap" | "noonSwap" | "bath" | "traverse" | "moreWindows" | "fewerVariants";

export interface Duration {
  curve: DurationRow[];
  days80: number | null;
  days95: number | null;
  /** What would bring days at the wanted power down, most first; null: even so not within 60 days. */
  shorter: { kind: Shortener; days: number | null }[];
}

/** Further days that may take back what fewer seemed to tell. */
const LOOKED_ON = 4;

/** What each number of days tells and no further day takes back: more days never tell less. */
function toldFromOn(sizeAt: (days: number) => TestSize, p: Precision): DurationRow[] {
  const curve: DurationRow[] = [];
  let [at80, at95] = [0, 0];
  for (let days = CURVE_DAYS + LOOKED_ON; days >= 1; days--) {
    const size = sizeAt(days);
    at80 = Math.max(at80, resolvable(0.8, p, size));
    at95 = Math.max(at95, resolvable(0.95, p, size));
    if (days <= CURVE_DAYS)
      curve.unshift({ days, windows: size.windows, at80, at95, balanced: size.stationShareLeft < 1e-9 });
  }
  return curve;
}

/** How many days settle the question, against the difference to be told, and what would shorten it. */
export function duration(input: DurationInput, power: 0.8 | 0.95): Duration {
  const sizes =
    (over: Partial<DurationInput> = {}) =>
    (days: number) =>
      sizeAfter({ ...input, ...over }, days);
  const { precision: p, smallest } = input;
  const days = (wanted: number, q: Precision = p, over: Partial<DurationInput> = {}) =>
    smallest > 0 ? daysNeeded(smallest, wanted, q, sizes(over)) : null;
  const curve = toldFromOn(sizes(), p);
  const days80 = days(0.8);
  const days95 = days(0.95);
  const now = (power === 0.8 ? days80 : days95) ?? LONGEST + 1;
  const tries: [Shortener, boolean, () => number | null][] = [
    ["swap", input.swaps === "none" && input.specimens > 1, () => days(power, p, { swaps: "daily" })],
    ["noonSwap", input.swaps === "daily", () => days(power, p, { swaps: "noon", perDay: input.perDay * 0.75 })],
    [
      "bath",
      input.probeK > AFTER_BATH,
      () => days(power, { ...p, place: { ...p.place, probe: p.place.probe * (AFTER_BATH / input.probeK) } }),
    ],
    [
      "traverse",
      p.place.profile > 0,
      () => days(power, { ...p, place: { ...p.place, profile: p.place.profile * 0.2 } }),
    ],
    ["moreWindows", true, () => days(power, p, { perDay: input.perDay * 1.5 })],
    ["fewerVariants", input.comparisons > 1, () => days(power, p, { comparisons: 1, specimens: 2 })],
  ];
  const shorter = tries
    .flatMap(([kind, applies, then]) => (applies ? [{ kind, days: then() }] : []))
    .filter((s) => s.days !== null && s.days < now)
    .sort((a, b) => a.days! - b.days!);
  return { curve, days80, days95, shorter };
}
