import { cleanChannel, type CleanFinding, type CleanOptions, type CleanReason } from "../log/clean";
import { CHANNEL_KINDS, channelOf, type ChannelKind } from "../log/channel";
import { rateOnGrid } from "../log/counter";
import { gridMean, medianInterval, type Grid } from "../log/grid";
import { upperMiddle } from "../numeric/middle";
import {
  statedReading,
  type FlowSetup,
  type LaneSeries,
  type LaneSetup,
  type PlaceSeries,
  type RunSeries,
} from "./setup";

/** One channel as it was logged. Times ascending, ms UTC; values SI. */
export interface LoggedChannel {
  id: number;
  name: string;
  kind: ChannelKind;
  /** Place on the bench it measures at, from 1; null for what all lanes share. */
  station: number | null;
  /** While it measured there, ms UTC; left out: all the time. A channel may serve one place after another. */
  mounted?: { fromMs: number | null; untilMs: number | null };
  times: Float64Array;
  /** May be opened anew each time it is asked: take it once. */
  values: Float64Array;
  /** Added to the times: the logger's clock was slow by this much, ms. */
  clockOffsetMs: number;
}

/** A span set aside by a person; null channel means every channel. */
export interface Exclusion {
  channelId: number | null;
  /** null means every place. */
  station: number | null;
  fromMs: number;
  toMs: number;
}

/** All channels of a run on one clock, cleaned, by place. Missing channels are null. */
export interface AssembledRun {
  shared: Omit<RunSeries, "lanes">;
  places: ReadonlyMap<number, PlaceSeries>;
  /** Readings so far from the rest that one clock cannot hold both. */
  leftOut: { readings: number; fromMs: number; toMs: number } | null;
  /** One entry a channel, wherever it was mounted. */
  cleaning: { channel: LoggedChannel; findings: CleanFinding[]; codes: Uint8Array }[];
}

/** Finest common step worth having, ms; slower logs set a coarser one. */
const FINEST = 5000;
/** Longest grid: two months in the finest step. A longer test is put on a coarser one. */
const LONGEST_RUN_CELLS = 1_000_000;
const ISLAND_GAP = 86400000;
/** What changes slowly, or is often logged by a weather station of its own. */
const AT_OWN_PACE: ReadonlySet<ChannelKind> = new Set([
  "ambient",
  "wind",
  "humidity",
  "pressure",
  "plate",
  "fanPower",
  "fanState",
  "fanVoltage",
  "fanCurrent",
  "fanEnergy",
  "volumeCounter",
  "tank",
  "room",
  "swap",
]);

/**
 * Cleans every channel and puts all on one clock whose step is the slowest common interval of the lanes' channels and the sun.
 * Nothing is changed in place: codes and means are new arrays.
 *
 * @param channels one entry for each place a channel served; entries of one channel share its id and arrays
 * @param finestMs no finer step than this, ms
 */
export function assembleRun(
  channels: readonly LoggedChannel[],
  exclusions: readonly Exclusion[] = [],
  keep: ReadonlySet<CleanReason> = new Set(),
  finestMs = FINEST,
): AssembledRun {
  const { grid, leftOut } = commonGrid(channels, finestMs);
  const stationsOf = (id: number) => channels.filter((c) => c.id === id).map((c) => c.station);
  const cleaned = new Map(
    [...new Map(channels.map((c) => [c.id, c])).values()].map((channel) => {
      const exclude = exclusions
        .filter((e) => (e.channelId ?? channel.id) === channel.id)
        .filter((e) => e.station === null || stationsOf(channel.id).includes(e.station))
        .map((e) => ({ fromMs: e.fromMs - channel.clockOffsetMs, toMs: e.toMs - channel.clockOffsetMs }));
      return [channel.id, cleanedOnGrid(channel, grid, { exclude, keep })] as const;
    }),
  );
  const meansOf = (kind: ChannelKind, station: number | null): Float64Array[] =>
    channels
      .filter((c) => c.kind === kind && c.station === station)
      .map(({ id, mounted }) => {
        const { mean } = cleaned.get(id)!;
        return mounted ? whileMounted(mean, grid, mounted) : mean;
      });
  const onGrid = (kind: ChannelKind, station: number | null) => joined(meansOf(kind, station));
  const stations = new Set(channels.filter((c) => CHANNEL_KINDS[c.kind].scope === "lane").map((c) => c.station));
  const places = new Map<number, PlaceSeries>(
    [...stations]
      .filter((s): s is number => s !== null)
      .sort((a, b) => a - b)
      .map((station) => [station, placeSeries(onGrid, meansOf, station)]),
  );
  const shared = (kind: ChannelKind) => onGrid(kind, null);
  return {
    leftOut,
    cleaning: [...cleaned.values()].map(({ channel, codes, findings }) => ({ channel, codes, findings })),
    places,
    shared: {
      startMs: grid.startMs,
      stepMs: grid.stepMs,
      irradiance: shared("irradiance"),
      ambient: shared("ambient"),
      wind: shared("wind"),
      humidity: shared("humidity"),
      pressure: shared("pressure"),
      horizontalSun: shared("horizontalSun"),
    },
  };
}

