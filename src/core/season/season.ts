import type { Slanted } from "../optics/covers";
import { EigenvalueDecomposition, Matrix } from "ml-matrix";
import type { Account } from "./account";
import { EVAPORATION } from "./drying";
import type { Control, CurveNumbers, Mode, Run as Pipes, HeatingSystem, Use } from "./parts";
import { simulateYear, type HourlyYear, type Year } from "./simulate";
import type { Origin } from "./origins";
import type { StoreSpec } from "./store";
import { stageWatts } from "./watts";
import { MONTH_DAYS, type WeatherYear } from "./weather";

const { abs, max, sqrt } = Math;

/** A collector to be put into the season: one box of it. */
export interface Candidate {
  key: string;
  name: string;
  origin: Origin;
  /** On the mean-fluid basis, per `areaM2`. */
  curve: CurveNumbers;
  /** Standard, of η0, a1, a2 in this order; null: no doubt is known. */
  covariance: readonly (readonly number[])[] | null;
  areaM2: number;
  /** Incidence coefficient of the covers. */
  b0: number;
  /** Light beyond 60°, by the covers; left out: as one clear glass. */
  slanted?: Slanted;
  /** J/(m²·K) */
  capacityJM2K: number;
  /** Stream of one box, W/K, and the fan's electric power for it, W. */
  flowWK: number;
  powerW: number;
  limitC: number | null;
  /** (Tm − Ta)/G between which the curve was tested, K·m²/W; null where nobody knows. */
  xRange: readonly [number, number] | null;
}

/** A row: so many boxes one behind the other that look one way, and how the light of each hour falls there. */
export interface SeasonRow {
  inSeries: number;
  /** Rows alike side by side. */
  sideBySide: number;
  /** After the incidence modifier; by candidate, because covers differ. */
  light: Float64Array;
  plainLight: Float64Array;
}

export interface Scenario {
  rows: readonly SeasonRow[];
  /** Times the stream and power of the first stage; null for one stage. */
  secondStage: { flow: number; power: number; aboveC: number } | null;
  control: Control;
  panel: HeatingSystem["panel"];
  run: Pipes;
  exchanger: number | null;
  /** Of a pump behind the exchanger, W while the fan runs. */
  pumpW: number;
  /** What duct and bin of stones take beside the boxes at each stage's flow, W. */
  path: readonly { ductW: number; bedW: number }[];
  use: Use;
  store: StoreSpec;
  modes: readonly Mode[];
}

/**
 * Boxes in series pass one stream on; rows side by side share the fan. Longer rows resist more: flow divides by the root of their
 * length, as turbulent loss does.
 */
export function systemOf(c: Candidate, s: Scenario): HeatingSystem {
  const weight = s.rows.map((r) => r.sideBySide / sqrt(r.inSeries));
  const all = weight.reduce((a, b) => a + b, 0);
  const streams = s.rows.reduce((n, r) => n + r.sideBySide, 0);
  const boxes = s.rows.reduce((n, r) => n + r.sideBySide * r.inSeries, 0);
  const flowWK = c.flowWK * streams;
  const watts = (stage: number, times: number) => stageWatts(c.powerW * boxes * times, s.path[stage], s.pumpW);
  return {
    rows: s.rows.map((r, i) => {
      const areaM2 = c.areaM2 * r.inSeries * r.sideBySide;
      return {
        areaM2,
        inSeries: r.inSeries,
        curve: c.curve,
        capacityJK: c.capacityJM2K * areaM2,
        light: r.light,
        plainLight: r.plainLight,
        flowShare: weight[i] / all,
      };
    }),
    stages: [
      { flowWK, ...watts(0, 1) },
      ...(s.secondStage ? [{ flowWK: flowWK * s.secondStage.flow, ...watts(1, s.secondStage.power) }] : []),
    ],
    stageC: s.secondStage?.aboveC ?? Infinity,
    control: s.control,
    panel: s.panel,
    run: s.run,
    exchanger: s.exchanger,
    use: s.use,
    store: s.store,
    modes: s.modes,
    limitC: c.limitC,
  };
}

