import { clearSkyInPlane } from "../sun/clearSky";
import { localDay } from "../log/zone";
import {
  combine,
  divide,
  exact,
  fromLimit,
  fromResolution,
  multiply,
  scale,
  subtract,
  withSource,
  type Uncertain,
} from "../uncertainty/uncertain";
import { FLOW_CHANNEL, type AssembledRun } from "./assemble";
import { transposedIn } from "./light";
import {
  airOf,
  areaOf,
  countsVolume,
  densityAtMeter,
  meanSpecificHeat,
  meterFactor,
  meterReading,
  probeReading,
} from "./figures";
import type { HeatPoint } from "./points";
import { statedReading, type LaneSetup, type ProbeSetup, type RunSetup } from "./setup";

/** One row of a sheet: what a person read at one lane, or had in mind. NaN where it was not read. */
export interface HandRow {
  atMs: number;
  lane: string;
  inletC: number;
  outletC: number;
  /** As the lane's meter shows it, in its SI unit. */
  flow: number;
  /** As the sensor shows it, W/m². */
  irradianceWm2: number;
  ambientC: number;
}

/** A row as a point: what the lane gave at that instant, with its ±. */
export interface HandReading extends HeatPoint {
  /** Sun in the collector plane; null where it was not read. */
  irradiance: Uncertain | null;
  efficiency: Uncertain | null;
  ambientC: number;
}

/** A round of readings lasts no longer, ms: after that the sun is another. */
export const LONGEST_ROUND = 20 * 60000;
/** Below this a light reading cannot carry a comparison, W/m². */
const DIM = 50;

/**
 * Each row of a sheet reckoned to heat, Q = ṁ·cp·(Tout − Tin), and with sun to efficiency, as ISO 9806:2017 does for a steady window.
 * Rows without inlet, outlet or flow give nothing. In order of time.
 */
export function handReadings(setup: RunSetup, rows: readonly HandRow[]): HandReading[] {
  return [...rows]
    .sort((a, b) => a.atMs - b.atMs)
    .flatMap((row, index) => {
      const lane = setup.lanes.find((l) => l.lane === row.lane);
      return lane && !Number.isNaN(row.inletC + row.outletC + row.flow) ? [reading(setup, lane, row, index)] : [];
    });
}

function reading(setup: RunSetup, lane: LaneSetup, row: HandRow, index: number): HandReading {
  const at = (end: "in" | "out"): Uncertain => {
    const probe = end === "in" ? lane.inletProbe : lane.outletProbe;
    const noise = withSource(0, fromResolution(probe.resolutionK), {
      kind: "probeNoise",
      run: setup.run,
      window: index,
      channel: `${row.lane}/${end}`,
      owner: row.lane,
      dof: Infinity,
    });
    const read = thermometer(end === "in" ? row.inletC : row.outletC, probe, row.lane, end);
    return combine(read.value, [
      [1, read],
      [1, noise],
    ]);
  };
  const [inlet, outlet] = [at("in"), at("out")];
  const ambient = Number.isNaN(row.ambientC) ? inlet : exact(row.ambientC);
  const air = { ambient, ...airOf(setup, NaN, NaN) };
  const meter = multiply(meterReading(lane, row.flow), meterFactor(lane));
  const massFlow = countsVolume(lane)
    ? multiply(meter, densityAtMeter(lane.fluid, lane.flow.meter.at === "inlet" ? inlet : outlet, air))
    : meter;
  const specificHeat = meanSpecificHeat(lane.fluid, (inlet.value + outlet.value) / 2, air);
  const rise = subtract(outlet, inlet);
  const heat = multiply(multiply(massFlow, specificHeat), rise);
  const area = areaOf(lane);
  const irradiance = sunOf(setup, row);
  return {
    run: setup.run,
    window: index,
    day: localDay(row.atMs, setup.zone),
    lane: row.lane,
    station: lane.station,
    startMs: row.atMs,
    endMs: row.atMs,
    inlet,
    outlet,
    rise,
    massFlow,
    specificHeat,
    heat,
    area,
    grossAreaM2: lane.grossAreaM2,
    irradiance,
    efficiency: irradiance && divide(heat, multiply(area, irradiance)),
    ambientC: row.ambientC,
  };
}

