import { areaOf, meterFactor, meterReading, probeReading } from "../../analysis/figures";
import type { LaneSetup } from "../../analysis/setup";
import { tankLost } from "../../analysis/tankMinutes";
import type { SourceIdentity } from "../../uncertainty/source";
import { combine, exact, fromLimit, subtract, withSource, type Uncertain } from "../../uncertainty/uncertain";
import {
  fitDynamic,
  AVERAGE_S,
  furtherTerms,
  value,
  withDrawing,
  type DynamicFit,
  type DynamicLadder,
  type DynamicTerm,
  type FurtherTerm,
} from "./dynamicFit";
import { stretchesOf, type Stretch } from "./dynamicRows";
import { eachLane, grouped, type Finder, type FinderInput, type Finding, type Found, type GapReason } from "./finding";
import { longRun } from "./robust";
import { BOX_HEAT, TANK_CP } from "./tank";

/** Fewer hours of daylight than this leave nothing to tell terms apart. */
const LEAST_HOURS = 3;
const QUANTITIES = {
  eta0: "fraction",
  a1: "lossCoefficient",
  a2: "curvature",
  a3: "lossCoefficient",
  a5: "heatCapacityPerArea",
} as const;

interface DynamicLane {
  lane: string;
  fitted: DynamicFit;
  /** A figure that is a sum of coefficients by these weights, with its systematic parts, and what its scatter is made of. */
  of(weights: Weights, at: number): { systematic: Uncertain; terms: Float64Array };
  hours: number;
  days: number;
  /** Mean ṁ·cp/A of its stream, W/(m²·K); NaN of a tank. */
  capacity: number;
}
type Weights = Partial<Record<DynamicTerm, number>>;

/** Changing light: every term at once, from all daylight, cloudy or clear (in the way of the quasi-dynamic method of ISO 9806:2017). */
export const dynamic: Finder = (input) => {
  const { findings, gaps } = foundByDaylight(fittedByDaylight(input), input);
  return { findings, gaps };
};

type Fitting = Omit<FinderInput, "operatingPoint">;

/** Lanes fitted to all daylight: what of it does not depend on the operating point. */
export interface FittedByDaylight {
  lanes: ReadonlyMap<string, DynamicLane | GapReason>;
}

export function fittedByDaylight(input: Fitting): FittedByDaylight {
  const tried = new Map(input.lanes.map(({ lane }) => [lane, ladderOf(input, lane)]));
  const terms = furtherTerms([...tried.values()].flatMap((t) => (typeof t === "string" ? [] : [t.ladder])));
  return { lanes: new Map(input.lanes.map(({ lane }) => [lane, dynamicLane(input, lane, tried.get(lane)!, terms)])) };
}

export interface FoundByDaylight extends Found {
  /** ṁ·cp/A of each lane's stream, W/(m²·K); NaN where a tank counts the heat and nobody knows what flowed. */
  capacities: Map<string, number>;
}

/** What all daylight says: each lane's coefficients, its heat at the operating point at the flow that was tested, and every difference. */
export function foundByDaylight(fitted: FittedByDaylight, input: FinderInput): FoundByDaylight {
  const lanes = new Map<string, DynamicLane>();
  const found = eachLane(input, ({ lane }) => {
    const own = fitted.lanes.get(lane) ?? "fewHours";
    if (typeof own === "string") return own;
    lanes.set(lane, own);
    return coefficients(own, input);
  });
  const heats = [...lanes.values()].map((l) => ({ lane: l, ...heatAtPoint(l, input) }));
  for (const h of heats) found.findings.push(heatFinding(h));
  heats.forEach((a, i) => {
    for (const b of heats.slice(i + 1)) found.findings.push(difference(a, b));
  });
  return { ...found, capacities: new Map([...lanes.values()].map((l) => [l.lane, l.capacity])) };
}

/** What no collector does: a fit beyond it has not told the terms apart. */
const MOST_ETA0 = 1.05;
const MOST_A1 = 60;
/** Nor has one whose zero-loss efficiency is known worse than this, standard share. */
const WORST = 0.25;

interface Tried {
  stretches: Stretch[];
  hours: number;
  ladder: DynamicLadder;
}

