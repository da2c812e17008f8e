import { blockMeans } from "../log/grid";
import { usualFlow, type SteadySignals } from "../log/searched";
import { outletBand, STILL, type LimitName, type SteadyRules } from "../log/windows";

/** What keeps a lane from being steady: a limit, readings that are missing, or a flow that stands still. */
export type HeldBack =
  | {
      name: LimitName | "stopped";
      /** Shared by all lanes when null. */
      lane: string | null;
      /** Worst deviation, or lowest value for the two floors. */
      worst: number;
      limit: number;
    }
  /** `what` is empty where nothing at all reaches back further. */
  | { name: "missing"; lane: string | null; what: readonly Signal[] };

/** What has to be read for a lane to be steady. */
export type Signal = "irradiance" | "ambient" | "inlet" | "outlet" | "flow";

export interface SteadyNow {
  lane: string;
  /** Steady for this long until now, ms; at most `neededMs`. */
  forMs: number;
  /** Settling and averaging together, ms. */
  neededMs: number;
  settleMs: number;
  /** What ended or prevents the steady stretch; null once it is long enough. */
  heldBack: HeldBack | null;
}

const MINUTE = 60000;

interface Column {
  values: Float64Array;
}

/**
 * How long each lane has been steady until the end of the series, by the limits of the window search: the longest stretch ending now
 * over which every limit holds about the stretch's own mean. Pure; needs the last `neededMs` of the series only.
 */
export function steadyNow(signals: SteadySignals, rules: SteadyRules): SteadyNow[] {
  const perMinute = Math.max(1, Math.round(MINUTE / signals.stepMs));
  const minuteMs = perMinute * signals.stepMs;
  const tau = Math.max(0, ...signals.lanes.map((l) => l.timeConstantS));
  const minutes = (seconds: number) => Math.max(1, Math.ceil((seconds * 1000) / minuteMs));
  const settle = minutes(Math.max(rules.settleS, rules.settleTimeConstants * tau));
  const needed = settle + minutes(Math.max(rules.averageS, rules.averageTimeConstants * tau));
  /** Minute means counted back from the end, so that the newest minute is whole. */
  const backwards = (a: Float64Array): Column => {
    const whole = Math.min(a.length, needed * perMinute);
    const cells = whole - (whole % perMinute);
    return { values: blockMeans(a.subarray(a.length - cells), perMinute).reverse() };
  };
  const shared = {
    irradiance: backwards(signals.irradiance),
    ambient: backwards(signals.ambient),
    modifier: backwards(signals.modifier),
  };
  return signals.lanes.map((lane) => {
    const own = { inlet: backwards(lane.inlet), outlet: backwards(lane.outlet), flow: backwards(lane.flow) };
    const usual = usualFlow(lane.flow);
    let length = 0;
    let heldBack: HeldBack | null = null;
    while (length < needed && heldBack === null) {
      heldBack = broken(length + 1, lane.lane, { shared, own, usual, rules });
      if (!heldBack) length++;
    }
    return {
      lane: lane.lane,
      forMs: length * minuteMs,
      neededMs: needed * minuteMs,
      settleMs: settle * minuteMs,
      heldBack,
    };
  });
}

interface LaneColumns {
  shared: { irradiance: Column; ambient: Column; modifier: Column };
  own: { inlet: Column; outlet: Column; flow: Column };
  usual: number;
  rules: SteadyRules;
}

/** The first limit that the last `n` minutes do not meet; null when they meet all. */
function broken(n: number, lane: string, { shared, own, usual, rules }: LaneColumns): HeldBack | null {
  const sun = range(shared.irradiance, n);
  const ambient = range(shared.ambient, n);
  // A run that has just begun lacks nothing: there is only no more of it.
  if (shared.irradiance.values.length < n) return { name: "missing", lane: null, what: [] };
  if (!sun || !ambient)
    return {
      name: "missing",
      lane: null,
      what: [...(sun ? [] : ["irradiance" as const]), ...(ambient ? [] : ["ambient" as const])],
    };
  if (sun.mean < rules.minIrradiance || sun.low < rules.minIrradiance - rules.irradianceBand)
    return { name: "irradiance", lane: null, worst: Math.min(sun.mean, sun.low), limit: rules.minIrradiance };
  if (sun.spread > rules.irradianceBand)
    return { name: "irradianceBand", lane: null, worst: sun.spread, limit: rules.irradianceBand };
  const modifier = range(shared.modifier, n);
  if (modifier && modifier.low < rules.minModifier)
    return { name: "modifier", lane: null, worst: modifier.low, limit: rules.minModifier };
  if (ambient.spread > rules.ambientBand)
    return { name: "ambient", lane: null, worst: ambient.spread, limit: rules.ambientBand };
  const [inlet, outlet, flow] = [range(own.inlet, n), range(own.outlet, n), range(own.flow, n)];
  if (!inlet || !outlet || !flow) {
    const what = Object.entries({ inlet, outlet, flow }).flatMap(([signal, there]) =>
      there ? [] : [signal as Signal],
    );
    return { name: "missing", lane, what };
  }
  if (!(flow.mean > STILL * usual)) return { name: "stopped", lane, worst: flow.mean / usual, limit: STILL };
  if (inlet.spread > rules.inletBand) return { name: "inlet", lane, worst: inlet.spread, limit: rules.inletBand };
  if (flow.spread > rules.flowBand * Math.abs(flow.mean))
    return { name: "flow", lane, worst: flow.spread / Math.abs(flow.mean), limit: rules.flowBand };
  const limit = outletBand(rules, outlet.mean - inlet.mean);
  if (outlet.spread > limit) return { name: "outlet", lane, worst: outlet.spread, limit };
  return null;
}

/** Over the newest n minutes; null where more than one in twenty is missing. */
function range({ values }: Column, n: number): { mean: number; low: number; spread: number } | null {
  if (values.length < n) return null;
  let [sum, low, high, known] = [0, Infinity, -Infinity, 0];
  for (let i = 0; i < n; i++) {
    const v = values[i];
    if (Number.isNaN(v)) continue;
    sum += v;
    low = Math.min(low, v);
    high = Math.max(high, v);
    known++;
  }
  if (known === 0 || (n - known) * 20 > n) return null;
  const mean = sum / known;
  return { mean, low, spread: Math.max(high - mean, mean - low) };
}
