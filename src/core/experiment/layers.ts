import type { CleanReason } from "../log/clean";
import type { StoredCalibration } from "./schema/calibration";
import type { FlowLayerDetail, LayerDetail, LayerKind, Mount, Stand } from "./schema/layer";

interface LayerHead {
  id: number;
  reason: string;
  createdAt: number;
  /** A layer that is off stays in the list and does nothing. */
  on: boolean;
}

/** A layer over a run's raw readings: dated, reasoned, and switched off without a trace on them. */
export type RunLayer = {
  [K in LayerKind]: LayerHead & { kind: K; detail: LayerDetail<K> } & (K extends "calibration"
      ? { calibrationId: number; name: string; calibration: StoredCalibration }
      : unknown);
}[LayerKind];

export type LayerOf<K extends LayerKind> = Extract<RunLayer, { kind: K }>;

/** Who stood where and measured with what, for one span without a change. */
export interface Arrangement {
  /** null: from the run's begin, to its end. */
  fromMs: number | null;
  untilMs: number | null;
  /** Lane letter by station. */
  lanes: ReadonlyMap<number, string>;
}

/** What all layers that are on say together. */
export interface FoldedLayers {
  keep: ReadonlySet<CleanReason>;
  /** Clock offset by stream, ms. */
  clocks: ReadonlyMap<number, number>;
  mounts: readonly Mount[];
  /** In order of time; at least one. */
  arrangements: readonly Arrangement[];
  calibrations: readonly LayerOf<"calibration">[];
  flowFactors: ReadonlyMap<string, FlowLayerDetail>;
  exclusions: readonly LayerDetail<"exclusion">[];
}

/** Folds a run's layers in their order: a later one goes over an earlier one of its kind for the same thing. */
export function foldLayers(layers: readonly RunLayer[]): FoldedLayers {
  const on = layers.filter((l) => l.on);
  const of = <K extends LayerKind>(kind: K) => on.filter((l): l is LayerOf<K> => l.kind === kind);
  const clocks = new Map<number, number>();
  // Two shifts of one clock add up: each says how slow the clock still was.
  for (const { detail } of of("clock"))
    clocks.set(detail.streamId, (clocks.get(detail.streamId) ?? 0) + detail.offsetMs);
  const assignments = of("assignment");
  return {
    keep: new Set(of("cleaning").flatMap((l) => l.detail.keep)),
    clocks,
    mounts: overlaid(
      assignments.flatMap((l) => l.detail.mounts),
      (m) => `${m.streamId}/${m.channelNo}`,
    ),
    arrangements: arrangementsOf(assignments.flatMap((l) => l.detail.stands)),
    calibrations: of("calibration"),
    flowFactors: new Map(of("flow").map((l) => [l.detail.meter, l.detail])),
    exclusions: of("exclusion").map((l) => l.detail),
  };
}

interface Span {
  fromMs: number | null;
  untilMs: number | null;
}

const begin = (s: Span) => s.fromMs ?? -Infinity;
const end = (s: Span) => s.untilMs ?? Infinity;
const finite = (ms: number) => (Number.isFinite(ms) ? ms : null);

/** Entries for one thing laid over each other: the later keeps its span, earlier ones keep what is left of theirs. */
function overlaid<T extends Span>(entries: readonly T[], thing: (entry: T) => string): T[] {
  const kept = new Map<string, T[]>();
  for (const entry of entries) {
    const under = (kept.get(thing(entry)) ?? []).flatMap((old) => without(old, entry));
    kept.set(
      thing(entry),
      [...under, entry].sort((a, b) => begin(a) - begin(b)),
    );
  }
  return [...kept.values()].flat();
}

/** What is left of a span outside another: none, one or two pieces. */
function without<T extends Span>(old: T, over: Span): T[] {
  if (end(over) <= begin(old) || begin(over) >= end(old)) return [old];
  const pieces: T[] = [];
  if (begin(old) < begin(over)) pieces.push({ ...old, untilMs: finite(begin(over)) });
  if (end(over) < end(old)) pieces.push({ ...old, fromMs: finite(end(over)) });
  return pieces;
}

/** Spans between changes, each with who stands where. A specimen stands at one place: its newest. */
function arrangementsOf(stands: readonly Stand[]): Arrangement[] {
  const placed = overlaid(stands, (s) => String(s.station));
  const changes = [...new Set(placed.flatMap((s) => [begin(s), end(s)]))].filter(Number.isFinite).sort((a, b) => a - b);
  const edges = [-Infinity, ...changes, Infinity];
  const spans = edges.slice(0, -1).map((from, i): Arrangement => {
    const until = edges[i + 1];
    const now = placed.filter((s) => s.lane !== null && begin(s) <= from && end(s) >= until);
    return {
      fromMs: finite(from),
      untilMs: finite(until),
      lanes: new Map(now.map((s) => [s.station, s.lane!])),
    };
  });
  const same = (a: Arrangement, b: Arrangement) => [...a.lanes].join() === [...b.lanes].join();
  // Neighbours that are alike are one: a layer switched off leaves no seam.
  return spans.reduce<Arrangement[]>((out, next) => {
    const last = out.at(-1);
    if (last && same(last, next)) out[out.length - 1] = { ...last, untilMs: next.untilMs };
    else out.push(next);
    return out;
  }, []);
}

/** The arrangement at an instant. */
export const arrangementAt = (arrangements: readonly Arrangement[], ms: number): Arrangement =>
  arrangements.find((a) => ms >= begin(a) && ms < end(a)) ?? arrangements[0];

/** The place a lane had at an instant; null when it stood nowhere. @testing */
export function stationOf(arrangements: readonly Arrangement[], lane: string, ms: number): number | null {
  for (const [station, letter] of arrangementAt(arrangements, ms).lanes) if (letter === lane) return station;
  return null;
}
