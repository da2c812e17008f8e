import { autocorrelatedMean } from "../uncertainty/typeA";
import { leastSquares, rateOf } from "../calibration/bath";
import { errorAt } from "../calibration/correction";
import type { ProbeSetup, RunSeries, RunSetup } from "./setup";

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

const errorOf = (probe: ProbeSetup, indicatedC: number): number =>
  probe.calibration ? errorAt(probe.calibration.correction, indicatedC) : 0;

/**
 * What the probes show before sunrise, when in and out should agree: a rise there is the probes' own difference (and a trace of
 * radiation to the sky). Evenings do not count: the box still gives heat back.
 */
export function darkChecks(setup: RunSetup, series: RunSeries): DarkCheck[] {
  const { irradiance } = series;
  if (!irradiance) return [];
  const cells: number[] = [];
  let dark = true;
  const perDay = 86400000 / series.stepMs;
  for (let i = 0; i < irradiance.length; i++) {
    // A day begins dark; the first sun ends its morning.
    if (i === 0 || Math.floor(i / perDay) !== Math.floor((i - 1) / perDay) || Number.isNaN(irradiance[i])) dark = true;
    if (irradiance[i] > DARK) dark = false;
    if (dark && irradiance[i] <= DARK) cells.push(i);
  }
  const minutes = (cells.length * series.stepMs) / 60000;
  if (minutes < LEAST_MINUTES) return [];
  return setup.lanes.flatMap((lane) => {
    const own = series.lanes.get(lane.lane);
    if (!own?.inlet || !own.outlet) return [];
    const mean = autocorrelatedMean(cells.map((i) => own.outlet![i] - own.inlet![i]));
    if (Number.isNaN(mean.mean)) return [];
    // What a calibration knows of the probes is taken out first; what is left may still be the box radiating to the sky.
    const meanOf = (s: Float64Array) => autocorrelatedMean(cells.map((i) => s[i])).mean;
    const known = errorOf(lane.outletProbe, meanOf(own.outlet)) - errorOf(lane.inletProbe, meanOf(own.inlet));
    const riseK = mean.mean - known;
    const limit =
      SKY +
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
    const others = inlets.filter((o) => o.lane !== lane);
    const reference = Float64Array.from(inlet, (_, t) => others.reduce((s, o) => s + o.inlet[t], 0) / others.length);
    const rate = rateOf(reference, series.stepMs).map((v) => -v);
    const fit = leastSquares(
      Float64Array.from(inlet, (v, t) => v - reference[t]),
      [new Float64Array(inlet.length).fill(1), rate],
    );
    if (!fit) return [];
    const standardS = Math.sqrt(fit.covariance[1][1]);
    return fit.beta[1] > LAG && fit.beta[1] > 3 * standardS ? [{ lane, lagS: fit.beta[1], standardS }] : [];
  });
}

/** What the readings of a run say about how its probes were placed. */
export interface PlacementFindings {
  run: string;
  dark: DarkCheck[];
  spikes: SunSpike[];
  lags: LaggingProbe[];
}

export const placementFindings = (setup: RunSetup, series: RunSeries): PlacementFindings => ({
  run: setup.run,
  dark: darkChecks(setup, series),
  spikes: sunSpikes(setup, series),
  lags: laggingProbes(setup, series),
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