/** The use without any collector: what it lacks then, and lets out. */
export const withoutBoxes = (scenario: Scenario, weather: WeatherYear): HourlyYear =>
  simulateYear(
    {
      ...systemOf(NOTHING, { ...scenario, rows: [DARK] }),
      modes: Array<Mode>(12).fill("off"),
    },
    weather,
  )!;

const DARK: SeasonRow = {
  inSeries: 1,
  sideBySide: 1,
  light: new Float64Array(8760),
  plainLight: new Float64Array(8760),
};
const NOTHING: Candidate = {
  key: "",
  name: "",
  origin: "typed",
  curve: { eta0: 0, a1: 1, a2: 0 },
  covariance: null,
  areaM2: 0.001,
  b0: 0,
  capacityJM2K: 1,
  flowWK: 1,
  powerW: 0,
  limitC: null,
  xRange: null,
};

/** What became of the heat brought in a month, kWh: their sum is what was brought. */
export interface MonthShares {
  /** Heating that was saved, or the evaporation that the same air would not have done unheated. */
  useful: number;
  /** Put into the store and not taken out of it again in this month: kept, or lost there. */
  stored: number;
  /** Let out above the cap, more than without boxes. */
  vented: number;
  /** Brought, and only made it warmer than asked. */
  surplus: number;
  /** Still to be brought by something else. */
  missing: number;
  fan: number;
}

export interface Season {
  candidate: Candidate;
  year: Year;
  months: MonthShares[];
  /** Useful heat of the year, kWh, and its standard uncertainty from the curve; 0 where none is known. */
  useful: number;
  usefulSd: number;
  /** Standard uncertainty of each month's useful heat. */
  monthSd: number[];
  missing: number;
  /** What the use takes from its heaters without boxes. */
  need: number;
  vented: number;
  surplus: number;
  fan: number;
  /** Useful over need; 0 where nothing is needed. */
  share: number;
  /** Days with need on which the boxes brought next to nothing, and those of them got over with less than half of the need. */
  dark: { days: number; bridged: number };
  /** Of the heat collected, how much where the curve was not tested. */
  outsideTested: number;
}

const sum = (values: readonly number[]) => values.reduce((a, b) => a + b, 0);

function sharesOf(use: Use, account: Account, base: Account, dried: Float64Array): MonthShares[] {
  return MONTH_DAYS.map((days, m) => {
    const lacking =
      use.kind === "drying" ? ((use.waterKg[m] * days - dried[m]) * EVAPORATION) / 3.6e6 : account.missing[m];
    const useful = use.kind === "drying" ? account.used[m] : base.missing[m] - account.missing[m];
    const vented = account.vented[m] - base.vented[m];
    const stored = account.toStore[m] - account.fromStore[m] + base.fromStore[m];
    const brought = account.toUse[m] + account.toStore[m];
    return {
      useful,
      stored,
      vented,
      surplus: brought - useful - stored - vented,
      missing: max(0, lacking),
      fan: account.fan[m],
    };
  });
}

/** Heat the use lacks without boxes, kWh by month: of drying, what all of its water takes to evaporate. @param base of {@link withoutBoxes} */
export const needOf = (use: Use, base: Year): number[] =>
  use.kind === "drying"
    ? MONTH_DAYS.map((days, m) => (use.waterKg[m] * days * EVAPORATION) / 3.6e6)
    : [...base.account.missing];

/** Directions in which a curve may lie off, one standard uncertainty each: the roots of its covariance. */
export function principalMoves(covariance: readonly (readonly number[])[]): number[][] {
  const { realEigenvalues, eigenvectorMatrix } = new EigenvalueDecomposition(new Matrix(covariance.map((r) => [...r])));
  return realEigenvalues
    .map((value, k) => eigenvectorMatrix.getColumn(k).map((v) => v * sqrt(max(0, value))))
    .filter((move) => abs(move[0]) > 2e-4 || abs(move[1]) > 5e-3 || abs(move[2]) > 1e-4);
}

/**
 * A candidate's year with the band of its curve: the year run again with the curve moved along each of its covariance's directions.
 * @param base of {@link withoutBoxes} @param progress as of {@link simulateYear} @returns null when stopped
 */