function ladderOf({ spans, basis }: Fitting, letter: string): Tried | GapReason {
  if (!spans.some((s) => s.minutes.irradiance && s.setup.sunSensor.mounting !== "modelled")) return "noSun";
  if (!spans.some((s) => s.minutes.ambient)) return "noAmbient";
  const stretches = spans.flatMap((s) => stretchesOf(s, letter, basis));
  const hours = stretches.reduce((s, x) => s + (x.heat.length * x.stepS) / 3600, 0);
  if (hours < LEAST_HOURS) return "fewHours";
  const ladder = fitDynamic(stretches);
  return ladder ? { stretches, hours, ladder } : "alike";
}

function dynamicLane(
  input: Fitting,
  letter: string,
  tried: Tried | GapReason,
  terms: readonly FurtherTerm[],
): DynamicLane | GapReason {
  if (typeof tried === "string") return tried;
  const { stretches, hours, ladder } = tried;
  const read = ladder.with(terms) ?? ladder.with([]);
  if (!read) return "alike";
  const fitted = withDrawing(read, input.lanes.find((l) => l.lane === letter)?.drawn ?? null);
  const [eta0, a1] = [value(fitted, "eta0"), value(fitted, "a1")];
  const told = eta0 > 0 && eta0 < MOST_ETA0 && a1 > 0 && a1 < MOST_A1 && fitted.fit.standard[0] < WORST * eta0;
  if (!told) return "alike";
  return {
    lane: letter,
    fitted,
    hours,
    days: new Set(stretches.map((s) => s.day)).size,
    capacity: stretches.some((s) => s.tankLoss)
      ? NaN
      : fitted.rows.reduce((s, r) => s + r.capacity, 0) / fitted.rows.length,
    of: (weights, at) => weighed(fitted, stretches, input, weights, at),
  };
}

/**
 * Systematic errors pass through the estimator itself, which is linear in the readings: each instrument with the rows it measured, so
 * that what a swap lets cancel cancels.
 */
function weighed(
  { fit, terms, rows, prior }: DynamicFit,
  stretches: readonly Stretch[],
  { basis, stationShare }: Fitting,
  weights: Weights,
  at: number,
) {
  const of = (term: DynamicTerm) => fit.beta[terms.indexOf(term)] ?? 0;
  const h = new Float64Array(rows.length);
  terms.forEach((t, j) => {
    const w = weights[t] ?? 0;
    if (w) for (let k = 0; k < h.length; k++) h[k] += w * fit.hat[j][k];
  });
  const [a1, eta0] = [of("a1"), of("eta0")];
  const [inShare, outShare] = basis === "mean" ? [0.5, 0.5] : [1, 0];
  const relative = (u: Uncertain) => combine(0, [[u.value === 0 ? 0 : 1 / u.value, u]]);
  const measured = grouped([...rows.keys()], (k) => {
    const { setup, lane } = stretches[rows[k].block];
    return `${setup.run}/${lane.station}`;
  });
  const parts = [...measured.values()].flatMap((own): (readonly [number, Uncertain])[] => {
    const { lane, setup, tankLoss } = stretches[rows[own[0]].block];
    const through = (f: (r: (typeof rows)[number]) => number) => own.reduce((s, k) => s + h[k] * f(rows[k]), 0);
    const heat = through((r) => r.heat);
    const usualFlow = stretches[rows[own[0]].block].usualFlow;
    const named = (standard: number, source: SourceIdentity, owner: string) =>
      withSource(0, standard, { ...source, owner, dof: Infinity });
    return [
      [heat, relative(meterReading(lane, usualFlow))],
      [heat, relative(meterFactor(lane))],
      [-heat, relative(areaOf(lane))],
      [heat, named(stationShare, { kind: "station", station: lane.station }, "")],
      [
        -eta0 * through((r) => r.light),
        named(fromLimit(setup.sunSensor.limitShare), { kind: "sunSensor", sensor: setup.sunSensor.key }, ""),
      ],
      [through((r) => a1 * inShare - r.capacity), probeReading(0, lane.inletProbe, lane.lane)],
      // A tank has one probe.
      [
        through((r) => a1 * outShare + r.capacity),
        probeReading(0, tankLoss ? lane.inletProbe : lane.outletProbe, lane.lane),
      ],
      ...(tankLoss ? [[through((r) => r.over) / lane.areaM2, tankLost(tankLoss, lane.lane, 1, 0)] as const] : []),
      [heat, named(boxShare(lane), { kind: "heatHeld" }, lane.lane)],
      [through(() => -a1 - (tankLoss?.wattsPerK ?? 0) / lane.areaM2), probeReading(0, setup.ambientProbe, "")],
      [through((r) => eta0 * (r.light - r.lightSplit)), named(1, { kind: "beamShare" }, "")],
      [
        through((r) => eta0 * (r.light - r.lightMoved)),
        named(1, { kind: "incidence", variant: lane.variant }, lane.lane),
      ],
    ];
  });
  const drawn = prior && terms.reduce((s, t, j) => s + (weights[t] ?? 0) * prior.gains[j], 0);
  const systematic = combine(at, [...parts, ...(prior ? [[drawn!, prior.loss] as const] : [])]);
  return { systematic: { value: at, parts: systematic.parts }, terms: h.map((w, k) => w * fit.residuals[k]) };
}

