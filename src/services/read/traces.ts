import type { Knex } from "knex";
import type { Correction } from "../../core/calibration/correction";
import { setupAt, type RunReduction } from "../../core/analysis/reduce";
import type { ProbeSetup } from "../../core/analysis/setup";
import type { EventKind } from "../../core/log/eventKind";
import { bucketEdges, bucketMeans, overviewOf, type Overview } from "../../core/log/buckets";
import type { ChannelKind } from "../../core/log/channel";
import { findEvents } from "../../data/run/events";
import { laneAt } from "../page/views";
import { analyse } from "../analysis/analyse";

/** One channel, thinned into buckets of equal length. NaN where nothing was measured or all was left out. */
export interface Trace {
  name: string;
  kind: ChannelKind;
  lane: string | null;
  mean: Float32Array;
  /** Readings left out in each bucket. */
  out: Float32Array;
  /** What a calibration takes off its readings; a mean is corrected as a reading is. */
  correction: Line | null;
}

type Line = Pick<Correction, "t0C" | "offsetK" | "slope">;

export interface Traces {
  fromMs: number;
  toMs: number;
  buckets: number;
  /** Readings behind a bucket, typically. */
  perBucket: number;
  traces: Trace[];
  /** What a person marked within the span. */
  events: { atMs: number; kind: EventKind; lane: string | null }[];
}

const MOST_BUCKETS = 4000;

/** A run's channels between two instants for drawing: means of kept readings, with the left-out counted. null when there is no such run. */
export async function runTraces(
  knex: Knex,
  experimentId: number,
  runId: number,
  options: { fromMs?: number; toMs?: number; buckets: number },
): Promise<Traces | null> {
  const analysis = await analyse(knex, experimentId);
  const assembled = analysis?.assembled.get(runId);
  if (!assembled || assembled.cleaning.length === 0) return null;
  const number = analysis!.experiment.runs.find((r) => r.id === runId)!.number;
  const reduced = analysis!.reduction.runs.find((r) => r.run === String(number))!;
  const ends = assembled.cleaning
    .filter((c) => c.channel.times.length > 0)
    .map((c) => ({
      first: c.channel.times[0] + c.channel.clockOffsetMs,
      last: c.channel.times[c.channel.times.length - 1] + c.channel.clockOffsetMs,
    }));
  const fromMs = options.fromMs ?? Math.min(...ends.map((e) => e.first));
  const toMs = Math.max(fromMs + 1000, options.toMs ?? Math.max(...ends.map((e) => e.last)));
  const buckets = Math.max(
    10,
    Math.min(MOST_BUCKETS, Math.floor(options.buckets), Math.ceil((toMs - fromMs) / assembled.shared.stepMs)),
  );
  const edgesOf = byTimes((times, offsetMs) => bucketEdges(times, fromMs - offsetMs, toMs - offsetMs, buckets));
  const traces = assembled.cleaning.map(({ channel, codes }) => {
    const { name, kind, times, values, clockOffsetMs } = channel;
    const edges = edgesOf(times, clockOffsetMs);
    return {
      name,
      kind,
      ...bucketMeans(values, codes, overview(values, codes), edges),
      lane: laneAt(reduced, channel.station, fromMs),
      correction: correctionOf(reduced, channel, fromMs),
    };
  });
  const perBucket = Math.max(1, Math.round((toMs - fromMs) / buckets / assembled.shared.stepMs));
  const events = ((await findEvents(knex, [runId])).get(runId) ?? [])
    .filter((e) => e.atMs >= fromMs && e.atMs <= toMs)
    .map(({ atMs, kind, lane }) => ({ atMs, kind, lane }));
  return { fromMs, toMs, buckets, perBucket, traces, events };
}

/** The calibration in force over a channel at an instant. */
function correctionOf(
  reduced: RunReduction,
  { kind, station }: { kind: ChannelKind; station: number | null },
  ms: number,
): Line | null {
  const setup = setupAt(reduced, ms);
  const lane = setup.lanes.find((l) => l.station === station);
  const probes: Partial<Record<ChannelKind, ProbeSetup | undefined>> = {
    inlet: lane?.inletProbe,
    outlet: lane?.outletProbe,
    ambient: setup.ambientProbe,
  };
  const found = probes[kind]?.calibration?.correction;
  return found ? { t0C: found.t0C, offsetK: found.offsetK, slope: found.slope } : null;
}

/** Channels' overviews, as long as their codes are held: made once, however often somebody pans. */
const overviews = new WeakMap<Uint8Array, Overview>();

function overview(values: Float64Array, codes: Uint8Array): Overview {
  const known = overviews.get(codes);
  if (known) return known;
  const made = overviewOf(values, codes);
  overviews.set(codes, made);
  return made;
}

/** Channels of one log share their times. */
function byTimes(edgesOf: (times: Float64Array, offsetMs: number) => Uint32Array) {
  const known = new Map<Float64Array, { offsetMs: number; edges: Uint32Array }>();
  return (times: Float64Array, offsetMs: number): Uint32Array => {
    const found = known.get(times);
    if (found?.offsetMs === offsetMs) return found.edges;
    const edges = edgesOf(times, offsetMs);
    known.set(times, { offsetMs, edges });
    return edges;
  };
}
