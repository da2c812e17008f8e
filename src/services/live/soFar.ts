import type { Knex } from "knex";
import type { Experiment, StoredRun } from "../../core/experiment/types";
import { windowsUsed } from "../../core/judge/judge";
import { analyseLoaded } from "../analysis/analyse";
import { figure, type FigureView } from "../page/figureView";
import { log } from "../web/log";

/** What the run has given until a moment ago: windows, differences, and how far the plan is. */
export interface SoFar {
  atMs: number;
  windows: { startMs: number; endMs: number; lanes: string[] }[];
  /** Windows of the whole experiment, and days it was measured on. */
  allWindows: number;
  days: number;
  plannedDays: number | null;
  pairs: {
    a: string;
    b: string;
    difference: FigureView;
    /** Chance that its sign is wrong, or that it is no difference, after correction. */
    p: number;
    level: number;
    decided: boolean;
  }[];
  /** The level this look may spend, and how many planned days are left. */
  look: { level: number; daysLeft: number } | null;
}

/** The whole experiment is reckoned anew at most so often, ms: windows come by the quarter of an hour. */
const EVERY_MS = 15_000;
/** And never more than a twentieth of the time is spent on it: weeks of a busy bench take seconds to reckon. */
const REST = 20;

interface Kept {
  at: number;
  /** How long it took, ms. */
  tookMs: number;
  value: Promise<SoFar | null>;
}
// Derived from the database alone; each instance may keep its own.
const kept = ((globalThis as { bravelSoFar?: Map<number, Kept> }).bravelSoFar ??= new Map<number, Kept>());

export function soFarOf(knex: Knex, experiment: Experiment, run: StoredRun, wallMs: number): Promise<SoFar | null> {
  const known = kept.get(run.id);
  if (known && Math.abs(wallMs - known.at) < Math.max(EVERY_MS, REST * known.tookMs)) return known.value;
  const began = performance.now();
  const entry: Kept = { at: wallMs, tookMs: 0, value: Promise.resolve(null) };
  const value = compute(knex, experiment, run, wallMs).catch((error: unknown) => {
    log.error({ err: error, run: run.id }, "the run so far could not be reckoned");
    return null;
  });
  entry.value = value;
  void value.then(() => (entry.tookMs = performance.now() - began));
  kept.set(run.id, entry);
  if (kept.size > 50) kept.delete(kept.keys().next().value!);
  return value;
}

async function compute(knex: Knex, experiment: Experiment, run: StoredRun, atMs: number): Promise<SoFar | null> {
  const { reduction, judgement } = await analyseLoaded(knex, experiment);
  const own = reduction.runs.find((r) => r.run === String(run.number));
  if (!own) return null;
  const days = new Set(reduction.points.map((p) => p.day)).size;
  const { plannedDays } = experiment;
  const level = judgement.level;
  return {
    atMs,
    windows: own.windows.map(({ startMs, endMs, lanes }) => ({ startMs, endMs, lanes })),
    allWindows: windowsUsed(reduction.points).length,
    days,
    plannedDays,
    pairs: judgement.pairs.map((p) => ({
      a: p.a,
      b: p.b,
      difference: figure(p.difference, "heatFlux"),
      p: p.pHolm,
      level,
      decided: p.decision === "aBetter" || p.decision === "bBetter",
    })),
    // The plan binds where it came before the data: as the verdict takes it.
    look: judgement.look && { level, daysLeft: Math.max(0, judgement.look.planned - judgement.look.taken) },
  };
}