export function seasonOf(
  candidate: Candidate,
  scenario: Scenario,
  weather: WeatherYear,
  base: HourlyYear,
  progress: (done: number) => boolean = () => false,
): Season | null {
  const moves = candidate.covariance ? principalMoves(candidate.covariance) : [];
  const parts = moves.length + 1;
  const run = (curve: CurveNumbers, part: number) =>
    simulateYear(systemOf({ ...candidate, curve }, scenario), weather, (d) => progress((part + d) / parts));
  const year = run(candidate.curve, 0);
  if (!year) return null;
  const months = sharesOf(scenario.use, year.account, base.account, year.driedKg);
  const useful = sum(months.map((m) => m.useful));
  let variance = 0;
  const monthVariance = Array<number>(12).fill(0);
  for (const [k, [eta0, a1, a2]] of moves.entries()) {
    const { curve } = candidate;
    const moved = run({ eta0: curve.eta0 + eta0, a1: max(0, curve.a1 + a1), a2: curve.a2 + a2 }, k + 1);
    if (!moved) return null;
    const own = sharesOf(scenario.use, moved.account, base.account, moved.driedKg);
    variance += (sum(own.map((m) => m.useful)) - useful) ** 2;
    own.forEach((m, i) => (monthVariance[i] += (m.useful - months[i].useful) ** 2));
  }
  const missing = sum(months.map((m) => m.missing));
  const need = sum(needOf(scenario.use, base));
  return {
    candidate,
    year,
    months,
    useful,
    usefulSd: sqrt(variance),
    monthSd: monthVariance.map(Math.sqrt),
    missing,
    need,
    vented: sum(months.map((m) => m.vented)),
    surplus: sum(months.map((m) => m.surplus)),
    fan: sum(months.map((m) => m.fan)),
    share: need > 0 ? useful / need : 0,
    dark: darkDays(year, base),
    outsideTested: outsideTested(candidate, scenario, year, weather),
  };
}

/** A tested range ends where it ends: so much of its width beyond it is still taken to be known. */
const BEYOND = 0.15;

function outsideTested(
  { xRange }: Candidate,
  { rows }: Scenario,
  { trace }: HourlyYear,
  { ambientC }: WeatherYear,
): number {
  if (!xRange) return 0;
  const margin = BEYOND * (xRange[1] - xRange[0]) + 0.005;
  let [outside, all] = [0, 0];
  trace.collected.forEach((heat, h) => {
    const light = rows[0].light[h];
    if (heat <= 0 || light < 50) return;
    const x = (trace.boxC[h] - ambientC[h]) / light;
    all += heat;
    if (x < xRange[0] - margin || x > xRange[1] + margin) outside += heat;
  });
  return all > 0 ? outside / all : 0;
}

/** A dark day brings less than a quarter of its month's mean. */
const DARK_SHARE = 0.25;

function darkDays({ trace, account }: HourlyYear, base: HourlyYear): Season["dark"] {
  const out = { days: 0, bridged: 0 };
  let day = 0;
  MONTH_DAYS.forEach((days, m) => {
    const mean = (account.collected[m] * 1000) / days;
    for (let d = 0; d < days; d++, day++) {
      let [brought, lacked, needed] = [0, 0, 0];
      for (let h = day * 24; h < day * 24 + 24; h++) {
        brought += trace.collected[h];
        lacked += trace.missing[h];
        needed += base.trace.missing[h];
      }
      if (needed < 100 || brought >= DARK_SHARE * mean) continue;
      out.days++;
      if (lacked < needed / 2) out.bridged++;
    }
  });
  return out;
}

/** Photovoltaic panels as a candidate: what they make, times what a heat pump makes of it, comes as heat without any loss of temperature. */
export const panelsCandidate = (areaM2: number, efficiency: number, performance: number, cop: number): Candidate => ({
  ...NOTHING,
  key: "panels",
  name: cop > 1 ? "panels and heat pump" : "panels and resistive heat",
  origin: "panels",
  curve: { eta0: efficiency * performance * cop, a1: 0, a2: 0 },
  areaM2,
  b0: 0.05,
  capacityJM2K: 50,
  flowWK: 1e5,
});
