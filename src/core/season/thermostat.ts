import { stepRow } from "./collectorStep";
import type { CurveNumbers } from "./parts";

/** A box under a steady sun with a switch that starts and stops its fan. */
export interface Switched {
  areaM2: number;
  curve: CurveNumbers;
  capacityJK: number;
  /** Stream while it runs, W/K. */
  flowWK: number;
  light: number;
  outsideC: number;
  inletC: number;
  onC: number;
  offC: number;
  /** Seconds after which the sensor shows 63 % of a change. */
  sensorLagS: number;
  /** Seconds the fan goes on after the switch has opened. */
  purgeS: number;
  limitC: number | null;
}

export type Holding = "holds" | "hunts" | "overheats" | "neverStarts";

export interface SwitchedRun {
  holding: Holding;
  startsPerHour: number;
  /** Share of the time the fan runs. */
  duty: number;
  /** W, mean. */
  heat: number;
  outletC: number;
  hottestC: number;
  /** By minute: sensor, and whether the fan ran. */
  trace: { minute: number; sensorC: number; on: boolean }[];
}

const STEP = 5;
/** Followed for so long at least, the first of it to warm up; a slow pair until it has gone through whole cycles, and no longer than a day's sun. */
const HOURS = 3;
const WARM_HOURS = 1;
const MOST_HOURS = 12;
/** More starts than this in an hour wear a fan and its switch (ours). */
export const MOST_STARTS = 4;

/** Sums up to an instant. */
interface Sums {
  steps: number;
  ran: number;
  heat: number;
  outlet: number;
}

/**
 * Follows box and switch from cold. Where the fan starts and stops, heat and duty are means over whole cycles, from one start to
 * another: an hour that ends in the middle of one says what its remainder says. Where it does not, over the last hour.
 * @param stepS seconds of a step; another than the usual is for holding it against itself
 * @throws RangeError when off is not below on
 */
export function runSwitch(s: Switched, stepS = STEP): SwitchedRun {
  if (!(s.offC < s.onC)) throw new RangeError("the fan stops below where it starts");
  const row = { ...s, inSeries: 1, light: EMPTY, plainLight: EMPTY, flowShare: 1 };
  const [before, after] = [new Float64Array([s.outsideC]), new Float64Array(1)];
  let [sensor, on, purge, hottest] = [s.outsideC, false, 0, -Infinity];
  const sum: Sums = { steps: 0, ran: 0, heat: 0, outlet: 0 };
  const starts: Sums[] = [];
  const hours: Sums[] = [{ ...sum }];
  const trace: SwitchedRun["trace"] = [];
  const perHour = 3600 / stepS;
  const goesOn = (k: number) => k < HOURS * perHour || (k < MOST_HOURS * perHour && starts.length === 1);
  for (let k = 0; goesOn(k); k++) {
    const flowing = on || purge > 0;
    const { takenW, supplyC } = stepRow(
      row,
      before,
      after,
      { ...s, flowWK: flowing ? s.flowWK : 0, duty: flowing ? 1 : 0, share: 1, sinkC: s.inletC },
      stepS,
    );
    before.set(after);
    const out = flowing ? supplyC : after[0];
    sensor += (out - sensor) * (1 - Math.exp(-stepS / Math.max(1, s.sensorLagS)));
    if (purge > 0) purge -= stepS;
    sum.steps++;
    sum.ran += flowing ? 1 : 0;
    sum.heat += takenW;
    sum.outlet += flowing ? out : 0;
    if (!on && sensor >= s.onC) {
      on = true;
      purge = 0;
      if (k >= WARM_HOURS * perHour) starts.push({ ...sum });
    } else if (on && sensor <= s.offC) {
      on = false;
      purge = s.purgeS;
    }
    hottest = Math.max(hottest, after[0]);
    if (sum.steps % perHour === 0) hours.push({ ...sum });
    if (k < HOURS * perHour && (k * stepS) % 60 === 0)
      trace.push({ minute: (k * stepS) / 60, sensorC: sensor, on: flowing });
  }
  const cycles = starts.length - 1;
  const [from, to] = cycles > 0 ? [starts[0], starts[cycles]] : [hours[hours.length - 2], hours[hours.length - 1]];
  const steps = to.steps - from.steps;
  const ran = to.ran - from.ran;
  const holding = (): Holding => {
    if (s.limitC !== null && hottest > s.limitC) return "overheats";
    if (sum.ran === 0) return "neverStarts";
    return starts.length > 0 ? "hunts" : "holds";
  };
  return {
    holding: holding(),
    startsPerHour: cycles > 0 ? (cycles * perHour) / steps : starts.length,
    duty: ran / steps,
    heat: (to.heat - from.heat) / steps,
    outletC: ran ? (to.outlet - from.outlet) / ran : NaN,
    hottestC: hottest,
    trace,
  };
}

const EMPTY = new Float64Array(0);

export interface PairChoice {
  onC: number;
  offC: number;
  heat: number;
  startsPerHour: number;
}

interface Tried {
  heat: number;
  startsPerHour: number;
  calm: boolean;
}

/** A calm pair beats any that is not; of two calm ones the warmer, of two restless ones the calmer. */
function betterPair(a: Tried, b: Tried): boolean {
  if (a.calm !== b.calm) return a.calm;
  return a.calm ? a.heat > b.heat + 1e-9 : a.startsPerHour < b.startsPerHour;
}

/**
 * The pair that brings most heat, fan's power taken off, with no more than {@link MOST_STARTS} starts an hour at any of the suns
 * given. Where none keeps to that, the calmest. On and off in whole degrees above the inlet.
 * @param lights W/m², each counted alike
 */
export function bestPair(
  s: Omit<Switched, "onC" | "offC">,
  lights: readonly number[],
  fanW: number,
): PairChoice | null {
  let best: (PairChoice & { calm: boolean }) | null = null;
  for (let off = 2; off <= 20; off += 2)
    for (let gap = 3; gap <= 24; gap += 3) {
      const pair = { onC: s.inletC + off + gap, offC: s.inletC + off };
      let [heat, most] = [0, 0];
      for (const light of lights) {
        const run = runSwitch({ ...s, ...pair, light });
        heat += (run.heat - run.duty * fanW) / lights.length;
        most = Math.max(most, run.startsPerHour);
      }
      const calm = most <= MOST_STARTS;
      const better = !best || betterPair({ heat, startsPerHour: most, calm }, best);
      if (better) best = { ...pair, heat, startsPerHour: most, calm };
    }
  return best && { onC: best.onC, offC: best.offC, heat: best.heat, startsPerHour: best.startsPerHour };
}
