import { autocorrelatedMean } from "../uncertainty/typeA";
import { rateOf } from "../calibration/bath";
import { leastSquares } from "../numeric/leastSquares";
import { upperMiddle } from "../numeric/middle";
import { errorAt } from "../calibration/correction";
import { startOfDay } from "../log/zone";
import { nextDay, sunDay } from "../sun/sunDay";
import { countsVolume, meterFactor } from "./figures";
import {
  statedReading,
  type LaneSeries,
  type LaneSetup,
  type ProbeSetup,
  type RunSeries,
  type RunSetup,
} from "./setup";

export interface DarkCheck {
  lane: string;
  /** Rise shown while no sun heats, K, before sunrise only; ± its type A standard uncertainty. */
  riseK: number;
  standardK: number;
  minutes: number;
  /** More than two probes of the stated limit can explain. */
  beyondLimits: boolean;
}

export interface SunSpike {
  /** Lane of an inlet probe; "" for the outside probe. */
  lane: string;
  /** How far it follows the sun within a minute, K per 100 W/m², and its standard uncertainty. */
  perHundred: number;
  standard: number;
}

const DARK = 5;
const LEAST_MINUTES = 15;
/** A glazed box under a clear night sky cools the air through it by about this much, K (typical value). */
const SKY = 0.3;

const picked = (cells: readonly number[], of: (cell: number) => number): Float64Array => {
  const out = new Float64Array(cells.length);
  for (let k = 0; k < out.length; k++) out[k] = of(cells[k]);
  return out;
};

const errorOf = (probe: ProbeSetup, indicatedC: number): number =>
  probe.calibration ? errorAt(probe.calibration.correction, indicatedC) : 0;

/**
 * What the probes show before sunrise, when in and out should agree: a rise there is the probes' own difference (and a trace of
 * radiation to the sky). Evenings do not count: the box still gives heat back.
 */
export function darkChecks(setup: RunSetup, series: RunSeries): DarkCheck[] {
  const cells = beforeSunrise(setup, series);
  const minutes = (cells.length * series.stepMs) / 60000;
  if (minutes < LEAST_MINUTES) return [];
  return setup.lanes.flatMap((lane) => {
    const own = series.lanes.get(lane.lane);
    if (!own?.inlet || !own.outlet) return [];
    const mean = autocorrelatedMean(picked(cells, (i) => own.outlet![i] - own.inlet![i]));
    if (Number.isNaN(mean.mean)) return [];
    if (standsWarm(own, series.ambient, cells)) return [];
    // What a calibration knows of the probes is taken out first; what is left may still be the box radiating to the sky.
    const meanOf = (s: Float64Array) => autocorrelatedMean(picked(cells, (i) => s[i])).mean;
    const known = errorOf(lane.outletProbe, meanOf(own.outlet)) - errorOf(lane.inletProbe, meanOf(own.inlet));
    const riseK = mean.mean - known;
    const limit =
      SKY +
      storedRise(lane, own, series.ambient, cells) +
      Math.hypot(
        ...[lane.inletProbe, lane.outletProbe].map((p) =>
          p.calibration ? 2 * p.calibration.correction.standardOffsetK : p.limitK,
        ),
      );
    return [
      {
        lane: lane.lane,
        riseK,
        standardK: mean.standardError || 0,
        minutes,
        beyondLimits: Math.abs(riseK) > limit + 2 * (mean.standardError || 0),
      },
    ];
  });
}

/** Of the lane's usual flow by day: what flows less stands. */
const STANDS = 0.1;
/** What stands in the cold is as cold as it within this, K: probes' limits and the sky together. */
const AS_COLD = 3;

/**
 * Where nothing flows, two probes are held against each other only when both lie as cold as outside: a loop that stands warm (a tank
 * above it, a heated room) makes a rise of its own, from which nothing is known of the probes.
 */