/** Half of what a thermometer may be off by (variance) is the same wherever it reads, half is its own at each end of the box. */
function thermometer(indicatedC: number, probe: ProbeSetup, owner: string, end: string): Uncertain {
  const plain = { ...probe, resolutionK: 0 };
  if (probe.calibration) return probeReading(indicatedC, plain, owner);
  const half = (key: string) =>
    withSource(0, fromLimit(probe.limitK) / Math.SQRT2, { kind: "probe", probe: key, owner, dof: Infinity });
  return combine(indicatedC, [
    [1, half(probe.key)],
    [1, half(`${probe.key}/${end}`)],
  ]);
}

function sunOf(setup: RunSetup, { irradianceWm2, atMs, ambientC }: HandRow): Uncertain | null {
  const { mounting, limitShare, key } = setup.sunSensor;
  if (mounting === "modelled" || !(irradianceWm2 > DIM)) return null;
  const to = mounting === "horizontal" ? transposedIn(setup, ambientC) : null;
  const value = to ? to.at(irradianceWm2, atMs) : irradianceWm2;
  const limit = Math.hypot(fromLimit(limitShare), to ? to.shareAt(irradianceWm2, atMs) : 0);
  return withSource(value, limit * value, {
    kind: "sunSensor",
    sensor: key,
    owner: "",
    dof: Infinity,
  });
}

/** A lane's rows within a round. */
interface LaneRows {
  lane: string;
  rows: HandReading[];
}

/**
 * Rows in order of time as rounds: a round ends as soon as every lane was read, so that A B B A is two, or after 20 minutes. What
 * follows of one lane alone belongs to the round before, as far as that is 20 minutes long at most.
 */
export function roundsOf(readings: readonly HandReading[], lanes: number): HandReading[][] {
  const rounds: HandReading[][] = [];
  let round: HandReading[] = [];
  const lanesOf = (rows: readonly HandReading[]) => new Set(rows.map((r) => r.lane)).size;
  const fits = (rows: readonly HandReading[], row: HandReading) => row.startMs - rows[0].startMs <= LONGEST_ROUND;
  const close = () => {
    const before = rounds[rounds.length - 1];
    const last = round[round.length - 1];
    if (last && before && lanesOf(round) < 2 && lanesOf(before) > 1 && fits(before, last)) before.push(...round);
    else if (last) rounds.push(round);
    round = [];
  };
  for (const row of readings) {
    if (round.length && !fits(round, row)) close();
    round.push(row);
    if (lanesOf(round) === lanes && lanes > 1) {
      rounds.push(round);
      round = [];
    }
  }
  close();
  return rounds;
}

/**
 * Rounds as spans in which lanes are compared: each lane's mean heat, brought to one sun. @returns one entry a lane and round, and
 * how many rows had no other lane beside them
 */
export function compareRounds(
  setup: RunSetup,
  readings: readonly HandReading[],
): { rounds: HeatPoint[]; alone: number } {
  const lanes = new Set(readings.map((r) => r.lane)).size;
  const out: HeatPoint[] = [];
  let alone = 0;
  roundsOf(readings, lanes).forEach((rows, window) => {
    const byLane: LaneRows[] = [...new Set(rows.map((r) => r.lane))].map((lane) => ({
      lane,
      rows: rows.filter((r) => r.lane === lane),
    }));
    if (byLane.length < 2) alone += rows.length;
    else out.push(...sideBySide(setup, byLane, window));
  });
  return { rounds: out, alone };
}

const meanOf = (values: readonly number[]) => values.reduce((s, v) => s + v, 0) / values.length;

