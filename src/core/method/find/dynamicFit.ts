import type { Stretch } from "./dynamicRows";
import { robustFit, standardsOf, type RobustFit } from "./robust";
import { coverageFactor } from "../../uncertainty/coverage";
import { standardUncertainty, type Uncertain } from "../../uncertainty/uncertain";
import type { DrawnLoss } from "./finding";

export const DYNAMIC_TERMS = ["eta0", "a1", "a5", "a2", "a3"] as const;
export type DynamicTerm = (typeof DYNAMIC_TERMS)[number];

export interface DynamicFit {
  terms: DynamicTerm[];
  fit: RobustFit;
  /** How fast the box follows, s; 0 where no lag shows. */
  tauS: number;
  /** Its standard uncertainty, s: how far it may move before the scatter has grown by one variance. */
  tauStandardS: number;
  /** Mean wind about which a3 counts, m/s. */
  windMs: number;
  rows: FilteredRow[];
  lags: number;
  /** What of each coefficient is the drawing's loss instead of the readings'; null where nothing is. */
  prior: { gains: number[]; loss: Uncertain } | null;
}

/** Five minutes of a stretch, past what its beginning does not know. */
export interface FilteredRow {
  atMs: number;
  block: number;
  day: string;
  heat: number;
  light: number;
  lightMoved: number;
  lightSplit: number;
  over: number;
  /** Filtered square of `over`, K². */
  square: number;
  gust: number;
  /** Change of the fluid as the box sees it, K/s. */
  drift: number;
  capacity: number;
}

/** What is averaged, s: as the quasi-dynamic method of ISO 9806:2017 records. */
export const AVERAGE_S = 300;
/** A stretch begins with what was before it: so many time constants are left out, and never less than a quarter of an hour. */
const FORGET = 4;
const FORGET_S = 900;
const SLOWEST_S = 3600;
/** How long residuals are taken to remember: the walls behind the absorber follow within the hour. */
const MEMORY_S = 5400;

/**
 * Changing light through one box. With absorber C·dT_p/dt = τα·G − h(T_p − T_f) − U(T_p − T_a) and a stream that holds nothing,
 * τ·dQ/dt + Q = η0·K·G − a1(T_f − T_a) − a5·dT_f/dt with τ = C/(h + U): every term of the steady law passed through one lag. With no lag this is the
 * quasi-dynamic equation of ISO 9806:2017; with it the noise of derivatives never enters. The lag is the one that leaves least scatter.
 *
 * @returns the fit by the terms every lane has, and what further terms would make of it; null where the terms cannot be told apart
 */
export function fitDynamic(stretches: readonly Stretch[]): DynamicLadder | null {
  const winds = stretches.flatMap((s) => s.wind);
  const windKnown = winds.length > 0 && winds.every((w) => Number.isFinite(w));
  const windMs = windKnown ? winds.reduce((a, b) => a + b, 0) / winds.length : 0;
  const at = (tauS: number, terms: DynamicTerm[]): DynamicFit | null => {
    const rows = stretches.flatMap((s, block) => filtered(s, block, tauS, windMs));
    const lags = Math.round(MEMORY_S / AVERAGE_S);
    const stations = stationsOf(stretches, rows);
    const lit = terms.includes("eta0") ? stations : [];
    const others = terms.filter((t) => t !== "eta0" || lit.length === 0);
    const fit = robustFit(
      {
        x: rows.map((r) => [
          ...lit.map((s) => (stations.length < 2 || stretches[r.block].lane.station === s ? r.light : 0)),
          ...others.map((t) => regressor(r, t)),
        ]),
        y: rows.map((r) => r.heat),
        block: rows.map((r) => r.block),
      },
      lags,
    );
    return (
      fit && {
        terms,
        fit: oneLevel(fit, lit.length, rows, lags),
        tauS,
        tauStandardS: 0,
        windMs,
        rows,
        lags,
        prior: null,
      }
    );
  };
  const base: DynamicTerm[] = ["eta0", "a1", "a5"];
  let best = searched((tauS) => at(tauS, base) ?? at(tauS, ["eta0", "a1"]));
  if (!best) return null;
  const { tauStandardS, tauS } = best;
  if (best.terms.includes("a5") && !(value(best, "a5") > 0)) best = at(best.tauS, ["eta0", "a1"]) ?? best;
  const own = best.terms;
  return {
    with(further) {
      if (further.includes("a3") && !windKnown) return null;
      const fit = at(tauS, [...own, ...further]);
      const gains = further.length > 0 && fit !== null && value(fit, "a1") < 0;
      return fit && !gains ? { ...fit, tauStandardS } : null;
    },
  };
}

export type FurtherTerm = "a2" | "a3";

