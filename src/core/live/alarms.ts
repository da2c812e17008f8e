import type { RunSeries } from "../analysis/setup";
import { coverLayers, absorberLayer, type Design } from "../collector/design";
import { CHANNEL_KINDS, channelOf, type ChannelKind } from "../log/channel";
import type { CleanFinding } from "../log/clean";
import { usualFlow } from "../log/searched";
import type { LaneNow } from "./lanesNow";

/** What is wrong at the bench now. One kind, one lane (or channel, or device) is one alarm while it lasts. */
export type Alarm =
  /** A layer is near or over what its material bears, °C. */
  | { kind: "hot"; lane: string; nowC: number; limitC: number; material: string; over: boolean; by: "plate" | "outlet" }
  /** Sun on the box and no flow through it. */
  | { kind: "flowLost"; lane: string; irradianceWm2: number | null; share: number }
  /** The flow starts and stops again and again. */
  | { kind: "hunting"; lane: string; starts: number; minutes: number }
  /** Sun enough for long, and no steady window. */
  | { kind: "unsettled"; minutes: number; heldBy: string | null; lane: string | null }
  | { kind: "stuck"; lane: string | null; channel: string; minutes: number; value: number; channelKind: ChannelKind }
  | { kind: "range"; lane: string | null; channel: string; value: number; channelKind: ChannelKind; lost: boolean }
  /** A channel that the run reads no longer comes, though its device goes on. */
  | { kind: "gone"; lane: string | null; channel: string; minutes: number; channelKind: ChannelKind }
  /** Channels of the run no longer come and others came instead: the device was set up anew. @property sinceMs when the first went */
  | { kind: "rewired"; device: string; gone: string[]; came: string[]; sinceMs: number }
  | { kind: "silent"; device: string; seconds: number }
  | { kind: "clock"; device: string; lagMs: number }
  /** Lanes whose flows per area are apart. */
  | { kind: "flowsApart"; lanes: [string, string]; ratio: number }
  | { kind: "scald"; lane: string; nowC: number; boils: boolean }
  | { kind: "freezing"; lane: string; nowC: number };
export type AlarmKind = Alarm["kind"];

/** In the order in which they are looked at: people, fire, box, data. */
const ALARM_RANK: Record<AlarmKind, number> = {
  scald: 0,
  hot: 1,
  flowLost: 2,
  freezing: 3,
  rewired: 4,
  silent: 5,
  clock: 6,
  gone: 7,
  range: 8,
  stuck: 9,
  hunting: 10,
  flowsApart: 11,
  unsettled: 12,
};

/** What endangers people or box; the others only spoil data. */
export const isDanger = (alarm: Alarm): boolean => ALARM_RANK[alarm.kind] <= ALARM_RANK.freezing;

/** Names an alarm while it lasts. */
export function alarmKey(alarm: Alarm): string {
  switch (alarm.kind) {
    case "stuck":
    case "range":
    case "gone":
      return `${alarm.kind}/${alarm.channel}`.slice(0, 80);
    case "silent":
    case "clock":
    case "rewired":
      return `${alarm.kind}/${alarm.device}`.slice(0, 80);
    case "flowsApart":
      return `${alarm.kind}/${alarm.lanes.join("")}`;
    case "unsettled":
      return alarm.kind;
    default:
      return `${alarm.kind}/${alarm.lane}`;
  }
}