/** What a box itself takes up while its tank warms is no part of the tank's heat, and warms with it: standard share that is not known. */
function boxShare({ flow, areaM2 }: LaneSetup): number {
  if (flow.kind !== "tank") return 0;
  return (fromLimit(BOX_HEAT.limit) * areaM2) / (flow.massKg * TANK_CP + BOX_HEAT.value * areaM2);
}

const scatter = (standard: number, figure: string, owner: string, dof: number, value = 0): Uncertain =>
  withSource(value, standard, { kind: "methodScatter", method: "dynamic", figure, owner, dof });

/** Plate over stream for each W/m² of heat, K (typical value: 30 W/(m²·K) from one to the other). */
const PLATE_OVER = 1 / 30;
/** What a loss grows by with each kelvin of its plate, W/(m²·K²), standard ± beside it: bare boards to glass, makers state 0.01 to 0.02 (typical). */
const USUAL_BEND = { value: 0.008, standard: 0.006 };

/**
 * A loss grows with its plate's warmth, which follows light and stream: one that was read cooler than the operating point is, is moved there by what
 * such boxes' losses bend. Where the stream's own bend was read, only what the light does is left.
 */
function bendAtPoint({ lane, fitted }: DynamicLane, at: { heat: number; over: number }): Uncertain {
  const { rows, terms } = fitted;
  const mean = (of: (r: (typeof rows)[number]) => number) => rows.reduce((s, r) => s + of(r), 0) / rows.length;
  const plate = PLATE_OVER * (at.heat - mean((r) => r.heat));
  const moved = 2 * (plate + (terms.includes("a2") ? 0 : at.over - mean((r) => r.over)));
  return withSource(USUAL_BEND.value * moved, USUAL_BEND.standard * Math.abs(moved), {
    kind: "unseenBend",
    lane,
    owner: lane,
    dof: Infinity,
  });
}

/** The middle nine tenths of what was read. */
const ENDS = [0.05, 0.95] as const;

/** How far the plate at the operating point stands outside what was read, K²: a bend b leaves b of it out of a straight line. 0 within. */
function beyondRead({ fitted }: DynamicLane, at: { heat: number; over: number }): number {
  const plates = Float64Array.from(fitted.rows, (r) => r.over + PLATE_OVER * r.heat).sort();
  const [low, high] = ENDS.map((share) => plates[Math.round(share * (plates.length - 1))]);
  const plate = at.over + PLATE_OVER * at.heat;
  return Math.max(0, (plate - low) * (plate - high));
}

/** Coefficients; the loss as at the operating point. */
function coefficients(own: DynamicLane, input: FinderInput): Finding[] {
  const { fitted, lane, hours, days } = own;
  const found = fitted.terms.map((term, j): Finding => {
    const { systematic } = own.of({ [term]: 1 }, fitted.fit.beta[j]);
    const bend = term === "a1" ? bendAtPoint(own, steadyAt(own, input)) : exact(0);
    const figure = combine(systematic.value + bend.value, [
      [1, systematic],
      [1, scatter(fitted.fit.standard[j], `${lane}/${term}`, lane, fitted.fit.dof)],
      [1, bend],
    ]);
    return { name: term, lane, figure, quantity: QUANTITIES[term], hours, days };
  });
  const tau = {
    name: "tau" as const,
    lane,
    figure: scatter(fitted.tauStandardS, `${lane}/tau`, lane, fitted.fit.dof, fitted.tauS),
    quantity: "duration" as const,
    hours,
    days,
  };
  return fitted.tauS > 0 ? [...found, tau] : found;
}

interface HeatAt {
  lane: DynamicLane;
  systematic: Uncertain;
  terms: Float64Array;
}

