import { autocorrelatedMean } from "../../uncertainty/typeA";
import { withSource } from "../../uncertainty/uncertain";
import { eachLane, type Finder, type FinderInput, type Finding, type GapReason } from "./finding";
import { laneIn, type MethodSpan } from "./span";

/** Minutes before a step that must be level, and after it that are looked at. */
const BEFORE = 5;
const AFTER = 25;
/** A step is a change of the rise by at least this share of what it was, and by so many kelvin. */
const LEAST_SHARE = 0.4;
const LEAST_K = 4;
/** Sun and flow must hold on the box's surroundings meanwhile: a cover makes the step, no cloud. */
const STEADY_SUN = 0.12;
const STEADY_FLOW = 0.1;

/** How fast the outlet follows when the cover goes on or off (ISO 9806:2017, 63.2 % of the change), from every such step; the cover is not seen by the sun sensor. */
export const timeConstant: Finder = (input) => eachLane(input, ({ lane }) => constantsOf(input, lane));

function constantsOf({ spans }: FinderInput, lane: string): Finding[] | GapReason {
  const found = spans.flatMap((s) => stepsOf(s, lane));
  if (found.length === 0) return "noStep";
  const mean = autocorrelatedMean(found.map((f) => f.tauS));
  // One step scatters by what its own fit leaves; several by what they differ.
  const standard = found.length > 1 ? mean.sd / Math.sqrt(found.length) : found[0].standardS;
  return [
    {
      name: "tau",
      lane,
      figure: withSource(mean.mean, Math.max(standard, 10), {
        kind: "methodScatter",
        method: "timeConstant",
        figure: `${lane}/tau`,
        owner: lane,
        dof: Math.max(1, found.length - 1),
      }),
      quantity: "duration",
      hours: (found.length * (BEFORE + AFTER)) / 60,
      days: found.length,
    },
  ];
}

interface Step {
  tauS: number;
  standardS: number;
}

function stepsOf(span: MethodSpan, letter: string): Step[] {
  const own = laneIn(span, letter);
  const sun = span.minutes.irradiance;
  if (!own || !sun) return [];
  const rise = own.outlet.map((t, i) => t - own.inlet[i]);
  const out: Step[] = [];
  for (let i = BEFORE; i + AFTER <= rise.length; i++) {
    const level = meanOf(rise, i - BEFORE, i);
    const end = meanOf(rise, i + AFTER - 4, i + AFTER);
    const change = end - level;
    if (!(Math.abs(change) > LEAST_K && Math.abs(change) > LEAST_SHARE * Math.max(Math.abs(level), Math.abs(end))))
      continue;
    if (bandOf(rise, i - BEFORE, i) > 0.12 * Math.abs(change)) continue;
    if (bandOf(rise, i + AFTER - 4, i + AFTER) > 0.12 * Math.abs(change)) continue;
    // The step begins here: the next minutes carry most of the change.
    if (Math.abs(rise[i + 1] - level) < 0.06 * Math.abs(change)) continue;
    if (bandOf(sun, i - BEFORE, i + AFTER) > STEADY_SUN * meanOf(sun, i - BEFORE, i + AFTER)) continue;
    if (bandOf(own.flow, i - BEFORE, i + AFTER) > STEADY_FLOW * own.usualFlow) continue;
    const fitted = exponential(rise.subarray(i, i + AFTER), level, span.minutes.stepMs / 1000);
    if (fitted) out.push(fitted);
    i += AFTER;
  }
  return out;
}

/** Level + change·(1 − e^(−(t − t0)/τ)): the τ and begin with least squares among a fine grid, change and end by straight fit. */
function exponential(values: Float64Array, level: number, stepS: number): Step | null {
  let best = { sse: Infinity, tauS: 0 };
  const tried: { tauS: number; sse: number }[] = [];
  for (let tauS = 30; tauS < 1500; tauS *= 1.04) {
    let least = Infinity;
    for (let begin = -stepS; begin <= stepS; begin += stepS / 6) {
      let [ff, fy] = [0, 0];
      for (let i = 0; i < values.length; i++) {
        const f = 1 - Math.exp(-Math.max(0, (i + 0.5) * stepS - begin) / tauS);
        ff += f * f;
        fy += f * (values[i] - level);
      }
      const change = fy / ff;
      let sse = 0;
      for (let i = 0; i < values.length; i++) {
        const f = 1 - Math.exp(-Math.max(0, (i + 0.5) * stepS - begin) / tauS);
        sse += (values[i] - level - change * f) ** 2;
      }
      least = Math.min(least, sse);
    }
    tried.push({ tauS, sse: least });
    if (least < best.sse) best = { sse: least, tauS };
  }
  const rest = values.length - 3;
  // Where the sum of squares has grown by one variance, the constant is one standard error off.
  const within = tried.filter((t) => t.sse < best.sse * (1 + 1 / rest) + 1e-9);
  const standardS = (within[within.length - 1].tauS - within[0].tauS) / 2;
  return Number.isFinite(best.sse) && best.tauS < 1400 ? { tauS: best.tauS, standardS } : null;
}

function meanOf(a: Float64Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += a[i];
  return sum / (to - from);
}

function bandOf(a: Float64Array, from: number, to: number): number {
  let [low, high] = [Infinity, -Infinity];
  for (let i = from; i < to; i++) {
    if (Number.isNaN(a[i])) return Infinity;
    low = Math.min(low, a[i]);
    high = Math.max(high, a[i]);
  }
  return high - low;
}
