import { Matrix, SingularValueDecomposition } from "ml-matrix";
import { RANDOM_KINDS, type EfficiencyPoint } from "../analysis/points";
import { groupBy } from "../analysis/scatter";
import type { EventKind } from "../log/eventKind";
import { coverageFactor } from "../uncertainty/coverage";
import {
  combine,
  effectiveDof,
  scaleSources,
  standardUncertainty,
  withSource,
  type Uncertain,
} from "../uncertainty/uncertain";
import { tailOf } from "./adjust";
import { meaningOf, type Turned } from "./verdict";

/** What is asked for a lane of which something was turned again and again: the same box with it and without. */
export interface TurnedInput {
  points: readonly EfficiencyPoint[];
  events: readonly { run: string; kind: EventKind; lane: string | null; atMs: number }[];
  smallestDifference: number;
  level: number;
}

/** What is turned back by turning it again; what is cleaned or moved is not. */
const TURNED: readonly EventKind[] = ["mirror"];
/** There, back and there again: once is a change, not a test by turns. */
const LEAST_TURNS = 3;
/** Stints beyond the terms before a further term is asked for. */
const LEAST_LEFT = 4;
/** Windows in either state. */
const LEAST_WINDOWS = 2;

/** Windows further from the nearest press are another time of day, ms. */
const REACH_MS = 2 * 3_600_000;

interface Span {
  day: string;
  /** Run, day and how many presses lie before it. */
  stint: string;
  atMs: number;
  turned: boolean;
  own: Uncertain;
  /** What it would give as it was, but for one factor: the other lanes of the same window, or the sun. */
  base: Uncertain;
}

/**
 * A thing turned by turns is compared with itself: heat of its lane while it was turned, less what the lane would have given then as it
 * is otherwise, which the other lanes tell (or the sun, alone on the bench) by the windows in which it was turned back. What is wrong
 * with the lane's meter or place is in both states alike and leaves only its share of the difference.
 * @returns null where nothing was turned by turns, or a state has too few windows
 */
export function byTurns(input: TurnedInput): Turned | null {
  const marked = input.events.filter((e) => e.lane !== null && TURNED.includes(e.kind));
  const groups = [...groupBy(marked.map((e) => `${e.kind}/${e.lane}`))].map(([, m]) => m.map((i) => marked[i]));
  const found = groups.flatMap((presses) => turnedLane(input, presses) ?? []);
  // Of several the one that is told best.
  return found.length ? found.reduce((a, b) => (b.expanded < a.expanded ? b : a)) : null;
}

function turnedLane(input: TurnedInput, presses: TurnedInput["events"]): Turned | null {
  if (presses.length < LEAST_TURNS) return null;
  const { kind: what } = presses[0];
  const lane = presses[0].lane!;
  const spans = spansOf(input, lane, presses);
  const [on, off] = [true, false].map((t) => spans.filter((s) => s.turned === t));
  if (on.length < LEAST_WINDOWS || off.length < LEAST_WINDOWS) return null;
  const answer = effectOf(stintsOf(spans));
  if (!answer) return null;
  const { effect, without, scatter } = answer;
  const difference = combine(effect.value, [
    [1, effect],
    [1, withSource(0, scatter.standard, { kind: "dayScatter", lanes: lane, owner: "", dof: scatter.dof })],
  ]);
  const u = standardUncertainty(difference);
  const dof = effectiveDof(difference);
  const [expanded, expanded90] = [coverageFactor(dof) * u, coverageFactor(dof, 0.9) * u];
  const value = Math.abs(difference.value);
  const chanceWrong = tailOf(u > 0 ? value / u : Infinity, dof);
  const { smallestDifference: smallest } = input;
  const decision = () => {
    if (2 * chanceWrong < input.level) return difference.value > 0 ? "more" : "less";
    return value + expanded90 < smallest ? "equal" : "cannotTell";
  };
  const ratio = (d: number) => 1 + d / without;
  return {
    kind: "turned",
    lane,
    what,
    decision: decision(),
    difference,
    expanded,
    meaning: meaningOf(value, { expanded, expanded90 }, smallest),
    ratio: {
      value: ratio(difference.value),
      low: ratio(difference.value - expanded),
      high: ratio(difference.value + expanded),
    },
    chanceWrong,
    turns: presses.length,
    windows: { turned: on.length, back: off.length },
    days: new Set(spans.map((s) => s.day)).size,
  };
}