/** A channel cleaned, and its means on the run's clock. */
function cleanedOnGrid(channel: LoggedChannel, grid: Grid, options: CleanOptions) {
  // Opened anew each time it is asked: taken once.
  const { times, values, kind, clockOffsetMs } = channel;
  const { codes, findings } = cleanChannel(times, values, kind, options);
  const shifted = { ...grid, startMs: grid.startMs - clockOffsetMs };
  const mean = (channelOf(kind).counts ? rateOnGrid : gridMean)(times, values, codes, shifted);
  return { channel, codes, findings, mean };
}

/** Channels of one kind at one place as one: one may continue in the next file, and where several know a cell their mean is taken. */
export function joined(means: readonly Float64Array[]): Float64Array | null {
  if (means.length < 2) return means[0] ?? null;
  return means[0].map((_, i) => {
    const known = means.flatMap((m) => (Number.isNaN(m[i]) ? [] : [m[i]]));
    return known.length ? known.reduce((s, v) => s + v, 0) / known.length : NaN;
  });
}

/** How far several probes stand from their mean, as its standard uncertainty, K: sd/√n of the typical cell. null for one probe. */
function spreadOf(means: readonly Float64Array[]): number | null {
  if (means.length < 2) return null;
  let sum = 0;
  let cells = 0;
  for (let i = 0; i < means[0].length; i++) {
    const known = means.flatMap((m) => (Number.isNaN(m[i]) ? [] : [m[i]]));
    if (known.length < 2) continue;
    const mean = known.reduce((s, v) => s + v, 0) / known.length;
    sum += known.reduce((s, v) => s + (v - mean) ** 2, 0) / (known.length - 1) / known.length;
    cells++;
  }
  return cells ? Math.sqrt(sum / cells) : null;
}

/** What is logged at one place; a flow or a power that was counted is how fast its counter counts. */
function placeSeries(
  onGrid: (kind: ChannelKind, station: number) => Float64Array | null,
  meansOf: (kind: ChannelKind, station: number) => Float64Array[],
  station: number,
): PlaceSeries {
  const at = (kind: ChannelKind) => onGrid(kind, station);
  const [volts, amperes] = [at("fanVoltage"), at("fanCurrent")];
  const [inlet, outlet] = [meansOf("inlet", station), meansOf("outlet", station)];
  return {
    inlet: joined(inlet),
    outlet: joined(outlet),
    speed: at("speed"),
    volumeFlow: at("volumeFlow") ?? at("volumeCounter"),
    massFlow: at("massFlow"),
    fanPower: at("fanPower") ?? (volts && amperes && volts.map((v, i) => v * amperes[i])) ?? at("fanEnergy"),
    fanState: at("fanState"),
    inletSpreadK: spreadOf(inlet),
    outletSpreadK: spreadOf(outlet),
    tank: at("tank"),
  };
}

