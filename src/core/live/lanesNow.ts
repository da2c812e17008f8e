import type { TemperatureBasis } from "../analysis/heat";
import { modifierFor, modifierSeries } from "../analysis/light";
import { efficiencyPoints, type EfficiencyPoint } from "../analysis/points";
import { statedReading, type LaneSetup, type RunSeries, type RunSetup } from "../analysis/setup";
import type { SteadyRules } from "../log/windows";
import { exact, type Uncertain } from "../uncertainty/uncertain";
import { steadyNow, type SteadyNow } from "./steadyNow";

/** What a lane gives now. Null: not measured, or nothing came lately. */
export interface LaneNow {
  lane: string;
  station: number;
  inlet: Uncertain | null;
  outlet: Uncertain | null;
  rise: Uncertain | null;
  /** kg/s */
  massFlow: Uncertain | null;
  heat: Uncertain | null;
  /** Null where there is no sun sensor, or too little sun. */
  efficiency: Uncertain | null;
  steady: SteadyNow | null;
  /** What the figures above come from; its efficiency holds only where one is given above. */
  point: EfficiencyPoint | null;
}

/** What all lanes share now. Null: not measured. */
export interface SharedNow {
  irradiance: Uncertain | null;
  ambient: Uncertain | null;
  /** m/s, share and Pa, without their ±: nobody stated one. */
  wind: Uncertain | null;
  humidity: Uncertain | null;
  pressure: Uncertain | null;
}

/** Figures "now" are means over this long, ms; over two steps of a slower logger. */
const NOW_MS = 60_000;

/** A lane's series where all of them are there, a stated flow as a series. */
function readyLane(lane: LaneSetup, series: RunSeries) {
  const own = series.lanes.get(lane.lane);
  const constant = statedReading(lane.flow);
  if (!own?.inlet || !own.outlet || (!own.flow && constant === null)) return null;
  const flow = own.flow ?? new Float64Array(own.inlet.length).fill(constant!);
  return { lane: lane.lane, inlet: own.inlet, outlet: own.outlet, flow, timeConstantS: lane.timeConstantS };
}

/**
 * What each lane gives now, and how long it has been steady, from the newest stretch of a run's series.
 * Heat needs no sun: where none is measured it is given alone.
 *
 * @param series the last hour or so, sun in the collector plane
 */
export function lanesNow(
  setup: RunSetup,
  series: RunSeries,
  options: { basis: TemperatureBasis; rules: SteadyRules },
): { lanes: LaneNow[]; shared: SharedNow } {
  const cells = series.ambient?.length ?? firstLength(series);
  const length = Math.min(cells, Math.max(2, Math.round(NOW_MS / series.stepMs)));
  const window = {
    from: cells - length,
    to: cells,
    startMs: series.startMs + (cells - length) * series.stepMs,
    endMs: series.startMs + cells * series.stepMs,
    lanes: setup.lanes.map((l) => l.lane),
    checks: [],
  };
  const sunny = series.irradiance !== null && series.ambient !== null;
  // Heat is ṁ·cp·ΔT: a stand-in sun gives an efficiency that is thrown away below.
  const lit: RunSeries = sunny
    ? series
    : { ...series, irradiance: new Float64Array(cells).fill(1000), ambient: new Float64Array(cells).fill(20) };
  const points = cells
    ? efficiencyPoints(setup, lit, [window], { basis: options.basis, modifierAt: modifierFor(setup) })
    : [];
  const dark = sunny && cells > 0 && points.length === 0;
  const heats = dark
    ? efficiencyPoints(setup, { ...series, irradiance: new Float64Array(cells).fill(1000) }, [window], {
        basis: options.basis,
        modifierAt: modifierFor(setup),
      })
    : points;
  const steady = sunny && cells > 0 ? steadiness(setup, series, options.rules) : [];
  const lanes = setup.lanes.map((lane) => {
    const point = heats.find((p) => p.lane === lane.lane);
    return {
      lane: lane.lane,
      station: lane.station,
      inlet: point?.inlet ?? null,
      outlet: point?.outlet ?? null,
      rise: point?.rise ?? null,
      massFlow: point?.massFlow ?? null,
      heat: point?.heat ?? null,
      efficiency: sunny && !dark ? (point?.efficiency ?? null) : null,
      steady: steady.find((s) => s.lane === lane.lane) ?? null,
      point: point ?? null,
    };
  });
  return { lanes, shared: sharedNow(series, window, sunny ? points[0] : undefined) };
}

/** With their ± where a lane's point has them; in the dark as they are shown. */
function sharedNow(
  series: RunSeries,
  { from, to }: { from: number; to: number },
  point: EfficiencyPoint | undefined,
): SharedNow {
  const shown = (a: Float64Array | null) => {
    const mean = a ? meanKnown(a.subarray(Math.max(0, from), to)) : NaN;
    return Number.isNaN(mean) ? null : exact(mean);
  };
  // Of a bare absorber the point's sun is the net one; here it is what the sensor shows.
  const irradiance = point && !point.bare ? point.irradiance : shown(series.irradiance);
  return {
    irradiance,
    ambient: point?.ambient ?? shown(series.ambient),
    wind: shown(series.wind),
    humidity: shown(series.humidity),
    pressure: shown(series.pressure),
  };
}

function meanKnown(values: Float64Array): number {
  const known = values.filter((v) => !Number.isNaN(v));
  return known.length ? known.reduce((s, v) => s + v, 0) / known.length : NaN;
}

const firstLength = (series: RunSeries): number =>
  [...series.lanes.values()].flatMap((l) => [l.inlet, l.outlet, l.flow]).find((a) => a !== null)?.length ?? 0;

function steadiness(setup: RunSetup, series: RunSeries, rules: SteadyRules): SteadyNow[] {
  const lanes = setup.lanes.flatMap((lane) => readyLane(lane, series) ?? []);
  return steadyNow(
    {
      startMs: series.startMs,
      stepMs: series.stepMs,
      irradiance: series.irradiance!,
      ambient: series.ambient!,
      modifier: modifierSeries(setup, series.startMs, series.stepMs, series.irradiance!.length),
      lanes,
    },
    rules,
  );
}
