import type { FluidKind } from "../fluids/fluid";
import { RunningRange, searchedMinutes, type SearchedMinutes, type SteadySignals, type Summed } from "./searched";

/** Limits that make a period steady. ± limits are on one-minute means about the window's mean. */
export interface SteadyRules {
  name: "standard" | "backyard";
  /** Mean irradiance in the plane at least, W/m². */
  minIrradiance: number;
  /** ± W/m². */
  irradianceBand: number;
  /** ± K. */
  ambientBand: number;
  /** ± share of the mean. */
  flowBand: number;
  /** ± K. */
  inletBand: number;
  /** Incidence factor at least (1 is normal incidence). */
  minModifier: number;
  /** Steady before averaging begins, s; and as a multiple of the lane's time constant. The longer counts. */
  settleS: number;
  settleTimeConstants: number;
  averageS: number;
  averageTimeConstants: number;
}

/**
 * Near the steady-state limits of ISO 9806:2017 for air and for liquid collectors. A loop outside a laboratory does not hold its inlet
 * within that standard's 0.1 K, nor a meter that counts pulses its flow within 1 %: at 0.3 K and 2 % what a box stores meanwhile is a few
 * W/m², and the fit counts it.
 */
export const standardRules = (fluid: FluidKind): SteadyRules => ({
  name: "standard",
  minIrradiance: 700,
  irradianceBand: 50,
  ambientBand: 1.5,
  flowBand: 0.02,
  inletBand: fluid === "air" ? 1.5 : 0.3,
  minModifier: 0.98,
  settleS: 900,
  settleTimeConstants: 4,
  averageS: 600,
  averageTimeConstants: 4,
});

/** Looser limits for a bench behind the house; editable. */
export const backyardRules = (fluid: FluidKind): SteadyRules => ({
  name: "backyard",
  minIrradiance: 450,
  irradianceBand: 90,
  ambientBand: 2.5,
  flowBand: 0.05,
  inletBand: fluid === "air" ? 2.5 : 0.5,
  minModifier: 0.94,
  settleS: 480,
  settleTimeConstants: 2,
  averageS: 480,
  averageTimeConstants: 2,
});

export type LimitName = "irradiance" | "irradianceBand" | "ambient" | "modifier" | "inlet" | "flow" | "outlet";
/** Why sunny minutes gave no window: a limit, readings that are missing, or a flow that stood still or ran backwards. */
export type Refusal = LimitName | "missing" | "stopped";

export interface LimitCheck {
  name: LimitName;
  /** Lane letter for inlet and flow. */
  lane: string | null;
  /** Worst deviation (or lowest value for the two floors), in the limit's unit. */
  worst: number;
  limit: number;
  met: boolean;
}

export interface SteadyWindow {
  /** Grid cells of the averaging part, [from, to). */
  from: number;
  to: number;
  startMs: number;
  endMs: number;
  /** Lanes that were steady in it. */
  lanes: string[];
  /** Each limit of the rule set as this window met it. */
  checks: LimitCheck[];
}

export interface WindowSearch {
  windows: SteadyWindow[];
  /** Minutes of daylight tried and refused, by the limit that failed first: says what to loosen or mend. */
  refusals: Partial<Record<Refusal, number>>;
}

/** Flow below this share of the lane's usual stands still, however evenly. */
export const STILL = 0.1;

/**
 * Steady windows of a run, shared by as many lanes as possible so that lanes can be paired.
 *
 * A window is an averaging part preceded by a settling part; the limits hold over both. The
 * search goes forward in time, prefers the start within the next averaging length at which most lanes are
 * steady, and lets a window settle during the one before it, as steady time is steady time.
 *
 * @testing
 */
export const findSteadyWindows = (signals: SteadySignals, rules: SteadyRules): WindowSearch =>
  windowsIn(searchedMinutes(signals), rules);