/** Cells whose whole length lies within the time of mounting; the others are unknown. */
function whileMounted(
  mean: Float64Array,
  grid: Grid,
  { fromMs, untilMs }: NonNullable<LoggedChannel["mounted"]>,
): Float64Array {
  if (fromMs === null && untilMs === null) return mean;
  return mean.map((v, i) => {
    const start = grid.startMs + i * grid.stepMs;
    return start >= (fromMs ?? -Infinity) && start + grid.stepMs <= (untilMs ?? Infinity) ? v : NaN;
  });
}

/** The column that a set-up's meter reads: another kind of flow is not taken for it. */
export const FLOW_CHANNEL = { speed: "speed", volume: "volumeFlow", mass: "massFlow" } as const;

/**
 * A run's series for one arrangement: each lane gets the readings of the place it stood at, for as long as it did.
 * @param span null at an end: from the run's begin, to its end
 */
export function seriesFor(
  { shared, places }: AssembledRun,
  lanes: readonly Pick<LaneSetup, "lane" | "station" | "flow" | "fanPowerW">[],
  span: { fromMs: number | null; untilMs: number | null } = { fromMs: null, untilMs: null },
): RunSeries {
  const { startMs, stepMs } = shared;
  const from = span.fromMs === null ? 0 : Math.max(0, Math.ceil((span.fromMs - startMs) / stepMs));
  const to = span.untilMs === null ? undefined : Math.max(from, Math.floor((span.untilMs - startMs) / stepMs));
  const cut = (a: Float64Array | null) => (a && (from > 0 || to !== undefined) ? a.subarray(from, to) : a);
  const own = new Map<string, LaneSeries>();
  for (const { lane, station, flow, fanPowerW } of lanes) {
    const place = places.get(station);
    if (!place) continue;
    const stated = statedReading(flow);
    const unmetered = flow.kind === "constant" || flow.kind === "tank" || stated !== null;
    const metered = unmetered ? null : cut(place[FLOW_CHANNEL[flow.kind]]);
    // A stated flow flows while its fan runs.
    const state = stated === null ? null : cut(place.fanState ?? stateBy(place.fanPower));
    const cells = { startMs: startMs + from * stepMs, stepMs, like: cut(place.inlet) };
    const running = stated === null ? null : statedFlow(flow, stated, { ...cells, state });
    own.set(lane, {
      inlet: cut(place.inlet),
      outlet: cut(place.outlet),
      flow: metered ?? running ?? null,
      fanPower: cut(place.fanPower) ?? statedPower(fanPowerW, cut(place.inlet)),
      ...(flow.kind === "tank" ? { tank: cut(place.tank) } : {}),
    });
  }
  return {
    startMs: startMs + from * stepMs,
    stepMs,
    irradiance: cut(shared.irradiance),
    ambient: cut(shared.ambient),
    wind: cut(shared.wind),
    humidity: cut(shared.humidity),
    pressure: cut(shared.pressure),
    horizontalSun: cut(shared.horizontalSun ?? null),
    lanes: own,
  };
}

/** A stated flow, set anew at the times that were noted, while its fan runs; null where it is one figure all the time. */
function statedFlow(
  flow: FlowSetup,
  stated: number,
  {
    startMs,
    stepMs,
    like,
    state,
  }: { startMs: number; stepMs: number; like: Float64Array | null; state: Float64Array | null },
): Float64Array | null {
  const changes = "changes" in flow ? (flow.changes ?? []) : [];
  const cells = state ?? (changes.length > 0 ? like : null);
  let next = 0;
  let reading = stated;
  return (
    cells?.map((_, i) => {
      const atMs = startMs + (i + 0.5) * stepMs;
      while (next < changes.length && changes[next].fromMs <= atMs) reading = changes[next++].reading;
      return state ? reading * state[i] : reading;
    }) ?? null
  );
}

/** Below this share of its usual power a fan stands. */
const STANDS = 0.1;

/** Whether a fan runs, by its power, 1 or 0; null where that was not logged or is always nothing. */
function stateBy(power: Float64Array | null): Float64Array | null {
  const usual = power ? upperMiddle(power.filter((p) => p > 0)) : 0;
  return power && usual > 0 ? power.map((p) => (Number.isNaN(p) ? NaN : Number(p > STANDS * usual))) : null;
}