function standsWarm(own: LaneSeries, ambient: Float64Array | null, cells: readonly number[]): boolean {
  if (!own.flow) return false;
  const usual = upperMiddle(own.flow.map(Math.abs), (v) => v > 1e-9);
  const flowing = upperMiddle(picked(cells, (i) => Math.abs(own.flow![i])));
  if (!(flowing < STANDS * usual)) return false;
  if (!ambient) return true;
  const mean = (s: Float64Array | null) => (s ? autocorrelatedMean(picked(cells, (i) => s[i])).mean : NaN);
  const outside = mean(ambient);
  return ![own.inlet, own.outlet].every((s) => Math.abs(mean(s) - outside) < AS_COLD);
}

/** What a box loses to the night for each kelvin, W/(m²·K): a glazed one (typical value). */
const NIGHT_LOSS = 6;

/** How far a stream warmer than the night (a tank, a heated loop) must cool on its way, K: ΔT = U·A·(T − Ta)/(ṁ·cp). Nothing for a flow that is not known. */
function storedRise(lane: LaneSetup, own: LaneSeries, ambient: Float64Array | null, cells: readonly number[]): number {
  if (!ambient || !own.inlet) return 0;
  const mean = (s: Float64Array) => autocorrelatedMean(picked(cells, (i) => s[i])).mean;
  const above = Math.abs(mean(own.inlet) - mean(ambient));
  const capacity = nightCapacity(lane, own, cells);
  return capacity > 0 && above > 0 ? (NIGHT_LOSS * lane.areaM2 * above) / capacity : 0;
}

/** ṁ·cp by night, W/K, at 1 kg/m³ and 1,006 J/(kg·K) for air, 1,000 and 4,186 for liquids: enough for a limit. */
function nightCapacity(lane: LaneSetup, own: LaneSeries, cells: readonly number[]): number {
  const flow = own.flow
    ? autocorrelatedMean(picked(cells, (i) => own.flow![i])).mean
    : (statedReading(lane.flow) ?? NaN);
  const [density, cp] = lane.fluid?.kind === "air" ? [1, 1006] : [1000, 4186];
  return flow * meterFactor(lane).value * (countsVolume(lane) ? density : 1) * cp;
}

/** Hours before sunrise in which a box of the evening's heat has cooled down. */
const DARK_HOURS = 4;

/** Cells of the last hours before the site's sunrise; where a sun sensor was logged, it must agree that it is dark. */
function beforeSunrise(setup: RunSetup, { irradiance, startMs, stepMs, lanes }: RunSeries): number[] {
  const count = irradiance?.length ?? [...lanes.values()].find((l) => l.inlet)?.inlet?.length ?? 0;
  const cells: number[] = [];
  for (let day = startOfDay(startMs, setup.zone); day < startMs + count * stepMs; day = nextDay(day, setup.zone)) {
    const { riseMs } = sunDay(day, setup.place, setup.zone);
    if (riseMs === null) continue;
    const from = Math.max(0, Math.ceil((riseMs - DARK_HOURS * 3600000 - startMs) / stepMs));
    const to = Math.min(count, Math.floor((riseMs - startMs) / stepMs));
    for (let i = from; i < to; i++) if (!irradiance || irradiance[i] <= DARK) cells.push(i);
  }
  return cells;
}

const JUMP = 60;
const SPIKE = 0.08;

/**
 * Probes that feel the sun: an inlet or outside probe that jumps with irradiance within a minute is lit or touches warm metal, for neither
 * the room nor the air outside can follow so fast. Least squares of its change on the sun's, over steps of more than 60 W/m².
 */