/** Warned of when as near as this to what a material bears, K: a probe and a hot spot are apart by as much. */
const NEAR_K = 12;
/** Sun from which a box without flow heats up dangerously, W/m². */
const SUNNY = 250;
/** Flow below this share of the usual is lost. */
const LOST_FLOW = 0.15;
const HUNTING_STARTS = 4;
const HUNTING_MINUTES = 30;
const UNSETTLED_MINUTES = 60;
/** No reading for this long, in usual intervals, and at least, s. */
const SILENT_INTERVALS = 6;
const SILENT_S = 30;
const CLOCK_MS = 20_000;
/** Readings later than this may have been kept back; a clock that is off by more is off by the same for a while, ms. */
const KEPT_BACK_MS = 15 * 60_000;
const SAME_FOR_MS = 60_000;
/** How far ahead of now a reading may stand, ms: clocks are set to some seconds. What lies further ahead is held apart. */
export const AHEAD_MS = 10_000;
/** One value from the first frame on, for so long: a probe that never moved, min. */
const NEVER_MOVED_MINUTES = 30;
/** Flows are compared when none of them has stood for so long, ms: a minute's mean holds the end of a pause. */
const FLOWING_MS = 5 * 60_000;
/** Flows per area apart by more spoil a comparison. */
const FLOWS_APART = 1.1;
const SCALD_C = 60;
const BOILS_C = 95;
const FREEZING_C = 3;
/** A reading is looked at as current for this long, ms. */
const LATELY_MS = 3 * 60_000;

export interface LaneWatch {
  lane: string;
  design: Design;
  areaM2: number;
  /** Newest plate and tank readings, °C. */
  plateC: number | null;
  tankC: number | null;
}

export interface ChannelWatch {
  name: string;
  device: string;
  kind: ChannelKind;
  lane: string | null;
  /** Newest reading as logged, SI. */
  latest: { atMs: number; value: number } | null;
  findings: readonly CleanFinding[];
  /** How long it has shown one value and no other, from the first reading looked at, ms; 0 where it moved. */
  unmovedMs: number;
  /** Since when it has not come, though its device's other channels do, ms; null: it comes. */
  goneSinceMs: number | null;
}

export interface DeviceWatch {
  name: string;
  /** Channels that came after the run had begun. */
  came: readonly string[];
  simulated: boolean;
  /** When its readings last came and how far they are apart, ms. null: nothing ever came. */
  heardMs: number | null;
  intervalMs: number;
  /** By how much its clock is slow, and since when by about as much, ms. */
  lagMs: number | null;
  lagSinceMs: number | null;
}

export interface WatchInput {
  /** The bench's clock: that of its newest reading where it is simulated. */
  nowMs: number;
  /** The clock on the wall, by which devices are heard. */
  wallMs: number;
  lanes: readonly LaneNow[];
  watched: readonly LaneWatch[];
  channels: readonly ChannelWatch[];
  devices: readonly DeviceWatch[];
  series: RunSeries;
  irradianceWm2: number | null;
  /** Minutes since the last steady window ended, or since sun enough began; null: not asked. */
  unsettledMinutes: number | null;
  /** A test that means still boxes: flow is stopped on purpose. */
  stagnationMeant: boolean;
  paused: boolean;
}

/** Everything wrong now, the most urgent first. Pure. */
export function alarmsNow(input: WatchInput): Alarm[] {
  const found = [
    ...input.watched.flatMap((w) => hotLayer(w, input)),
    ...input.watched.flatMap((w) => liquid(w, input)),
    ...(input.stagnationMeant ? [] : lostFlow(input)),
    ...(input.stagnationMeant ? [] : hunting(input)),
    ...(input.stagnationMeant ? [] : flowsApart(input)),
    ...(input.stagnationMeant || input.paused ? [] : unsettled(input)),
    ...input.channels.flatMap((c) => broken(c, input.nowMs)),
    ...input.devices.flatMap((d) => silence(d, input.wallMs)),
    ...input.devices.flatMap((d) => missing(d, input)),
  ];
  return found.sort(byUrgency);
}

/** The most urgent first. */
export const byUrgency = (a: Alarm, b: Alarm): number => ALARM_RANK[a.kind] - ALARM_RANK[b.kind];

/** Hottest known of a box against what the materials in its heat bear. */
function hotLayer({ lane, design, plateC }: LaneWatch, { lanes }: WatchInput): Alarm[] {
  const outletC = lanes.find((l) => l.lane === lane)?.outlet?.value ?? null;
  // Plate where it is measured; else the outlet, which the plate is at least as hot as.
  const nowC = plateC ?? outletC;
  const weakest = weakestMaterial(design);
  if (nowC === null || !weakest || nowC < weakest.limitC - NEAR_K) return [];
  const { limitC, material } = weakest;
  return [{ kind: "hot", lane, nowC, limitC, material, over: nowC > limitC, by: plateC === null ? "outlet" : "plate" }];
}

