import { modifierFor } from "../../analysis/light";
import type { TemperatureBasis } from "../../analysis/heat";
import type { LaneMinutes } from "../../analysis/laneMinutes";
import type { LaneSetup, RunSetup } from "../../analysis/setup";
import type { TankLoss } from "../../analysis/tankMinutes";
import { localDay } from "../../log/zone";
import { clearSkyInPlane } from "../../sun/clearSky";
import { fromLimit } from "../../uncertainty/uncertain";
import { laneIn, minuteMs, type MethodSpan } from "./span";

/** A lane's daylight without gaps, minute by minute: what the regression is made of. */
export interface Stretch {
  day: string;
  /** Where the lane stood and with what it was measured. */
  setup: RunSetup;
  lane: LaneSetup;
  usualFlow: number;
  startMs: number;
  stepS: number;
  /** W/m² */
  heat: number[];
  /** Light that counts: K·G, and the same with the incidence coefficient moved by its standard doubt, W/m². */
  light: number[];
  lightMoved: number[];
  /** The same with as much more of it straight from the sun as nobody knows under cloud (standard). */
  lightSplit: number[];
  /** Fluid above outside, K, by the chosen basis. */
  over: number[];
  /** m/s; NaN where none was logged. */
  wind: number[];
  /** ṁ·cp/A, W/(m²·K). */
  capacity: number[];
  /** Where a tank counts the heat: what it loses itself. */
  tankLoss?: TankLoss;
}

/** Below this the light is little more than the sensor's offset, W/m². */
const DIM = 50;
/** Nobody logs whether a tank's pump runs: below this light it may stand, W/m² (controllers start between 100 and 250, typical values). */
const PUMP_STARTS = 250;
/** Shorter stretches say little after their beginning is left out, minutes. */
const SHORTEST = 20;
const STILL = 0.05;
/** Clear, cloudy: shares of the clear sky's light between which the beam fades out (by judgement). */
const OVERCAST = 0.3;
const CLEAR = 0.9;

/** All stretches of a lane in a span. Minutes in the dark, without flow or with something unknown end one. */
export function stretchesOf(span: MethodSpan, letter: string, basis: TemperatureBasis): Stretch[] {
  const own = laneIn(span, letter);
  const { minutes, setup } = span;
  const { irradiance, ambient } = minutes;
  if (!own || !irradiance || !ambient || setup.sunSensor.mounting === "modelled") return [];
  const light = lightOf(setup, own.lane, span, irradiance);
  const dim = own.tankLoss ? PUMP_STARTS : DIM;
  const out: Stretch[] = [];
  let open: Stretch | null = null;
  const close = () => {
    if (open && open.heat.length >= SHORTEST) out.push(open);
    open = null;
  };
  for (let i = 0; i < minutes.count; i++) {
    const fluid = basis === "mean" ? (own.inlet[i] + own.outlet[i]) / 2 : own.inlet[i];
    const good =
      irradiance[i] > dim && !Number.isNaN(own.heat[i] + fluid + ambient[i]) && own.flow[i] > STILL * own.usualFlow;
    if (!good) {
      close();
      continue;
    }
    const day = localDay(minuteMs(span, i), setup.zone);
    if (open && open.day !== day) close();
    open ??= begun(span, own, day, i);
    open.heat.push(own.heat[i] / own.lane.areaM2);
    open.light.push(light.counted[i]);
    open.lightMoved.push(light.moved[i]);
    open.lightSplit.push(light.split[i]);
    open.over.push(fluid - ambient[i]);
    open.wind.push(span.wind?.[i] ?? NaN);
    open.capacity.push(own.capacity[i] / own.lane.areaM2);
  }
  close();
  return out;
}

const begun = ({ minutes, setup }: MethodSpan, own: LaneMinutes, day: string, i: number): Stretch => ({
  day,
  setup,
  lane: own.lane,
  usualFlow: own.usualFlow,
  startMs: minutes.startMs + i * minutes.stepMs,
  stepS: minutes.stepMs / 1000,
  heat: [],
  light: [],
  lightMoved: [],
  lightSplit: [],
  over: [],
  wind: [],
  capacity: [],
  tankLoss: own.tankLoss,
});

/**
 * Limit of that share half-way: a thin cloud lets most of the sun through, and by the hour half of a clear sky's light is three quarters
 * diffuse (Erbs et al. 1982).
 */
const SHARE_LIMIT = 0.3;

/** The incidence modifier by the clear sky's beam where the sun is out, by diffuse light where it is not. */
export function lightOf(setup: RunSetup, lane: LaneSetup, span: MethodSpan, irradiance: Float64Array) {
  const modifierAt = modifierFor(setup);
  const by = fromLimit(lane.b0Limit);
  const b0Across = lane.b0Across == null ? null : lane.b0Across + by;
  const moved = { b0: lane.b0 + by, b0Across, slanted: lane.slanted };
  const n = irradiance.length;
  const [counted, other, split] = [0, 1, 2].map(() => new Float64Array(n));
  const stride = Math.max(1, Math.round(300_000 / span.minutes.stepMs));
  const at = (i: number) => {
    const ms = minuteMs(span, i);
    const clear = clearSkyInPlane(ms, setup.place, setup.plane, setup.linkeTurbidity).total;
    return { clear, K: modifierAt(ms, lane), moved: modifierAt(ms, moved) };
  };
  let next = at(0);
  for (let from = 0; from < n; from += stride) {
    const now = next;
    next = at(from + stride);
    for (let k = 0; k < stride && from + k < n; k++) {
      const f = k / stride;
      const between = (a: number, b: number) => a + f * (b - a);
      const clearness = irradiance[from + k] / Math.max(1, between(now.clear, next.clear));
      const beam = Math.min(1, Math.max(0, (clearness - OVERCAST) / (CLEAR - OVERCAST)));
      // Diffuse light comes as if from 60° (DB 5.4), where 1/cos θ − 1 is 1.
      const factor = (K: number, b0: number, share = beam) => share * K + (1 - share) * (1 - b0);
      const K = between(now.K, next.K);
      const more = beam + fromLimit(SHARE_LIMIT) * 4 * beam * (1 - beam);
      counted[from + k] = irradiance[from + k] * factor(K, lane.b0);
      split[from + k] = irradiance[from + k] * factor(K, lane.b0, more);
      other[from + k] = irradiance[from + k] * factor(between(now.moved, next.moved), moved.b0);
    }
  }
  return { counted, moved: other, split };
}
