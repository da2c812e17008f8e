import { upperMiddle } from "../numeric/middle";
import { blockMeans } from "./grid";

export interface SteadySignals {
  startMs: number;
  stepMs: number;
  /** Shared channels on the grid. */
  irradiance: Float64Array;
  ambient: Float64Array;
  /** Incidence factor by time; 1 where unknown. */
  modifier: Float64Array;
  lanes: readonly LaneSignals[];
}

interface LaneSignals {
  lane: string;
  inlet: Float64Array;
  outlet: Float64Array;
  /** Anything proportional to the flow. */
  flow: Float64Array;
  timeConstantS: number;
}

const MINUTE = 60000;

/** Values by the minute with what means over any stretch of them follow from. */
export interface Summed {
  values: Float64Array;
  /** Of the values, and of those that are missing, before each. */
  sums: Float64Array;
  gaps: Uint32Array;
}

/** What windows are looked for in, by the minute (by the grid's cells where those are longer): no limit changes it. */
export interface SearchedMinutes {
  startMs: number;
  minuteMs: number;
  /** Cells of the grid. */
  perMinute: number;
  irradiance: Summed;
  ambient: Summed;
  modifier: Summed;
  lanes: readonly {
    lane: string;
    inlet: Summed;
    outlet: Summed;
    flow: Summed;
    usualFlow: number;
    timeConstantS: number;
  }[];
}

export function searchedMinutes({ startMs, stepMs, lanes, ...shared }: SteadySignals): SearchedMinutes {
  const perMinute = Math.max(1, Math.round(MINUTE / stepMs));
  const minutes = (values: Float64Array) => summed(blockMeans(values, perMinute));
  return {
    startMs,
    minuteMs: perMinute * stepMs,
    perMinute,
    irradiance: minutes(shared.irradiance),
    ambient: minutes(shared.ambient),
    modifier: minutes(shared.modifier),
    lanes: lanes.map(({ lane, timeConstantS, inlet, outlet, flow: whole }) => {
      const flow = minutes(whole);
      const usual = usualFlow(flow.values);
      return { lane, timeConstantS, inlet: minutes(inlet), outlet: minutes(outlet), flow, usualFlow: usual };
    }),
  };
}

function summed(values: Float64Array): Summed {
  const n = values.length;
  const sums = new Float64Array(n + 1);
  const gaps = new Uint32Array(n + 1);
  for (let i = 0; i < n; i++) {
    const gap = Number.isNaN(values[i]);
    sums[i + 1] = sums[i] + (gap ? 0 : values[i]);
    gaps[i + 1] = gaps[i] + (gap ? 1 : 0);
  }
  return { values, sums, gaps };
}

/** Middle of what flows forward at all, in the flow's own unit; Infinity where nothing does. */
export function usualFlow(flow: Float64Array): number {
  const middle = upperMiddle(flow, (v) => v > 1e-9);
  return Number.isNaN(middle) ? Infinity : middle;
}

/** Longer stretches are looked up in one pass over all (monotonic queues); few of the shorter ones are asked for at all. */
const LOOKED_UP = 120;

/** Minimum, maximum, mean and completeness of every stretch of fixed length. */
export class RunningRange {
  private readonly values: Float64Array;
  private readonly sums: Float64Array;
  private readonly gaps: Uint32Array;
  private lows: Float64Array | null = null;
  private highs: Float64Array | null = null;

  constructor(
    minutes: Summed,
    private readonly length: number,
  ) {
    ({ values: this.values, sums: this.sums, gaps: this.gaps } = minutes);
  }

  /** At most one cell in twenty is missing. */
  complete(start: number): boolean {
    return (this.gaps[start + this.length] - this.gaps[start]) * 20 <= this.length;
  }

  mean(start: number): number {
    const known = this.length - (this.gaps[start + this.length] - this.gaps[start]);
    return (this.sums[start + this.length] - this.sums[start]) / known;
  }

  /** NaN where nothing is known. */
  low(start: number): number {
    if (this.length > LOOKED_UP) return (this.lows ??= RunningRange.extreme(this.values, this.length, 1))[start];
    return this.extremeOf(start, 1);
  }

  private high(start: number): number {
    if (this.length > LOOKED_UP) return (this.highs ??= RunningRange.extreme(this.values, this.length, -1))[start];
    return this.extremeOf(start, -1);
  }

  private extremeOf(start: number, sign: 1 | -1): number {
    let found = NaN;
    for (let i = start; i < start + this.length; i++)
      if (!(sign * found <= sign * this.values[i]) && !Number.isNaN(this.values[i])) found = this.values[i];
    return found;
  }

  /** Largest deviation from the mean, either way. */
  spread(start: number): number {
    const mean = this.mean(start);
    return Math.max(this.high(start) - mean, mean - this.low(start));
  }

  private static extreme(values: Float64Array, length: number, sign: 1 | -1): Float64Array {
    const n = values.length;
    const out = new Float64Array(Math.max(0, n - length + 1)).fill(NaN);
    const queue = new Int32Array(n);
    let head = 0;
    let tail = 0;
    for (let i = 0; i < n; i++) {
      if (!Number.isNaN(values[i])) {
        while (tail > head && sign * values[queue[tail - 1]] >= sign * values[i]) tail--;
        queue[tail++] = i;
      }
      while (tail > head && queue[head] <= i - length) head++;
      if (i >= length - 1 && tail > head) out[i - length + 1] = values[queue[head]];
    }
    return out;
  }
}
