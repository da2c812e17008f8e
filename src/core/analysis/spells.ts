import { blockMeans } from "../log/grid";
import { localDay } from "../log/zone";
import { upperMiddle } from "../numeric/middle";
import { clearSkyInPlane } from "../sun/clearSky";
import type { RunSeries, RunSetup } from "./setup";
import type { ClockedSeries } from "./sunClock";

/** A stretch of a run, ms UTC. */
export interface Spell {
  fromMs: number;
  toMs: number;
}

/** Nobody looks at more. */
const MOST = 12;

/** Cells that are meant as stretches: those a little apart are one, the longest are kept, in order of time. */
export function spellsOf(
  is: (cell: number) => boolean,
  { startMs, stepMs, count }: { startMs: number; stepMs: number; count: number },
  joinMs = 600_000,
): Spell[] {
  const out: Spell[] = [];
  for (let i = 0; i < count; i++) {
    if (!is(i)) continue;
    const [fromMs, toMs] = [startMs + i * stepMs, startMs + (i + 1) * stepMs];
    const last = out[out.length - 1];
    if (last && fromMs - last.toMs <= joinMs) last.toMs = toMs;
    else out.push({ fromMs, toMs });
  }
  const longest = [...out].sort((a, b) => b.toMs - b.fromMs - (a.toMs - a.fromMs)).slice(0, MOST);
  return longest.sort((a, b) => a.fromMs - b.fromMs);
}

export interface SunShaded {
  kind: "sunShaded";
  /** What the sensor shows of the day's clear light meanwhile, share. */
  share: number;
  minutes: number;
  spells: readonly Spell[];
}

const BLOCK_MS = 600_000;
/** Shorter shade is a cloud to a box. */
const SHORTEST_MS = 1_200_000;
/** A box slower than this gives on under any cloud, s. */
const SLOWEST_S = 1800;
/** Clear light worth looking at, W/m², and what of it a clear day's sensor shows at least. */
const LIT = 300;
const CLEAR_DAY = 0.8;
/** The sensor falls below this share of the day's own level while the boxes keep above that one of theirs. */
const SENSOR_BELOW = 0.7;
const BOXES_ABOVE = 0.8;
/** Boxes whose inlet was warmed give less for the rest of a day: heat over what the sensor shows is held against the hours around it, too. */
const MORE_THAN_AROUND = 1.3;
const AROUND_MS = 2.5 * 3_600_000;

/**
 * A sun sensor in the shade (of a post, a chimney, a cable) while the boxes are in the sun: against the clear sky it falls, and the heat
 * of all lanes does not.
 *
 * @param heat of all lanes together by the minute, W
 */
export function sunShaded(setup: RunSetup, series: RunSeries, heat: ClockedSeries | null): SunShaded[] {
  const { irradiance, startMs, stepMs } = series;
  if (!irradiance || !heat || heat.stepMs !== stepMs || heat.startMs !== startMs) return [];
  if (setup.lanes.some((l) => l.timeConstantS > SLOWEST_S)) return [];
  const width = Math.max(1, Math.round(BLOCK_MS / stepMs));
  const [sun, given] = [blockMeans(irradiance, width), blockMeans(heat.values, width)];
  const blocks = { startMs, stepMs: width * stepMs, count: Math.min(sun.length, given.length) };
  const shares = Array.from({ length: blocks.count }, (_, i) => {
    const atMs = startMs + (i + 0.5) * blocks.stepMs;
    const clear = clearSkyInPlane(atMs, setup.place, setup.plane, setup.linkeTurbidity).total;
    return clear > LIT ? { day: localDay(atMs, setup.zone), sun: sun[i] / clear, heat: given[i] / clear } : null;
  });
  const levels = new Map<string, { sun: number; heat: number }>();
  for (const day of new Set(shares.flatMap((s) => s?.day ?? []))) {
    const own = shares.filter((s) => s?.day === day && Number.isFinite(s.sun + s.heat)) as NonNullable<
      (typeof shares)[number]
    >[];
    levels.set(day, { sun: upper(own.map((s) => s.sun)), heat: upper(own.map((s) => s.heat)) });
  }
  const near = Math.max(1, Math.round(AROUND_MS / blocks.stepMs));
  const around = (i: number): number =>
    upperMiddle(shares.slice(Math.max(0, i - near), i + near + 1).flatMap((s) => (s ? [s.heat / s.sun] : [])));
  const isShaded = (i: number): boolean => {
    const own = shares[i];
    const level = own && levels.get(own.day);
    return Boolean(
      level &&
      level.sun > CLEAR_DAY &&
      level.heat > 0 &&
      own.sun < SENSOR_BELOW * level.sun &&
      own.heat > BOXES_ABOVE * level.heat &&
      own.heat / own.sun > MORE_THAN_AROUND * around(i),
    );
  };
  const spells = spellsOf(isShaded, blocks, 0).filter((s) => s.toMs - s.fromMs >= SHORTEST_MS);
  if (spells.length === 0) return [];
  const inside = shares.flatMap((s, i) => (s && isShaded(i) ? [s.sun / levels.get(s.day)!.sun] : []));
  const minutes = spells.reduce((s, x) => s + x.toMs - x.fromMs, 0) / 60_000;
  return [{ kind: "sunShaded", share: inside.reduce((s, v) => s + v, 0) / inside.length, minutes, spells }];
}

/** The level of a day's clear moments: the upper fifth. */
const upper = (values: readonly number[]): number => {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(0.8 * (sorted.length - 1))] ?? 0;
};