const meanFigure = (figures: readonly Uncertain[]): Uncertain =>
  combine(
    meanOf(figures.map((f) => f.value)),
    figures.map((f) => [1 / figures.length, f] as const),
  );

function sideBySide(setup: RunSetup, byLane: readonly LaneRows[], window: number): HeatPoint[] {
  const all = byLane.flatMap((l) => l.rows);
  const startMs = all[0].startMs;
  const endMs = all[all.length - 1].startMs;
  const toOneSun = oneSun(setup, byLane);
  return byLane.map(({ lane, rows }, i) => ({
    ...rows[0],
    lane,
    window,
    startMs,
    endMs,
    inlet: meanFigure(rows.map((r) => r.inlet)),
    outlet: meanFigure(rows.map((r) => r.outlet)),
    rise: meanFigure(rows.map((r) => r.rise)),
    massFlow: meanFigure(rows.map((r) => r.massFlow)),
    specificHeat: meanFigure(rows.map((r) => r.specificHeat)),
    heat: toOneSun(meanFigure(rows.map((r) => r.heat)), i),
  }));
}

/** Brings a lane's heat to the round's sun: as it was read, else as a clear sky changes between the readings, with that change as its ±. */
function oneSun(setup: RunSetup, byLane: readonly LaneRows[]): (heat: Uncertain, index: number) => Uncertain {
  const suns = byLane.map(({ rows }) => rows.map((r) => r.irradiance));
  if (suns.flat().every((s) => s !== null)) {
    const own = suns.map((s) => meanOf(s.map((u) => u!.value)));
    // The sensor's own error is one for all and cancels; what a flickering sun adds shows in the rounds' scatter.
    return (heat, i) => scale(heat, meanOf(own) / own[i]);
  }
  const times = byLane.map(({ rows }) => meanOf(rows.map((r) => r.startMs)));
  const clear = (ms: number) => clearSkyInPlane(ms, setup.place, setup.plane, setup.linkeTurbidity).total;
  const middle = clear(meanOf(times));
  return (heat, i) => {
    const there = clear(times[i]);
    if (!(there > DIM) || !(middle > DIM)) return heat;
    const change = middle / there - 1;
    const apart = withSource(0, 1, { kind: "readApart", run: setup.run, owner: "", dof: Infinity });
    return combine(heat.value * (1 + change), [
      [1 + change, heat],
      [fromLimit(1) * change * heat.value, apart],
    ]);
  };
}

/** The rows of a run read by hand, from its channels as they were kept. What cleaning took out is not read. */
export function handRows(setup: RunSetup, { cleaning }: AssembledRun): HandRow[] {
  const readAt = (kind: string, station: number | null): ReadonlyMap<number, number> => {
    const found = new Map<number, number>();
    for (const { channel, codes } of cleaning) {
      if (channel.kind !== kind || channel.station !== station) continue;
      const { times, values, clockOffsetMs } = channel;
      times.forEach((t, i) => {
        if (codes[i] === 0 && !Number.isNaN(values[i])) found.set(t + clockOffsetMs, values[i]);
      });
    }
    return found;
  };
  const sun = readAt("irradiance", null);
  const outside = readAt("ambient", null);
  return setup.lanes.flatMap(({ lane, station, flow }) => {
    const outlet = readAt("outlet", station);
    const stated = statedReading(flow);
    const metered =
      flow.kind === "constant" || flow.kind === "tank"
        ? new Map<number, number>()
        : readAt(FLOW_CHANNEL[flow.kind], station);
    return [...readAt("inlet", station)].map(([atMs, inletC]) => ({
      atMs,
      lane,
      inletC,
      outletC: outlet.get(atMs) ?? NaN,
      flow: stated ?? metered.get(atMs) ?? NaN,
      irradianceWm2: sun.get(atMs) ?? NaN,
      ambientC: outside.get(atMs) ?? NaN,
    }));
  });
}