/** The material next to the absorber that bears least: absorber, coating, covers and what lies behind it. */
function weakestMaterial(design: Design): { limitC: number; material: string } | null {
  const absorber = absorberLayer(design);
  const keys = [
    ...(absorber ? [absorber.material, ...("coating" in absorber && absorber.coating ? [absorber.coating] : [])] : []),
    ...coverLayers(design).map((l) => l.material),
    ...design.layers.flatMap((l) => (l.kind === "insulation" ? [l.material] : [])).slice(0, 1),
  ];
  const limits = keys.flatMap((key) => {
    const { limitC, name } = design.materials[key];
    return limitC === null ? [] : [{ limitC, material: name }];
  });
  return limits.length ? limits.reduce((a, b) => (b.limitC < a.limitC ? b : a)) : null;
}

function liquid({ lane, design, tankC }: LaneWatch, { lanes }: WatchInput): Alarm[] {
  if (design.fluid.kind === "air") return [];
  const own = lanes.find((l) => l.lane === lane);
  const outletC = own?.outlet?.value ?? null;
  const hottest = Math.max(tankC ?? -Infinity, outletC ?? -Infinity);
  const coldest = Math.min(tankC ?? Infinity, own?.inlet?.value ?? Infinity, outletC ?? Infinity);
  return [
    ...(hottest > SCALD_C ? [{ kind: "scald" as const, lane, nowC: hottest, boils: hottest > BOILS_C }] : []),
    ...(design.fluid.kind === "water" && coldest < FREEZING_C
      ? [{ kind: "freezing" as const, lane, nowC: coldest }]
      : []),
  ];
}

const lastKnown = (a: Float64Array): number => {
  for (let i = a.length - 1; i >= Math.max(0, a.length - 6); i--) if (!Number.isNaN(a[i])) return a[i];
  return NaN;
};

function lostFlow({ lanes, series, irradianceWm2 }: WatchInput): Alarm[] {
  // Without a sun sensor a flow that stops is told all the same: nobody stops it at noon for nothing.
  if (irradianceWm2 !== null && irradianceWm2 < SUNNY) return [];
  return lanes.flatMap(({ lane }): Alarm[] => {
    const flow = series.lanes.get(lane)?.flow;
    if (!flow) return [];
    const usual = usualFlow(flow);
    const now = lastKnown(flow);
    if (Number.isNaN(now) || !Number.isFinite(usual) || now > LOST_FLOW * usual) return [];
    return [{ kind: "flowLost", lane, irradianceWm2, share: Math.max(0, now / usual) }];
  });
}

function hunting({ lanes, series }: WatchInput): Alarm[] {
  const cells = Math.round((HUNTING_MINUTES * 60_000) / series.stepMs);
  return lanes.flatMap(({ lane }): Alarm[] => {
    const flow = series.lanes.get(lane)?.flow;
    if (!flow) return [];
    const usual = usualFlow(flow);
    let starts = 0;
    let on: boolean | null = null;
    for (const v of flow.subarray(Math.max(0, flow.length - cells))) {
      if (Number.isNaN(v)) continue;
      // Between a fifth and a half of the usual flow nothing is said: a fan that slows is not one that starts anew.
      if (v >= 0.2 * usual && v <= 0.5 * usual) continue;
      const next = v > 0.5 * usual;
      if (on === false && next) starts++;
      on = next;
    }
    return starts >= HUNTING_STARTS ? [{ kind: "hunting", lane, starts, minutes: HUNTING_MINUTES }] : [];
  });
}

function flowsApart({ lanes, watched, series }: WatchInput): Alarm[] {
  const per = lanes.flatMap((l) => {
    const area = watched.find((w) => w.lane === l.lane)?.areaM2;
    if (!hasFlowed(series.lanes.get(l.lane)?.flow, series.stepMs)) return [];
    return l.massFlow && area && l.massFlow.value > 0 ? [{ lane: l.lane, value: l.massFlow.value / area }] : [];
  });
  if (per.length < 2) return [];
  const sorted = per.sort((a, b) => a.value - b.value);
  const [low, high] = [sorted[0], sorted[sorted.length - 1]];
  const ratio = high.value / low.value;
  return ratio > FLOWS_APART ? [{ kind: "flowsApart", lanes: [high.lane, low.lane], ratio }] : [];
}