export interface DynamicLadder {
  /** null where these terms cannot be told apart in this lane's readings, or make its loss a gain. */
  with(further: readonly FurtherTerm[]): DynamicFit | null;
}

const isTold = ({ fit }: DynamicFit): boolean => {
  const last = fit.beta.length - 1;
  return fit.beta[last] > coverageFactor(fit.dof) * fit.standard[last];
};

/**
 * The terms of all lanes together: a bend of the loss, and what wind adds, count in every lane where one of them shows it and all can be
 * fitted with it, else in none. Identical boxes then have the same model, and what is left out of one is not in the other's slope.
 */
export function furtherTerms(lanes: readonly DynamicLadder[]): FurtherTerm[] {
  let chosen: FurtherTerm[] = [];
  for (const term of ["a2", "a3"] as const) {
    const fits = lanes.map((l) => l.with([...chosen, term]));
    if (fits.every((f) => f !== null) && fits.some((f) => isTold(f!))) chosen = [...chosen, term];
  }
  return chosen;
}

/** Two hours: a place with less has no level of its own. */
const LEAST_ROWS = (2 * 3600) / AVERAGE_S;

/**
 * Places a lane stood at, each of which gets a zero-loss efficiency of its own: what a place's instruments read high on one day and low on the other would
 * else be taken for scatter with a long memory. One where too little was measured at another.
 */
function stationsOf(stretches: readonly Stretch[], rows: readonly FilteredRow[]): number[] {
  const counts = new Map<number, number>();
  for (const r of rows) {
    const { station } = stretches[r.block].lane;
    counts.set(station, (counts.get(station) ?? 0) + 1);
  }
  const all = [...counts.keys()].sort((a, b) => a - b);
  return [...counts.values()].every((n) => n >= LEAST_ROWS) ? all : all.slice(0, 1);
}

/** The places' levels as their mean, so that each place counts alike and what belongs to it cancels after a swap. */
function oneLevel(fit: RobustFit, levels: number, rows: readonly FilteredRow[], lags: number): RobustFit {
  if (levels < 2) return fit;
  const mean = (of: (k: number) => number) =>
    Array.from({ length: levels }, (_, k) => of(k)).reduce((s, v) => s + v, 0) / levels;
  const level = fit.hat[0].map((_, i) => mean((k) => fit.hat[k][i]));
  const hat = [level, ...fit.hat.slice(levels)];
  const block = rows.map((r) => r.block);
  return {
    ...fit,
    beta: [mean((k) => fit.beta[k]), ...fit.beta.slice(levels)],
    hat,
    standard: standardsOf(hat, fit.residuals, { block, lags, fitted: fit.hat.length }),
  };
}

/** Beyond so many standard uncertainties of both the drawing is not of this box: the readings are left to themselves. */
const UNLIKE = 2.5;

/**
 * What is known of a box's loss before anything was read, weighed against what the readings say of it (the update of a linear estimate by one
 * more observation; Kalman 1960). Coefficients stay linear in the readings, so every instrument passes through as before.
 *
 * @param drawn loss of the drawing; its slope dq/dθ is held against the fit's where most was read
 */
export function withDrawing(fitted: DynamicFit, drawn: DrawnLoss | null): DynamicFit {
  if (!drawn) return fitted;
  const { fit, rows, lags, terms } = fitted;
  const over = rows.reduce((s, r) => s + r.over, 0) / rows.length;
  const slopeBy: Partial<Record<DynamicTerm, number>> = { a1: 1, a2: 2 * Math.abs(over) };
  const weights = terms.map((t) => slopeBy[t] ?? 0);
  const block = rows.map((r) => r.block);
  const slope = fit.hat[0].map((_, k) => weights.reduce((s, w, j) => s + w * fit.hat[j][k], 0));
  const varied = (h: Float64Array) => standardsOf([h], fit.residuals, { block, lags, fitted: terms.length })[0] ** 2;
  const loss = { ...drawn.a1, value: drawn.a1.value + 2 * (drawn.a2 ?? 0) * Math.abs(over) };
  const read = weights.reduce((s, w, j) => s + w * fit.beta[j], 0);
  const all = varied(slope) + standardUncertainty(loss) ** 2;
  if (!(all > 0) || Math.abs(loss.value - read) > UNLIKE * Math.sqrt(all)) return fitted;
  const own = Math.sqrt(varied(slope)) || 1;
  const gains = fit.hat.map((h) => {
    // Covariance with the slope from the variances of sum and difference, each brought to one size.
    const size = Math.sqrt(varied(h)) || 1;
    const sum = (sign: 1 | -1) => varied(h.map((v, k) => v / size + (sign * slope[k]) / own));
    return (((sum(1) - sum(-1)) / 4) * size * own) / all;
  });
  const hat = fit.hat.map((h, j) => h.map((v, k) => v - gains[j] * slope[k]));
  return {
    ...fitted,
    prior: { gains, loss },
    fit: {
      ...fit,
      hat,
      beta: fit.beta.map((b, j) => b + gains[j] * (loss.value - read)),
      standard: standardsOf(hat, fit.residuals, { block, lags, fitted: terms.length }),
    },
  };
}

