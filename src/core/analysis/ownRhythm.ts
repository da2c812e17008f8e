import { upperMiddle } from "../numeric/middle";
import { SUNNY } from "./sunniest";
import type { RunSeries, RunSetup } from "./setup";

/** A lane whose rise jumps up and down while the sun (or the other lanes) is steady and its flow is stated or seen to run. */
export interface RiseByItself {
  kind: "riseByItself";
  lane: string;
  jumps: number;
  /** Hours of steady sun that were looked at. */
  hours: number;
  /** Rise after a jump up over rise before it, typical. */
  ratio: number;
}

/** Means on either side of an instant, and what lies between them that a box needs to follow, minutes. */
const SIDE = 5;
const BETWEEN = 3;
/** For so long on either side the sun must be steady, minutes, with no cell above another by this share. */
const STEADY = 12;
const STEADY_SHARE = 0.15;
/** A jump: so much of the rise, and so many kelvin. */
const JUMP = 1.25;
const JUMP_K = 2;
/** So many there and back, and so often in an hour of steady sun. */
const FEWEST = 5;
const AN_HOUR = 0.5;

/**
 * A fan or pump that goes on and off though its flow is stated as if it ran, or a meter that does not see it stop: where it stands a box gets
 * hotter or its outlet cools, and the rise jumps with nothing in the sky. Without a sun sensor the other lanes tell whether the sun was steady.
 */
export function riseByItself({ lanes }: RunSetup, series: RunSeries): RiseByItself[] {
  // Logged coarser than a fan's own beat nothing is told.
  if (series.stepMs > SIDE * 60_000) return [];
  const rises = new Map(lanes.flatMap(({ lane }) => riseOf(series, lane)));
  return lanes.flatMap(({ lane }): RiseByItself[] => {
    const rise = rises.get(lane);
    const told = series.irradiance ?? meanOf([...rises].flatMap(([l, r]) => (l === lane ? [] : [r])));
    if (!rise || !told) return [];
    const { inlet, flow } = series.lanes.get(lane)!;
    const bright = series.irradiance ? SUNNY : 0.5 * upperMiddle(told.filter((v) => v > 0));
    const { found, hours } = jumpsIn({ rise, inlet: inlet!, flow, told, bright }, series.stepMs);
    const up = found.filter((f) => f.ratio > 1);
    const both = Math.min(up.length, found.length - up.length);
    if (found.length < FEWEST || 3 * both < found.length || found.length < AN_HOUR * hours) return [];
    return [{ kind: "riseByItself", lane, jumps: found.length, hours, ratio: upperMiddle(up.map((f) => f.ratio)) }];
  });
}

interface Watched {
  rise: Float64Array;
  inlet: Float64Array;
  flow: Float64Array | null;
  /** What tells whether the sun was steady, and from where on it counts as sun. */
  told: Float64Array;
  bright: number;
}

/** Jumps of a rise under a steady sun, from a steady inlet, at a flow that was not seen to change; and the hours that were looked at. */
function jumpsIn({ rise, inlet, flow, told, bright }: Watched, stepMs: number) {
  const cells = (minutes: number) => Math.max(1, Math.round((minutes * 60_000) / stepMs));
  const [side, gap, wide] = [cells(SIDE), cells(BETWEEN), cells(STEADY)];
  const [means, sky, flows] = [prefix(rise), prefix(told), flow && prefix(flow)];
  const found: { at: number; ratio: number }[] = [];
  let looked = 0;
  for (let i = wide; i + wide < rise.length; i++) {
    const around = (values: Float64Array) => values.subarray(i - wide, i + wide);
    if (!(sky(i - wide, i + wide) > bright) || !isSteady(around(told))) continue;
    looked++;
    const either = (mean: typeof means) => [mean(i - gap - side, i - gap), mean(i + gap, i + gap + side)];
    const [before, after] = either(means);
    const ratio = after / before;
    if (!(Math.min(before, after) > 0) || !(Math.abs(after - before) > JUMP_K)) continue;
    if (!(Math.abs(Math.log(ratio)) > Math.log(JUMP))) continue;
    // An inlet that is warmed in steps makes the rise jump until the box has followed.
    if (spanOf(around(inlet)) > Math.abs(after - before) / 2) continue;
    // A flow that is seen to stop, or to be set anew, is told by itself.
    const [flowBefore, flowAfter] = flows ? either(flows) : [1, 1];
    if (Math.abs(Math.log(flowAfter / flowBefore)) > Math.log(JUMP) / 2) continue;
    const last = found.at(-1);
    if (!last || i - last.at >= gap + side) found.push({ at: i, ratio });
    else if (Math.abs(Math.log(ratio)) > Math.abs(Math.log(last.ratio))) found[found.length - 1] = { at: i, ratio };
  }
  return { found, hours: (looked * stepMs) / 3_600_000 };
}

const ends = (values: Float64Array) =>
  values.reduce(([l, h], v) => [Math.min(l, v), Math.max(h, v)], [Infinity, -Infinity]);

function isSteady(values: Float64Array): boolean {
  const [low, high] = ends(values);
  return high < (1 + STEADY_SHARE) * low;
}

function spanOf(values: Float64Array): number {
  const [low, high] = ends(values);
  return high - low;
}

function riseOf({ lanes }: RunSeries, lane: string): [string, Float64Array][] {
  const own = lanes.get(lane);
  if (!own?.inlet || !own.outlet || own.tank) return [];
  const { inlet, outlet } = own;
  return [[lane, outlet.map((v, i) => v - inlet[i])]];
}

const meanOf = (list: readonly Float64Array[]): Float64Array | null =>
  list.length ? list[0].map((_, i) => list.reduce((s, r) => s + r[i], 0) / list.length) : null;

/** Means of any stretch in one step; NaN where one of its cells is not known. */
function prefix(values: Float64Array): (from: number, until: number) => number {
  const sums = new Float64Array(values.length + 1);
  const gaps = new Int32Array(values.length + 1);
  values.forEach((v, i) => {
    sums[i + 1] = sums[i] + (Number.isNaN(v) ? 0 : v);
    gaps[i + 1] = gaps[i] + (Number.isNaN(v) ? 1 : 0);
  });
  return (from, until) => {
    if (from < 0 || until > values.length || gaps[until] > gaps[from]) return NaN;
    return (sums[until] - sums[from]) / (until - from);
  };
}
