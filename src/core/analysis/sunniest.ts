import type { SteadyWindow } from "../log/windows";
import { upperMiddle } from "../numeric/middle";
import { causesOf, type Cause } from "./causes";
import { modifierFor } from "./light";
import { efficiencyPoints, overModifier, type EfficiencyPoint } from "./points";
import type { RunSeries, RunSetup } from "./setup";

/** What the sunniest half hour says that physics does not allow, or hardly. */
export type AtSunniest =
  | {
      kind: "efficiencyBelowZero";
      lane: string;
      efficiency: number;
      riseK: number;
      irradianceWm2: number;
      atMs: number;
      causes?: readonly Cause[];
    }
  | {
      kind: "efficiencyAboveLimit";
      lane: string;
      efficiency: number;
      limit: number;
      irradianceWm2: number;
      atMs: number;
      causes?: readonly Cause[];
    }
  /** Far less than any collector gives. */
  | {
      kind: "efficiencyTiny";
      lane: string;
      efficiency: number;
      irradianceWm2: number;
      atMs: number;
      causes?: readonly Cause[];
    }
  /** Light of which neither the stream nor any loss at such temperatures can be the whereabouts, W/m². */
  | {
      kind: "lightLost";
      lane: string;
      efficiency: number;
      lostWm2: number;
      irradianceWm2: number;
      atMs: number;
      causes?: readonly Cause[];
    };

/** Length of the sunniest span looked at, ms. */
const SPAN = 1800000;
/** Sun in which a collector with flow must warm its stream, W/m². */
export const SUNNY = 400;
/** Storage in the box and a stated limit of its optics leave room, share. */
export const LIMIT_MARGIN = 1.15;
/** What probes and storage may make of nothing, as efficiency. */
export const NOISE = 0.02;
/** Below this in full sun no collector with flow works, as efficiency. */
export const TINY = 0.08;

/** Middle of what flows at all. */
export const typical = (flow: Float64Array): number => upperMiddle(flow.map(Math.abs), (v) => v > 1e-9) || 0;

/** Inlets this near to the outside leave a box little to lose, K. */
const COOL = 5;

/**
 * Each lane at the run's sunniest half hour, steady or not: enough to see a wrong unit, area or exchanged probe.
 * @param cool only while the inlet is hardly above the outside
 */
function sunniestPoints(setup: RunSetup, series: RunSeries, cool = false): EfficiencyPoint[] {
  const { irradiance, stepMs, startMs } = series;
  if (!irradiance) return [];
  const cells = Math.max(3, Math.round(SPAN / stepMs));
  if (irradiance.length < cells) return [];
  const best = (lane: string): number => {
    const own = series.lanes.get(lane);
    if (!own?.inlet || !own.outlet) return -1;
    // A fan that stands still is told of itself; here a wrong unit is looked for.
    const still = own.flow ? 0.05 * typical(own.flow) : -1;
    const known = (i: number) =>
      !Number.isNaN(irradiance[i] + own.inlet![i] + own.outlet![i] + (own.flow ? own.flow[i] : 0)) &&
      (!own.flow || Math.abs(own.flow[i]) > still) &&
      (!cool || Math.abs(own.inlet![i] - series.ambient![i]) < COOL);
    let at = -1;
    let most = SUNNY * cells;
    let sum = 0;
    let good = 0;
    for (let i = 0; i < irradiance.length; i++) {
      if (known(i)) {
        good++;
        sum += irradiance[i];
      }
      if (i >= cells && known(i - cells)) {
        good--;
        sum -= irradiance[i - cells];
      }
      if (good === cells && sum > most) {
        most = sum;
        at = i + 1 - cells;
      }
    }
    return at;
  };
  return setup.lanes.flatMap(({ lane }) => {
    const from = best(lane);
    if (from < 0) return [];
    const window: SteadyWindow = {
      from,
      to: from + cells,
      startMs: startMs + from * stepMs,
      endMs: startMs + (from + cells) * stepMs,
      lanes: [lane],
      checks: [],
    };
    // An outside probe is not needed to see what a lane gives: the reduced difference is not looked at.
    const ambient = series.ambient ?? series.lanes.get(lane)!.inlet;
    return efficiencyPoints(setup, { ...series, ambient }, [window], { basis: "mean", modifierAt: modifierFor(setup) });
  });
}

