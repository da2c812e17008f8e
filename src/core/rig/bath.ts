import { seededRandom } from "../random/seededRandom";

export interface BathProbe {
  key: string;
  offsetK: number;
  slope: number;
  lagS: number;
  noiseK: number;
  resolutionK: number;
  /** Shares of the log, from and to, in which it logged nothing. */
  missing?: [number, number];
}

export interface BathPlan {
  seed: number;
  probes: readonly BathProbe[];
  startMs: number;
  minutes: number;
  stepS: number;
  /** Warmed from room to hot in the first part, then left to cool: both directions tell lag from slope. */
  fromC: number;
  hotC: number;
  roomC: number;
  /** Cooling time constant, min. */
  coolingMin: number;
  /** Slow differences within the bath, standard, K. */
  gradientK: number;
}

export interface BathLog {
  times: Float64Array;
  trueC: Float64Array;
  probes: { key: string; values: Float64Array }[];
}

/** A stirred bath with probes whose errors are known: for tests, demo and Practice. T0 of a planted slope is 40 °C. */
export function simulateBath(plan: BathPlan): BathLog {
  const random = seededRandom(plan.seed);
  const count = Math.floor((plan.minutes * 60) / plan.stepS);
  const times = Float64Array.from({ length: count }, (_, i) => plan.startMs + i * plan.stepS * 1000);
  const heat = plan.minutes * 0.25;
  const trueC = Float64Array.from(times, (t) => {
    const min = (t - plan.startMs) / 60000;
    if (min < heat) return plan.fromC + ((plan.hotC - plan.fromC) * min) / heat;
    return plan.roomC + (plan.hotC - plan.roomC) * Math.exp(-(min - heat) / plan.coolingMin);
  });
  const probes = plan.probes.map((p) => {
    let lagged = trueC[0];
    let wander = 0;
    const share = 1 - Math.exp(-plan.stepS / Math.max(0.1, p.lagS));
    const values = Float64Array.from(trueC, (T, i) => {
      lagged += (T - lagged) * share;
      wander = 0.95 * wander + plan.gradientK * Math.sqrt(1 - 0.95 ** 2) * random.normal();
      const at = i / count;
      const shown = lagged + wander + p.offsetK + p.slope * (lagged - 40) + p.noiseK * random.normal();
      return p.missing && at >= p.missing[0] && at < p.missing[1]
        ? NaN
        : Math.round(shown / p.resolutionK) * p.resolutionK;
    });
    return { key: p.key, values };
  });
  return { times, trueC, probes };
}
