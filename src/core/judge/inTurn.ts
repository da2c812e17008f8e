import { groupBy } from "../analysis/scatter";
import { combine, withSource } from "../uncertainty/uncertain";
import { valueOf, type Heats, type Ledgered } from "./heats";

/** Boxes tested one after another: what the days do to one and the same box is part of the difference. */

/** What a box gave on one day, W/m², brought to one condition. */
export interface DayHeat {
  /** ISO date. */
  day: string;
  value: number;
}

/** What weather left in the mean of either lane, and in their difference, standard, W/m². */
export interface WeatherLeft {
  difference: number;
  a: number;
  b: number;
  dof: number;
}

/**
 * What one box gives on one day against another after sun, angle and temperatures are taken out, as a share of its heat, standard:
 * haze and angle at the sensor, sky, wind, slow drifts. On the rig 1 to 2 % remain (`bench/judge.ts`); this is what is held before
 * days have told it, and counts as three of them.
 */
const MEASURED_SUN = 0.01;
/** The same under a modelled clear sky: haze of the day is not known (turbidity moves the clear sky by about so much). */
const MODELLED_SUN = 0.05;
const HELD_AS_DAYS = 4;
/** Days follow each other: lag-one memory of clearness (Graham et al. 1988). */
const MEMORY = 0.29;
/** Two lanes on one day, one after the other, share what the day is but not its hours (by judgement). */
const SAME_DAY = 0.5;

export const weatherShare = (modelledSun: boolean): number => (modelledSun ? MODELLED_SUN : MEASURED_SUN);

/**
 * The weather's part of a difference between lanes that were tested in turn, days as the unit.
 *
 * The variance of days is one estimate from both lanes' days about their own means and from what is held beforehand. Days near each
 * other remember each other, so a block of days here and a block there say less than as many days by turns.
 * @param heldShare standard share from {@link weatherShare}
 */
export function weatherLeft(a: readonly DayHeat[], b: readonly DayHeat[], heldShare: number): WeatherLeft {
  const level = (meanOf(a) + meanOf(b)) / 2;
  const held = (heldShare * level) ** 2;
  let squares = 0;
  let free = 0;
  for (const own of [a, b]) {
    const mean = meanOf(own);
    squares += own.reduce((s, d) => s + (d.value - mean) ** 2, 0);
    // What their squares about their own mean come to, were the variance of a day 1.
    free += own.length - together(own, own) / own.length;
  }
  const dof = HELD_AS_DAYS + free;
  const day = (HELD_AS_DAYS * held + squares) / dof;
  const [ofA, ofB] = [together(a, a) / a.length ** 2, together(b, b) / b.length ** 2];
  const common = together(a, b) / (a.length * b.length);
  // How long days remember is not known of these: a memory that helps is not counted on.
  const apart = Math.max(ofA + ofB - 2 * common, 1 / a.length + 1 / b.length);
  return {
    difference: Math.sqrt(day * apart),
    a: Math.sqrt(day * ofA),
    b: Math.sqrt(day * ofB),
    dof,
  };
}

const meanOf = (days: readonly DayHeat[]): number => days.reduce((s, d) => s + d.value, 0) / days.length;

/** Sum of the correlations of all days of one list with all of the other. */
function together(a: readonly DayHeat[], b: readonly DayHeat[]): number {
  let sum = 0;
  for (const p of a)
    for (const q of b) {
      const apart = Math.abs(Date.parse(p.day) - Date.parse(q.day)) / 86_400_000;
      const sameDay = a === b ? 1 : SAME_DAY;
      sum += apart < 0.5 ? sameDay : MEMORY ** apart;
    }
  return sum;
}

/** Fewer windows than this of a lane are no test of it. */
const FEWEST_IN_TURN = 2;

/**
 * Lanes that share no span, each over its own days: instruments that served both cancel by their names, and what weather does to one
 * box from day to day is estimated from the days themselves. null where spans as they were cannot be held against one another.
 */
export function differenceInTurn(a: string, b: string, heats: Heats, weatherShare: number | null) {
  if (weatherShare === null) return null;
  const [own, other] = [a, b].map((lane) => byDay([...(heats.byLane.get(lane)?.values() ?? [])]));
  if (own.spans.length < FEWEST_IN_TURN || other.spans.length < FEWEST_IN_TURN) return null;
  const weather = weatherLeft(own.days, other.days, weatherShare);
  const figure = heats.weighted([
    ...own.spans,
    ...other.spans.map(([weight, heat]): [number, Ledgered] => [-weight, heat]),
  ]);
  const source = { kind: "weather" as const, lanes: `${a}${b}`, owner: "", dof: weather.dof };
  const places = [own, other].map((l) => new Set(l.spans.map(([, { point }]) => point.station)));
  return {
    difference: combine(figure.value, [
      [1, figure],
      [1, withSource(0, weather.difference, source)],
    ]),
    level: (own.mean + other.mean) / 2,
    windows: own.spans.length + other.spans.length,
    days: own.days.length + other.days.length,
    swapped: [...places[0]].every((s) => places[1].has(s)) && places[0].size === places[1].size,
    weather,
  };
}

/** A lane's spans with their weights: days count alike, and within a day its spans. */
export function byDay(spans: readonly Ledgered[]) {
  const groups = [...groupBy(spans.map((h) => h.point.day))].map(([day, members]) => ({
    day,
    members: members.map((i) => spans[i]),
  }));
  const days = groups.map(({ day, members }) => ({
    day,
    value: members.reduce((s, h) => s + valueOf(h), 0) / members.length,
  }));
  return {
    days,
    mean: days.reduce((s, d) => s + d.value, 0) / days.length,
    spans: groups.flatMap(({ members }) =>
      members.map((h): [number, Ledgered] => [1 / (groups.length * members.length), h]),
    ),
  };
}

export type WeatherOfLanes = ReadonlyMap<string, { standard: number; dof: number }>;

/** The weather's part by lane, so that the ranking draws what the pairs say: it belongs to those that stood beside no other. */
export function weatherOfLanes(
  pairs: readonly { a: { lane: string }; b: { lane: string }; weather: WeatherLeft | null }[],
): WeatherOfLanes {
  const out = new Map<string, { standard: number; dof: number }>();
  const beside = new Set(pairs.flatMap((p) => (p.weather ? [] : [p.a.lane, p.b.lane])));
  const put = (lane: string, standard: number, dof: number) => {
    if (standard > (out.get(lane)?.standard ?? 0)) out.set(lane, { standard, dof });
  };
  for (const { a, b, weather } of pairs) {
    if (!weather) continue;
    const [ofA, ofB] = [a, b].map(({ lane }) => beside.has(lane));
    if (!ofA) put(a.lane, ofB ? weather.difference : weather.a, weather.dof);
    if (!ofB) put(b.lane, ofA ? weather.difference : weather.b, weather.dof);
    if (ofA && ofB)
      for (const [{ lane }, s] of [[a, weather.a] as const, [b, weather.b] as const]) put(lane, s, weather.dof);
  }
  return out;
}
