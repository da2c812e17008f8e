import { blockMeans } from "../log/grid";
import { clearSky, transpose } from "../sun/clearSky";
import { sunPosition } from "../sun/position";
import type { RunSetup } from "./setup";

/** A shared channel on the run's clock. */
export interface ClockedSeries {
  startMs: number;
  stepMs: number;
  values: Float64Array;
}

/** By how much the recorded sun comes late against the sky over the site, and how much better the two agree then. */
export interface ClockOffset {
  /** Minutes; positive: the recorded sun is late. */
  lateMinutes: number;
  /** Correlation with the clear sky as recorded, and when moved. */
  asRecorded: number;
  moved: number;
}

const BLOCK = 10 * 60000;
/** Longest shift tried, blocks: any zone on earth. */
const FURTHEST = 12 * 6;
const LEAST_HOURS = 5;
/** The moved record must explain this share more, and well; sunny days do, cloudy ones do not. */
const BETTER = 0.04;
const WELL = 0.85;
/** A quarter of an hour may be clouds, a tree in the morning, or heat that lags. */
const SMALLEST = 30;

/**
 * Whether the recorded sun's day fits the site's: its correlation with the clear sky in the collector plane, tried at every ten minutes
 * of shift. Finds a wrong zone, a clock an hour off by summer time, or a site on the wrong meridian. null where it fits, or where
 * the record is too short or too cloudy to say.
 */
export function clockOffset(setup: RunSetup, series: ClockedSeries): ClockOffset | null {
  const width = Math.max(1, Math.round(BLOCK / series.stepMs));
  const recorded = blockMeans(series.values, width);
  const step = width * series.stepMs;
  const n = recorded.length;
  const plane = setup.sunSensor.mounting === "horizontal" ? { tilt: 0, azimuth: 180 } : setup.plane;
  const sky = new Float64Array(n + 2 * FURTHEST);
  for (let i = 0; i < sky.length; i++) {
    const timeMs = series.startMs + (i - FURTHEST + 0.5) * step;
    const sun = sunPosition(timeMs, setup.place);
    if (sun.altitude <= 0) continue;
    const clear = clearSky(timeMs, setup.place, setup.linkeTurbidity, sun);
    sky[i] = transpose(clear, { timeMs, sun, plane }).total;
  }
  const lit = recorded.reduce((s, g) => s + (g > 50 ? 1 : 0), 0);
  if ((lit * step) / 3600000 < LEAST_HOURS) return null;
  // A record that is late by k blocks shows now what the sky did k blocks ago.
  const fit = (late: number) => correlation(recorded, sky, FURTHEST - late);
  const asRecorded = fit(0);
  let best = 0;
  let most = asRecorded;
  for (let late = -FURTHEST; late <= FURTHEST; late++) {
    const r = fit(late);
    if (r > most) [most, best] = [r, late];
  }
  const lateMinutes = (best * step) / 60000;
  if (Math.abs(lateMinutes) < SMALLEST || most < WELL || most - Math.max(0, asRecorded) < BETTER) return null;
  // The best at the end of what was tried is no maximum.
  return Math.abs(best) === FURTHEST ? null : { lateMinutes, asRecorded, moved: most };
}

function correlation(a: Float64Array, sky: Float64Array, from: number): number {
  let n = 0;
  let sa = 0;
  let sb = 0;
  let saa = 0;
  let sbb = 0;
  let sab = 0;
  for (let i = 0; i < a.length; i++) {
    const x = a[i];
    if (Number.isNaN(x)) continue;
    const y = sky[from + i];
    n++;
    sa += x;
    sb += y;
    saa += x * x;
    sbb += y * y;
    sab += x * y;
  }
  const spread = (saa - (sa * sa) / n) * (sbb - (sb * sb) / n);
  return spread > 0 ? (sab - (sa * sb) / n) / Math.sqrt(spread) : 0;
}

/** A sensor's strongest readings against a clear sky in the plane and on the horizontal, as ratios; null where there is too little sun. */
export function mountingRatios(
  setup: RunSetup,
  { startMs, stepMs, values }: ClockedSeries,
): { plane: number; horizontal: number; turned: number } | null {
  const width = Math.max(1, Math.round(BLOCK / stepMs));
  const means = blockMeans(values, width);
  const pairs: { g: number; plane: number; horizontal: number; turned: number }[] = [];
  const turned = { ...setup.plane, azimuth: (setup.plane.azimuth + 180) % 360 };
  for (let i = 0; i < means.length; i++) {
    if (!(means[i] > 200)) continue;
    const timeMs = startMs + (i + 0.5) * width * stepMs;
    const sun = sunPosition(timeMs, setup.place);
    if (sun.altitude < 10) continue;
    const clear = clearSky(timeMs, setup.place, setup.linkeTurbidity, sun);
    pairs.push({
      g: means[i],
      plane: transpose(clear, { timeMs, sun, plane: setup.plane }).total,
      horizontal: clear.global,
      turned: transpose(clear, { timeMs, sun, plane: turned }).total,
    });
  }
  if (pairs.length < 12) return null;
  // Clear moments are those nearest to what a clear sky gives either way: the upper tenth.
  const upper = (of: (p: (typeof pairs)[number]) => number) => {
    const ratios = pairs.map((p) => p.g / Math.max(50, of(p))).sort((a, b) => a - b);
    return ratios[Math.floor(0.9 * (ratios.length - 1))];
  };
  return { plane: upper((p) => p.plane), horizontal: upper((p) => p.horizontal), turned: upper((p) => p.turned) };
}