/** As `findSteadyWindows`, where what no limit changes is known already. */
export function windowsIn(searched: SearchedMinutes, rules: SteadyRules): WindowSearch {
  const { startMs, minuteMs, perMinute } = searched;
  const tau = Math.max(0, ...searched.lanes.map((l) => l.timeConstantS));
  // From here on all lengths are in minutes (in grid cells where those are longer).
  const minutes = (seconds: number) => Math.max(1, Math.ceil((seconds * 1000) / minuteMs));
  const settle = minutes(Math.max(rules.settleS, rules.settleTimeConstants * tau));
  const average = minutes(Math.max(rules.averageS, rules.averageTimeConstants * tau));
  const total = settle + average;

  const range = (minutes: Summed) => new RunningRange(minutes, total);
  const sun = range(searched.irradiance);
  const ambient = range(searched.ambient);
  const modifier = range(searched.modifier);
  const lanes = searched.lanes.map(({ lane, usualFlow, inlet, flow, outlet }) => ({
    lane,
    usualFlow,
    inletRange: range(inlet),
    flowRange: range(flow),
    outletRange: range(outlet),
  }));
  // The outlet may move as far as the inlet and the sun that are let move carry it; beyond, the box is warming up or cooling down.
  const outletLimit = (lane: (typeof lanes)[number], start: number): number =>
    outletBand(rules, lane.outletRange.mean(start) - lane.inletRange.mean(start));

  const refusals: WindowSearch["refusals"] = {};
  const refuse = (reason: Refusal) => (refusals[reason] = (refusals[reason] ?? 0) + 1);
  const steadyLanes = (start: number): string[] => {
    if (!sun.complete(start)) return [];
    const g = sun.mean(start);
    if (!(g > 50)) return [];
    if (g < rules.minIrradiance || sun.low(start) < rules.minIrradiance - rules.irradianceBand)
      return (refuse("irradiance"), []);
    if (sun.spread(start) > rules.irradianceBand) return (refuse("irradianceBand"), []);
    if (modifier.low(start) < rules.minModifier) return (refuse("modifier"), []);
    if (!ambient.complete(start)) return (refuse("missing"), []);
    if (ambient.spread(start) > rules.ambientBand) return (refuse("ambient"), []);
    return lanes
      .filter((lane) => {
        if (!lane.inletRange.complete(start) || !lane.flowRange.complete(start) || !lane.outletRange.complete(start))
          return (refuse("missing"), false);
        if (!(lane.flowRange.mean(start) > STILL * lane.usualFlow)) return (refuse("stopped"), false);
        if (lane.inletRange.spread(start) > rules.inletBand) return (refuse("inlet"), false);
        if (lane.flowRange.spread(start) > rules.flowBand * Math.abs(lane.flowRange.mean(start)))
          return (refuse("flow"), false);
        if (lane.outletRange.spread(start) > outletLimit(lane, start)) return (refuse("outlet"), false);
        return true;
      })
      .map((lane) => lane.lane);
  };

  const windows: SteadyWindow[] = [];
  const lastStart = searched.irradiance.values.length - total;
  // Starts are tried each minute; finer would only shift windows by seconds.
  for (let start = 0; start <= lastStart;) {
    let best = steadyLanes(start);
    if (best.length === 0) {
      start++;
      continue;
    }
    let at = start;
    for (let later = start + 1; best.length < lanes.length && later <= Math.min(lastStart, start + average); later++) {
      const more = steadyLanes(later);
      if (more.length > best.length) [best, at] = [more, later];
    }
    const from = at + settle;
    windows.push({
      from: from * perMinute,
      to: (from + average) * perMinute,
      startMs: startMs + from * minuteMs,
      endMs: startMs + (from + average) * minuteMs,
      lanes: best,
      checks: checksAt(at, best),
    });
    start = at + average;
  }
  return { windows, refusals };

  function checksAt(start: number, steady: string[]): LimitCheck[] {
    const check = (name: LimitName, lane: string | null, worst: number, limit: number, floor = false): LimitCheck => ({
      name,
      lane,
      worst,
      limit,
      met: floor ? worst >= limit : worst <= limit,
    });
    return [
      check("irradiance", null, sun.mean(start), rules.minIrradiance, true),
      check("irradianceBand", null, sun.spread(start), rules.irradianceBand),
      check("ambient", null, ambient.spread(start), rules.ambientBand),
      check("modifier", null, modifier.low(start), rules.minModifier, true),
      ...lanes
        .filter((l) => steady.includes(l.lane))
        .flatMap((l) => [
          check("inlet", l.lane, l.inletRange.spread(start), rules.inletBand),
          check("flow", l.lane, l.flowRange.spread(start) / Math.abs(l.flowRange.mean(start)), rules.flowBand),
          check("outlet", l.lane, l.outletRange.spread(start) / outletLimit(l, start), 1),
        ]),
    ];
  }
}

/** How far an outlet may move about its mean, ± K: as far as the inlet and the sun that are let move carry it. @param riseK outlet over inlet, K */
export const outletBand = (rules: SteadyRules, riseK: number): number =>
  rules.inletBand + (rules.irradianceBand / rules.minIrradiance) * Math.abs(riseK);

/** The same window's deviations held against other limits: what a backyard window would lack for the standard. */
export function recheck(checks: readonly LimitCheck[], rules: SteadyRules): LimitCheck[] {
  const limits: Partial<Record<LimitName, number>> = {
    irradiance: rules.minIrradiance,
    irradianceBand: rules.irradianceBand,
    ambient: rules.ambientBand,
    modifier: rules.minModifier,
    inlet: rules.inletBand,
    flow: rules.flowBand,
  };
  return checks.map((c) => {
    // The outlet's limit follows from the others: it stays as it was.
    const limit = limits[c.name] ?? c.limit;
    const floor = c.name === "irradiance" || c.name === "modifier";
    return { ...c, limit, met: floor ? c.worst >= limit : c.worst <= limit };
  });
}

/** Times a test needs, s. */
export interface TestTimes {
  settleS: number;
  averageS: number;
}

/** Settling and averaging times: the rule set's fixed times or its multiples of the slowest lane's time constant, whichever is longer. */
export function testTimes(
  rules: Pick<SteadyRules, "settleS" | "settleTimeConstants" | "averageS" | "averageTimeConstants">,
  timeConstantS: number,
): TestTimes {
  return {
    settleS: Math.max(rules.settleS, rules.settleTimeConstants * timeConstantS),
    averageS: Math.max(rules.averageS, rules.averageTimeConstants * timeConstantS),
  };
}
