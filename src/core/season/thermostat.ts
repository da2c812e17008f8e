import { boxAfter, pullOf } from "./collectorStep";
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
  /** Share of the last hour the fan ran. */
  duty: number;
  /** W, mean of the last hour. */
  heat: number;
  outletC: number;
  hottestC: number;
  /** By minute: sensor, and whether the fan ran. */
  trace: { minute: number; sensorC: number; on: boolean }[];
}

const STEP = 5;
const HOURS = 3;
/** More starts than this in an hour wear a fan and its switch (ours). */
export const MOST_STARTS = 4;

/** Follows box and switch for three hours from cold; what it does is read off the last. @throws RangeError when off is not below on */
export function runSwitch(s: Switched): SwitchedRun {
  if (!(s.offC < s.onC)) throw new RangeError("the fan stops below where it starts");
  const row = { ...s, light: EMPTY, plainLight: EMPTY, flowShare: 1 };
  let [boxC, sensor, on, purge] = [s.outsideC, s.outsideC, false, 0];
  let [starts, ran, heat, outlet, hottest] = [0, 0, 0, 0, -Infinity];
  const trace: SwitchedRun["trace"] = [];
  const steps = (HOURS * 3600) / STEP;
  const pull = pullOf(s.flowWK, 1);
  for (let k = 0; k < steps; k++) {
    const flowing = on || purge > 0;
    boxC = boxAfter(row, boxC, s.light, s.outsideC, flowing ? pull : 0, s.inletC, STEP);
    const taken = flowing ? pull * (boxC - s.inletC) : 0;
    const out = flowing ? s.inletC + taken / s.flowWK : boxC;
    sensor += (out - sensor) * (1 - Math.exp(-STEP / Math.max(1, s.sensorLagS)));
    if (purge > 0) purge -= STEP;
    const last = k >= steps - 3600 / STEP;
    if (!on && sensor >= s.onC) {
      on = true;
      purge = 0;
      if (last) starts++;
    } else if (on && sensor <= s.offC) {
      on = false;
      purge = s.purgeS;
    }
    hottest = Math.max(hottest, boxC);
    if (last) {
      ran += flowing ? 1 : 0;
      heat += taken;
      outlet += flowing ? out : 0;
    }
    if ((k * STEP) % 60 === 0) trace.push({ minute: (k * STEP) / 60, sensorC: sensor, on: flowing });
  }
  const lastSteps = 3600 / STEP;
  const holding = (): Holding => {
    if (s.limitC !== null && hottest > s.limitC) return "overheats";
    if (ran === 0) return "neverStarts";
    return starts >= 1 ? "hunts" : "holds";
  };
  return {
    holding: holding(),
    startsPerHour: starts,
    duty: ran / lastSteps,
    heat: heat / lastSteps,
    outletC: ran ? outlet / ran : NaN,
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