/** Heat per area, W/m², at the operating point and the flow that was tested: q = η0·G − a1·θ − a2·θ², θ = T_f − T_a (K) with T_f following q. */
function steadyAt(
  { fitted }: DynamicLane,
  { operatingPoint: op, basis }: FinderInput,
): { heat: number; over: number; warms: number } {
  const [eta0, a1, a2] = (["eta0", "a1", "a2"] as const).map((t) => value(fitted, t));
  const capacity = fitted.rows.reduce((s, r) => s + r.capacity, 0) / fitted.rows.length;
  const warms = basis === "mean" ? 1 / (2 * capacity) : 0;
  // q + a1·warms·q + a2·(…)² rises with q: halving finds where it meets the light.
  const over = (heat: number) => op.inletC - op.ambientC + heat * warms;
  const left = (heat: number) =>
    eta0 * op.irradianceWm2 - a1 * over(heat) - a2 * over(heat) * Math.abs(over(heat)) - heat;
  let [low, high] = [-5000, 5000];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (left(middle) > 0) low = middle;
    else high = middle;
  }
  const heat = (low + high) / 2;
  return { heat, over: over(heat), warms };
}

function heatAtPoint(own: DynamicLane, input: FinderInput): { systematic: Uncertain; terms: Float64Array } {
  const { heat: q, over: theta, warms } = steadyAt(own, input);
  const [a1, a2] = (["a1", "a2"] as const).map((t) => value(own.fitted, t));
  const op = input.operatingPoint;
  const beyond = beyondRead(own, { heat: q, over: theta }) / (1 + a1 * warms);
  const damped = 1 + (a1 + 2 * a2 * Math.abs(theta)) * warms;
  const read = own.of(
    { eta0: op.irradianceWm2 / damped, a1: -theta / damped, a2: (-theta * Math.abs(theta)) / damped },
    q,
  );
  const bend = (of: string) =>
    withSource(0, USUAL_BEND.value * Math.SQRT1_2, { kind: "unseenBend", lane: of, owner: of, dof: Infinity });
  // Boxes of one bench bend alike by half.
  const systematic = combine(q, [
    [1, read.systematic],
    [-beyond, bend("")],
    [-beyond, bend(own.lane)],
  ]);
  return { ...read, systematic };
}

const standardOf = ({ fitted }: DynamicLane, terms: Float64Array): number => {
  const n = terms.length;
  return Math.sqrt(
    longRun(
      terms,
      fitted.rows.map((r) => r.block),
      fitted.lags,
    ) *
      (n / (n - fitted.terms.length)),
  );
};

function heatFinding({ lane: own, systematic, terms }: HeatAt): Finding {
  const { lane } = own;
  return {
    name: "heatAtPoint",
    lane,
    figure: combine(systematic.value, [
      [1, systematic],
      [1, scatter(standardOf(own, terms), `${lane}/heat`, lane, own.fitted.fit.dof)],
    ]),
    quantity: "heatFlux",
    hours: own.hours,
    days: own.days,
  };
}

/** What both lanes share cancels: instruments by their names, and what the same five minutes did to both. */
function difference(a: HeatAt, b: HeatAt): Finding {
  const at = new Map<number, { term: number; block: number }>();
  const put = ({ lane, terms }: HeatAt, sign: number) =>
    lane.fitted.rows.forEach((r, k) => {
      const known = at.get(r.atMs);
      at.set(r.atMs, { term: (known?.term ?? 0) + sign * terms[k], block: dayNumber(r.day) });
    });
  put(a, 1);
  put(b, -1);
  const shared = a.lane.fitted.rows.length + b.lane.fitted.rows.length - at.size;
  const inOrder = [...at].sort((p, q) => p[0] - q[0]).map(([, v]) => v);
  const blocks = inOrder.map((v) => v.block);
  const variance = longRun(
    Float64Array.from(inOrder, (v) => v.term),
    blocks,
    a.lane.fitted.lags,
  );
  const [la, lb] = [a.lane.lane, b.lane.lane];
  const dof = Math.min(a.lane.fitted.fit.dof, b.lane.fitted.fit.dof);
  const systematic = subtract(a.systematic, b.systematic);
  return {
    name: "difference",
    lane: la,
    other: lb,
    figure: combine(systematic.value, [
      [1, systematic],
      [1, scatter(Math.sqrt(variance), `${la}/${lb}`, `${la} and ${lb}`, dof)],
    ]),
    quantity: "heatFlux",
    // Only together, side by side, are they compared under one sky.
    hours: (shared * AVERAGE_S) / 3600,
    days: Math.min(a.lane.days, b.lane.days),
  };
}

const dayNumber = (day: string): number => Math.floor(Date.parse(day) / 86_400_000);