export const value = ({ terms, fit }: DynamicFit, term: DynamicTerm): number => fit.beta[terms.indexOf(term)] ?? 0;

function regressor(r: FilteredRow, term: DynamicTerm): number {
  switch (term) {
    case "eta0":
      return r.light;
    case "a1":
      return -r.over;
    case "a5":
      return -r.drift;
    case "a2":
      return -r.square;
    case "a3":
      return -r.gust;
  }
}

/** The lag with the least scatter: among steps of a quarter, then between its neighbours. */
function searched(at: (tauS: number) => DynamicFit | null): DynamicFit | null {
  const tried = new Map<number, DynamicFit | null>();
  const scatter = (tauS: number): number => {
    if (!tried.has(tauS)) tried.set(tauS, at(tauS));
    return tried.get(tauS)?.fit.residualSd ?? Infinity;
  };
  const steps = [0];
  for (let t = 45; t <= SLOWEST_S; t *= 1.25) steps.push(t);
  const k = steps.reduce((best, t, i) => (scatter(t) < scatter(steps[best]) ? i : best), 0);
  let [low, high] = [steps[Math.max(0, k - 1)], steps[Math.min(steps.length - 1, k + 1)]];
  for (let i = 0; i < 6; i++) {
    const [a, b] = [low + (high - low) * 0.382, low + (high - low) * 0.618];
    if (scatter(a) < scatter(b)) high = b;
    else low = a;
  }
  const found = [...tried].filter(([, f]) => f).sort((a, b) => a[1]!.fit.residualSd - b[1]!.fit.residualSd)[0];
  const best = found?.[1];
  if (!best) return null;
  const most = best.fit.residualSd * Math.sqrt(1 + 1 / best.fit.dof);
  const within = [...tried].flatMap(([tauS, f]) => (f && f.fit.residualSd <= most ? [tauS] : []));
  // No finer than the steps that were tried.
  const spread = (Math.max(...within) - Math.min(...within)) / 2;
  return { ...best, tauStandardS: Math.max(spread, 0.05 * best.tauS) };
}

function filtered(s: Stretch, block: number, tauS: number, windMs: number): FilteredRow[] {
  const keep = tauS > 0 ? Math.exp(-s.stepS / tauS) : 0;
  const lag = () => {
    let state = NaN;
    return (v: number) => (state = Number.isNaN(state) ? v : keep * state + (1 - keep) * v);
  };
  const [light, moved, split, over, square, gust] = [lag(), lag(), lag(), lag(), lag(), lag()];
  const width = Math.max(1, Math.round(AVERAGE_S / s.stepS));
  const skip = Math.ceil(Math.max(FORGET_S, FORGET * tauS) / s.stepS);
  const out: FilteredRow[] = [];
  let sum = empty();
  for (let i = 0; i < s.heat.length; i++) {
    const theta = over(s.over[i]);
    const now = {
      heat: s.heat[i],
      light: light(s.light[i]),
      lightMoved: moved(s.lightMoved[i]),
      lightSplit: split(s.lightSplit[i]),
      over: theta,
      square: square(s.over[i] * Math.abs(s.over[i])),
      gust: gust((s.wind[i] - windMs) * s.over[i]),
      drift: driftOf(s, i, theta, tauS),
      capacity: s.capacity[i],
    };
    if (i < skip) continue;
    for (const key of SUMMED) sum[key] += now[key] / width;
    if ((i - skip) % width !== width - 1) continue;
    const atMs = s.startMs + (i + 1 - width / 2) * s.stepS * 1000;
    out.push({ ...sum, atMs: Math.round(atMs / 60_000) * 60_000, block, day: s.day });
    sum = empty();
  }
  return out;
}

/** dT_f/dt through the lag is what the lag leaves over, by its length; without one it is the change over the averaging time. */
function driftOf(s: Stretch, i: number, lagged: number, tauS: number): number {
  if (tauS > 0) return (s.over[i] - lagged) / tauS;
  const back = Math.max(0, i - Math.round(AVERAGE_S / s.stepS));
  return i > back ? (s.over[i] - s.over[back]) / ((i - back) * s.stepS) : 0;
}

const SUMMED = ["heat", "light", "lightMoved", "lightSplit", "over", "square", "gust", "drift", "capacity"] as const;
const empty = () => ({
  heat: 0,
  light: 0,
  lightMoved: 0,
  lightSplit: 0,
  over: 0,
  square: 0,
  gust: 0,
  drift: 0,
  capacity: 0,
});