/** No stop lies in the last minutes; a flow that is stated and not measured never stops. */
function hasFlowed(flow: Float64Array | null | undefined, stepMs: number): boolean {
  if (!flow) return true;
  const usual = usualFlow(flow);
  const cells = Math.ceil(FLOWING_MS / stepMs);
  return flow.subarray(Math.max(0, flow.length - cells)).every((v) => Number.isNaN(v) || v > LOST_FLOW * usual);
}

function unsettled({ unsettledMinutes, lanes }: WatchInput): Alarm[] {
  if (unsettledMinutes === null || unsettledMinutes < UNSETTLED_MINUTES) return [];
  const held = lanes.find((l) => l.steady?.heldBack)?.steady?.heldBack;
  return [{ kind: "unsettled", minutes: unsettledMinutes, heldBy: held?.name ?? null, lane: held?.lane ?? null }];
}

function broken({ name, kind, lane, latest, findings, unmovedMs }: ChannelWatch, nowMs: number): Alarm[] {
  if (!latest || nowMs - latest.atMs > LATELY_MS) return [];
  const { value } = latest;
  const lately = (reason: CleanFinding["reason"]) =>
    findings.find((f) => f.reason === reason && nowMs - f.lastMs < LATELY_MS);
  const [low, high] = CHANNEL_KINDS[kind].range;
  const lost = lately("errorCode") !== undefined;
  if (lost || value < low || value > high)
    return [{ kind: "range", lane, channel: name, value, channelKind: kind, lost }];
  const stuck = lately("stuck");
  const unmoved = unmovedMs / 60_000;
  const { mayStandStill, restsAtZero } = channelOf(kind);
  const never = unmoved >= NEVER_MOVED_MINUTES && !mayStandStill && !(restsAtZero && Math.abs(value) < 5);
  if (!stuck && !never) return [];
  const minutes = Math.round(stuck ? (stuck.lastMs - stuck.firstMs) / 60_000 : unmoved);
  return [{ kind: "stuck", lane, channel: name, minutes, value, channelKind: kind }];
}

/** Channels that no longer come: a broken probe, or a device that was set up anew. */
function missing({ name, came }: DeviceWatch, { channels, nowMs }: WatchInput): Alarm[] {
  const gone = channels.filter((c) => c.device === name && c.goneSinceMs !== null);
  if (gone.length && came.length) {
    const sinceMs = Math.min(...gone.map((c) => c.goneSinceMs!));
    return [{ kind: "rewired", device: name, gone: gone.map((c) => c.name), came: [...came], sinceMs }];
  }
  return gone.map(({ name: channel, lane, kind, goneSinceMs }) => {
    const minutes = Math.round((nowMs - goneSinceMs!) / 60_000);
    return { kind: "gone", lane, channel, minutes, channelKind: kind };
  });
}

function silence({ name, simulated, heardMs, intervalMs, lagMs, lagSinceMs }: DeviceWatch, wallMs: number): Alarm[] {
  if (heardMs !== null) {
    const seconds = (wallMs - heardMs) / 1000;
    if (seconds > Math.max(SILENT_S, (SILENT_INTERVALS * intervalMs) / 1000))
      return [{ kind: "silent", device: name, seconds: Math.round(seconds) }];
  }
  // A simulated bench has a clock of its own: it is neither fast nor slow.
  if (simulated || lagMs === null || Math.abs(lagMs) <= Math.max(CLOCK_MS, 3 * intervalMs)) return [];
  const settled = lagMs < KEPT_BACK_MS || (lagSinceMs !== null && wallMs - lagSinceMs >= SAME_FOR_MS);
  return settled ? [{ kind: "clock", device: name, lagMs }] : [];
}
