import type { HeatPoint } from "../../analysis/points";
import { combine, standardUncertainty, type Uncertain } from "../../uncertainty/uncertain";
import { bestFirst, type DoubtFinder, type DoubtInput, type Effect } from "./doubt";

export interface SwapUnlike {
  kind: "swapUnlike";
  a: string;
  b: string;
  /** First span after the noted swap, ms. */
  notedMs: number;
  /** First span after which the difference really turned; null: it never did. */
  seenMs: number | null;
  /** Heat of one place over the other, as a share; more than their instruments explain where it never turned. */
  share: number;
  effect: Effect;
}

/** A difference that stays with its place by less than this may be its instruments: share of heat. */
const LEAST = 0.03;
/** Places of proper benches go beyond so many standard uncertainties of their instruments in 2 of 100. */
const BEYOND = 2.33;
/** The places must differ by so many times what the boxes do. */
const PLACE_TO_BOXES = 3;
/** The other account must leave so much less scatter, as a ratio of sums of squares. */
const BETTER = 6;
const FEWEST = 4;

/**
 * The leading two exchanged places, and their difference did not turn with them when it was noted: days later (a swap noted early), or never
 * (not done, or boxes that are alike at places that are not). Readings are asked place against place, whatever box is said to stand there.
 */
export const swapUnlike: DoubtFinder<SwapUnlike> = {
  find(input) {
    const pair = leading(input);
    const spans = pair ? sharedSpans(input, pair.best, pair.next) : [];
    // One exchange and no more: the first day of the other order, after which it stays.
    const turn = spans.findIndex((s) => s.order !== spans[0].order);
    if (!pair || turn < 0 || spans.slice(turn).some((s) => s.order === spans[0].order)) return [];
    if (Math.min(turn, spans.length - turn) < FEWEST) return [];
    const days = spans.flatMap((s, i) => (i > 0 && s.day !== spans[i - 1].day ? [i] : []));
    const fits = [...days.filter((i) => Math.min(i, spans.length - i) >= FEWEST), spans.length].map((at) =>
      split(spans, at),
    );
    const noted = split(spans, turn);
    const best = fits.reduce((a, b) => (b.left < a.left ? b : a), noted);
    const { a, b } = { a: pair.best, b: pair.next };
    const at = { kind: "swapUnlike" as const, a, b, notedMs: spans[turn].startMs };
    if (best.at !== turn && best.at < spans.length && Math.abs(best.step) > LEAST && noted.left > BETTER * best.left)
      return [
        { ...at, seenMs: spans[best.at].startMs, share: Math.abs(best.step) / 2, effect: effectOf(spans, best.at) },
      ];
    // Never: the places differ by far more than the boxes.
    const [place, boxes] = [Math.abs(noted.middle), Math.abs(noted.step) / 2];
    if (place > LEAST && place > PLACE_TO_BOXES * boxes && place > BEYOND * placeStandard(spans))
      return [{ ...at, seenMs: null, share: place, effect: effectOf(spans, spans.length) }];
    return [];
  },
};

/** The two that the answer is about; of boxes called equal too. */
const leading = (input: DoubtInput): { best: string; next: string } | undefined =>
  input.verdict.kind === "tie" ? { best: input.verdict.best[0], next: input.verdict.others[0][0] } : bestFirst(input);

interface Shared {
  day: string;
  startMs: number;
  /** +1 where the best stood at the place with the smaller number. */
  order: 1 | -1;
  /** Heat per area of the lower place over the higher, logarithm. */
  ratio: number;
  level: number;
  /** The heats it is made of, the lower place's first. */
  heats: readonly [Uncertain, Uncertain];
}

/** What instruments of the two places may make of their mean ratio, standard. */
const placeStandard = (spans: readonly Shared[]): number =>
  standardUncertainty(
    combine(
      0,
      spans.flatMap(({ heats: [low, high] }) => [
        [1 / spans.length / low.value, low] as const,
        [-1 / spans.length / high.value, high] as const,
      ]),
    ),
  );

function sharedSpans({ heats }: DoubtInput, best: string, next: string): Shared[] {
  const of = (h: HeatPoint) => h.heat.value / h.area.value;
  const others = new Map(heats.filter((h) => h.lane === next).map((h) => [`${h.run}/${h.window}`, h]));
  return heats
    .filter((h) => h.lane === best)
    .flatMap((own): Shared[] => {
      const other = others.get(`${own.run}/${own.window}`);
      if (!other || !(of(own) > 0) || !(of(other) > 0)) return [];
      const order = own.station < other.station ? 1 : -1;
      const { day, startMs } = own;
      const ratio = order * Math.log(of(own) / of(other));
      const both = order > 0 ? ([own.heat, other.heat] as const) : ([other.heat, own.heat] as const);
      return [{ day, startMs, order, ratio, level: (of(own) + of(other)) / 2, heats: both }];
    })
    .sort((x, y) => x.startMs - y.startMs);
}

/** Two levels, before and from a span on: what they leave, how far they lie apart and their middle. */
function split(spans: readonly Shared[], at: number) {
  const sides = [spans.slice(0, at), spans.slice(at)].filter((s) => s.length);
  const means = sides.map((s) => s.reduce((sum, x) => sum + x.ratio, 0) / s.length);
  const left = sides.reduce((sum, s, i) => sum + s.reduce((q, x) => q + (x.ratio - means[i]) ** 2, 0), 0);
  const step = means.length > 1 ? means[0] - means[1] : 0;
  return { at, left, step, middle: means.reduce((s, m) => s + m, 0) / means.length };
}

/** What the leading difference would be if boxes changed places there, less what it is. */
function effectOf(spans: readonly Shared[], at: number): Effect {
  const mean = (of: (s: Shared, i: number) => number) => spans.reduce((sum, s, i) => sum + of(s, i), 0) / spans.length;
  const [first] = spans;
  const asNoted = mean((s) => s.order * s.ratio * s.level);
  const asSeen = mean((s, i) => (i < at ? 1 : -1) * first.order * s.ratio * s.level);
  const shift = asSeen - asNoted;
  return { low: Math.min(0, shift), high: Math.max(0, shift) };
}