export function atSunniest(setup: RunSetup, series: RunSeries): AtSunniest[] {
  return sunniestPoints(setup, series).flatMap((p): AtSunniest[] => {
    const { lane } = p;
    const own = setup.lanes.find((l) => l.lane === lane)!;
    const limit = own.opticalLimit ?? usualLimit(p);
    const efficiency = overModifier(p);
    const at = whereAndWhy(p, own, series);
    if (efficiency < -NOISE) return [{ kind: "efficiencyBelowZero", lane, efficiency, riseK: p.rise.value, ...at }];
    if (efficiency < TINY && p.rise.value > 0.2) return [{ kind: "efficiencyTiny", lane, efficiency, ...at }];
    // Of unknown optics the best there are is margin already, but for what a box gives back.
    if (efficiency > (own.opticalLimit === null ? GIVES_BACK : LIMIT_MARGIN) * limit)
      return [{ kind: "efficiencyAboveLimit", lane, efficiency, limit, ...at }];
    return [];
  });
}

/** Under which sun and when, and which slip would explain it. */
function whereAndWhy(p: EfficiencyPoint, { fluid, flow }: RunSetup["lanes"][number], { ambient }: RunSeries) {
  const outsideC = ambient && upperMiddle(ambient);
  const ends = ambient ? { inletC: p.inlet.value, outletC: p.outlet.value, ambientC: p.ambient.value } : undefined;
  const causes = causesOf(overModifier(p), flow, { fluid: fluid.kind === "air" ? "air" : "liquid", outsideC, ends });
  return { irradianceWm2: p.irradiance.value, atMs: p.startMs, causes };
}

/** Light that is nowhere, asked where a box has least to lose. */
export function lightLost(
  setup: RunSetup,
  series: RunSeries,
  told: readonly { kind: string; lane?: string }[],
): AtSunniest[] {
  if (!series.ambient) return [];
  return sunniestPoints(setup, series, true).flatMap((p): AtSunniest[] => {
    const own = setup.lanes.find((l) => l.lane === p.lane)!;
    const lostWm2 = lostOf(p, own);
    const said = told.some((f) => f.lane === p.lane);
    if (said || p.irradiance.value < STRONG || !(lostWm2 > 0)) return [];
    return [{ kind: "lightLost", lane: p.lane, efficiency: overModifier(p), lostWm2, ...whereAndWhy(p, own, series) }];
  });
}

const GIVES_BACK = 1.05;
/** What no optics pass, with room for a sensor's ±; and what the best box loses, W/(m²·K). */
const BEST = { optics: 0.92, loss: 2.5 };

/** Of a box whose optics nobody knows: the best there are, less what the best box loses at the stream's temperature. */
function usualLimit(p: EfficiencyPoint): number {
  const above = (p.inlet.value + p.outlet.value) / 2 - p.ambient.value;
  return BEST.optics - (BEST.loss * Math.max(0, above)) / p.irradiance.value;
}

/** What a dark surface behind a cover takes at least, of light straight on; where the optics are known, of their limit. */
const DARK = { least: 0.55, ofLimit: 0.7 };
/** What boxes lose at most, W/(m²·K), with a cover and bare in the wind; and the poorest path from plate to stream (typical values). */
const MOST_LOSS = { covered: 9, bare: 22 };
const POOREST_PATH = 8;
/** Sun in which it is asked, W/m². */
const STRONG = 600;

/**
 * Light that is nowhere: a dark plate in the sun takes what its optics take, gives it to the stream or loses it, and at the temperatures
 * the stream has it cannot lose more than the worst box does. What is left over, W/m², is heat that was not counted: a flow read too small.
 */
function lostOf(p: EfficiencyPoint, { bareShare, opticalLimit }: RunSetup["lanes"][number]): number {
  const light = p.irradiance.value * p.modifier.value;
  const taken = Math.min(DARK.least, DARK.ofLimit * (opticalLimit ?? 1)) * light;
  const heat = p.efficiency.value * p.irradiance.value;
  const plateAbove = (p.inlet.value + p.outlet.value) / 2 - p.ambient.value + heat / POOREST_PATH;
  const most = bareShare == null ? MOST_LOSS.covered : MOST_LOSS.bare;
  return taken - heat - most * Math.max(0, plateAbove);
}