export function sunSpikes(setup: RunSetup, series: RunSeries): SunSpike[] {
  const { irradiance } = series;
  if (!irradiance) return [];
  const step = Math.max(1, Math.round(60000 / series.stepMs));
  const check = (lane: string, channel: Float64Array | null): SunSpike[] => {
    if (!channel) return [];
    let n = 0;
    let sxx = 0;
    let sxy = 0;
    let syy = 0;
    for (let i = step; i < irradiance.length; i += step) {
      const x = (irradiance[i] - irradiance[i - step]) / 100;
      const y = channel[i] - channel[i - step];
      if (Number.isNaN(x) || Number.isNaN(y) || Math.abs(x) * 100 < JUMP) continue;
      n++;
      sxx += x * x;
      sxy += x * y;
      syy += y * y;
    }
    if (n < 8) return [];
    const perHundred = sxy / sxx;
    const standard = Math.sqrt(Math.max(0, syy - perHundred * sxy) / (n - 1) / sxx);
    return perHundred > SPIKE && perHundred > 3 * standard ? [{ lane, perHundred, standard }] : [];
  };
  return [
    ...setup.lanes.flatMap((l) => check(l.lane, series.lanes.get(l.lane)?.inlet ?? null)),
    ...check("", series.ambient),
  ];
}

export interface LaggingProbe {
  lane: string;
  /** Behind the other lanes' inlets, s, with its standard uncertainty. */
  lagS: number;
  standardS: number;
}

const LAG = 60;

/** Inlet probes that follow the shared inlet air later than the others do: too thick, buried or in a dead corner. Needs three lanes. */
export function laggingProbes(setup: RunSetup, series: RunSeries): LaggingProbe[] {
  const inlets = setup.lanes.flatMap((l) => {
    const inlet = series.lanes.get(l.lane)?.inlet;
    return inlet ? [{ lane: l.lane, inlet }] : [];
  });
  if (inlets.length < 3) return [];
  return inlets.flatMap(({ lane, inlet }): LaggingProbe[] => {
    const reference = meanOfAll(inlets.filter((o) => o.lane !== lane).map((o) => o.inlet));
    const minusRate = rateOf(reference, series.stepMs);
    for (let t = 0; t < minusRate.length; t++) minusRate[t] = -minusRate[t];
    const behind = new Float64Array(inlet.length);
    for (let t = 0; t < behind.length; t++) behind[t] = inlet[t] - reference[t];
    const fit = leastSquares(behind, [new Float64Array(inlet.length).fill(1), minusRate]);
    if (!fit) return [];
    const standardS = Math.sqrt(fit.covariance[1][1]);
    return fit.beta[1] > LAG && fit.beta[1] > 3 * standardS ? [{ lane, lagS: fit.beta[1], standardS }] : [];
  });
}

/** Cell by cell; NaN where one of them is. */
function meanOfAll(series: readonly Float64Array[]): Float64Array {
  const mean = new Float64Array(series[0].length);
  for (const one of series) for (let t = 0; t < mean.length; t++) mean[t] += one[t];
  for (let t = 0; t < mean.length; t++) mean[t] /= series.length;
  return mean;
}

/** What the readings of a run say about how its probes were placed. */
export interface PlacementFindings {
  run: string;
  dark: DarkCheck[];
  spikes: SunSpike[];
  lags: LaggingProbe[];
}

/** @param minutes the same series by the minute: a lag of minutes shows in them as well as in every reading */
export const placementFindings = (setup: RunSetup, series: RunSeries, minutes: RunSeries): PlacementFindings => ({
  run: setup.run,
  dark: darkChecks(setup, series),
  spikes: sunSpikes(setup, series),
  lags: laggingProbes(setup, minutes),
});

/** Findings of a run's arrangements, put together: of one lane's rise in the dark the worse. */
export function joinPlacement(parts: readonly PlacementFindings[]): PlacementFindings {
  const worst = new Map<string, DarkCheck>();
  for (const d of parts.flatMap((p) => p.dark)) {
    const known = worst.get(d.lane);
    if (!known || Math.abs(d.riseK) > Math.abs(known.riseK)) worst.set(d.lane, d);
  }
  const first = <T extends { lane: string }>(found: readonly T[]) =>
    [...new Map([...found].reverse().map((f) => [f.lane, f])).values()].reverse();
  return {
    run: parts[0].run,
    dark: [...worst.values()],
    spikes: first(parts.flatMap((p) => p.spikes)),
    lags: first(parts.flatMap((p) => p.lags)),
  };
}