/** A stated power, as long as what was logged. */
const statedPower = (watts: number | null | undefined, like: Float64Array | null): Float64Array | null =>
  watts != null && like ? new Float64Array(like.length).fill(watts) : null;

/** The clock of a run: as long as its readings, in steps no finer than the slowest of the channels. */
function commonGrid(
  channels: readonly LoggedChannel[],
  finestMs: number,
): { grid: Grid; leftOut: AssembledRun["leftOut"] } {
  let step = finestMs;
  for (const { kind, times } of channels) {
    // An hourly barometer or weather station must not make hours of everything: it is taken as straight in between.
    if (AT_OWN_PACE.has(kind)) continue;
    const interval = medianInterval(times);
    if (Number.isFinite(interval)) step = Math.max(step, interval);
  }
  const islands = islandsOf(channels);
  if (islands.length === 0 || !(islands[islands.length - 1].toMs > islands[0].fromMs))
    return { grid: { startMs: 0, stepMs: step, count: 0 }, leftOut: null };
  // A reading years away must not ask for a grid of years, nor make all the others coarse.
  const { kept, dropped } = largestWithin(islands, LONGEST_RUN_CELLS * step);
  const start = kept[0].fromMs;
  const end = kept[kept.length - 1].toMs;
  step = Math.max(step, (end - start) / LONGEST_RUN_CELLS);
  const origin = Math.floor(start / step) * step;
  const leftOut = dropped.length
    ? {
        readings: dropped.reduce((n, i) => n + i.readings, 0),
        fromMs: dropped[0].fromMs,
        toMs: dropped[dropped.length - 1].toMs,
      }
    : null;
  return { grid: { startMs: origin, stepMs: step, count: Math.ceil((end - origin) / step) + 1 }, leftOut };
}

interface Island {
  fromMs: number;
  toMs: number;
  readings: number;
}

/** Channels of one file were read at the same instants: these once, with how many channels were. */
function clocksOf(channels: readonly LoggedChannel[]) {
  const clocks = new Map<Float64Array, Map<number, number>>();
  for (const { times, clockOffsetMs } of new Map(channels.map((c) => [c.id, c])).values()) {
    const own = clocks.get(times) ?? new Map<number, number>();
    clocks.set(times, own.set(clockOffsetMs, (own.get(clockOffsetMs) ?? 0) + 1));
  }
  return [...clocks].flatMap(([times, own]) =>
    [...own].map(([clockOffsetMs, alike]) => ({ times, clockOffsetMs, alike })),
  );
}

/** Stretches of readings with less than a day between them, of all channels together. */
function islandsOf(channels: readonly LoggedChannel[]): Island[] {
  const found: Island[] = [];
  for (const { times, clockOffsetMs, alike } of clocksOf(channels)) {
    for (let from = 0, i = 1; i <= times.length; i++) {
      if (i < times.length && times[i] - times[i - 1] <= ISLAND_GAP) continue;
      const readings = alike * (i - from);
      found.push({ fromMs: times[from] + clockOffsetMs, toMs: times[i - 1] + clockOffsetMs, readings });
      from = i;
    }
  }
  const joined: Island[] = [];
  for (const island of found.sort((a, b) => a.fromMs - b.fromMs)) {
    const last = joined[joined.length - 1];
    if (last && island.fromMs - last.toMs <= ISLAND_GAP) {
      last.toMs = Math.max(last.toMs, island.toMs);
      last.readings += island.readings;
    } else joined.push({ ...island });
  }
  return joined;
}

/** Neighbouring islands within a length that hold most readings; one island alone may be longer. */
function largestWithin(islands: readonly Island[], longestMs: number): { kept: Island[]; dropped: Island[] } {
  let best = { from: 0, to: 0, readings: -1 };
  for (let from = 0; from < islands.length; from++) {
    let readings = 0;
    for (let to = from; to < islands.length; to++) {
      if (to > from && islands[to].toMs - islands[from].fromMs > longestMs) break;
      readings += islands[to].readings;
      if (readings > best.readings) best = { from, to, readings };
    }
  }
  return {
    kept: islands.slice(best.from, best.to + 1),
    dropped: [...islands.slice(0, best.from), ...islands.slice(best.to + 1)],
  };
}