/** The lane's windows that lie wholly in one state, with what the others gave in them. */
function spansOf({ points, events }: TurnedInput, lane: string, presses: TurnedInput["events"]): Span[] {
  const touched = new Set(events.filter((e) => e.lane !== null && TURNED.includes(e.kind)).map((e) => e.lane));
  const perArea = (p: EfficiencyPoint) =>
    combine(p.heat.value / p.area.value, [
      [1 / p.area.value, p.heat],
      [-p.heat.value / p.area.value ** 2, p.area],
    ]);
  return points
    .filter((p) => p.lane === lane)
    .flatMap((p): Span[] => {
      const times = presses.filter((e) => e.run === p.run).map((e) => e.atMs);
      if (times.length === 0 || times.some((t) => t > p.startMs && t < p.endMs)) return [];
      const others = points.filter((o) => o.run === p.run && o.window === p.window && !touched.has(o.lane));
      const base = others.length
        ? combine(
            others.reduce((s, o) => s + perArea(o).value, 0) / others.length,
            others.map((o) => [1 / others.length, perArea(o)] as const),
          )
        : combine(p.irradiance.value * p.modifier.value, [
            [p.modifier.value, p.irradiance],
            [p.irradiance.value, p.modifier],
          ]);
      const passed = times.filter((t) => t <= p.startMs).length;
      const atMs = (p.startMs + p.endMs) / 2;
      const near = times.some((t) => Math.abs(t - atMs) < REACH_MS);
      const span = { day: p.day, stint: `${p.run}/${p.day}/${passed}`, atMs, turned: passed % 2 === 1 };
      return near && base.value > 0 ? [{ ...span, own: perArea(p), base }] : [];
    });
}

const mean = (values: readonly number[]): number => values.reduce((s, v) => s + v, 0) / values.length;

/** What was measured between two presses: neighbouring windows share what the weather did, so that a stint is one answer. */
interface Stint extends Span {
  /** Hours from the middle of its day's stints. */
  hours: number;
}

function stintsOf(spans: readonly Span[]): Stint[] {
  const stints = [...groupBy(spans.map((s) => s.stint)).values()].map((members) => {
    const own = members.map((i) => spans[i]);
    const part = 1 / own.length;
    const averaged = (of: (s: Span) => Uncertain) =>
      combine(
        mean(own.map((s) => of(s).value)),
        own.map((s) => [part, of(s)] as const),
      );
    const atMs = mean(own.map((s) => s.atMs));
    return { ...own[0], atMs, own: averaged((s) => s.own), base: averaged((s) => s.base) };
  });
  const middle = new Map(
    [...groupBy(stints.map((s) => s.day))].map(([day, m]) => [day, mean(m.map((i) => stints[i].atMs))]),
  );
  return stints.map((s) => ({ ...s, hours: (s.atMs - middle.get(s.day)!) / 3_600_000 }));
}

/**
 * The lane's heat, stint by stint, as a share of its base on each day and what turning adds to it, δ·b, with what a probe is off by and
 * how the share moves over the day where enough stints are left to tell. Systematic errors pass through the same estimator.
 */
function effectOf(stints: readonly Stint[]) {
  const days = [...new Set(stints.map((s) => s.day))];
  const on = stints.filter((s) => s.turned);
  const light = mean(on.map((s) => s.base.value));
  const terms = stints.map(({ base, ...s }) => [
    (s.turned ? 1 : 0) * base.value,
    ...days.map((d) => (s.day === d ? 1 : 0) * base.value),
    base.value * s.hours,
    light,
  ]);
  const most = terms[0].length;
  const counts = [most, most - 1, most - 2].filter((n) => stints.length - n >= (n === most - 2 ? 1 : LEAST_LEFT));
  for (const count of counts) {
    const x = terms.map((t) => t.slice(0, count));
    const decomposed = new SingularValueDecomposition(new Matrix(x), { autoTranspose: true });
    if (decomposed.rank < count) continue;
    const estimator = decomposed.inverse();
    const y = stints.map((s) => s.own.value);
    const hat = estimator.getRow(0);
    const beta = estimator.mmul(Matrix.columnVector(y)).to1DArray();
    const [delta] = beta;
    const left = y.map((v, i) => v - x[i].reduce((s, c, j) => s + c * beta[j], 0));
    const dof = stints.length - count;
    // A stint of one window scatters more than one of five, and one at the edge of the day bends the fit to itself: each by its own residual
    // over what its leverage leaves of it (MacKinnon and White 1985, HC3).
    const leverage = stints.map((_, i) => x[i].reduce((s, c, j) => s + c * estimator.get(j, i), 0));
    const variance = left.reduce((s, v, i) => s + (hat[i] * v) ** 2 / Math.max(1e-9, 1 - leverage[i]) ** 2, 0);
    const effect = combine(
      delta * light,
      stints.flatMap(({ own, base, turned, day }, i) => {
        const share = beta[1 + days.indexOf(day)] + (turned ? delta : 0);
        return [[light * hat[i], own] as const, [-light * hat[i] * share, base] as const];
      }),
    );
    return {
      // Noise of single windows is in how stints scatter.
      effect: scaleSources(effect, ({ kind }) => (RANDOM_KINDS.has(kind) ? 0 : 1)),
      without: mean(on.map((s) => s.own.value)) - delta * light,
      scatter: { standard: light * Math.sqrt(variance), dof },
    };
  }
  return null;
}
