import type { AssembledRun } from "../../core/analysis/assemble";
import { modifierSeries } from "../../core/analysis/light";
import type { DeviceRow } from "../../core/experiment/records";
import type { Experiment, StoredRun } from "../../core/experiment/types";
import { alarmsNow, type Alarm, type ChannelWatch, type LaneWatch } from "../../core/live/alarms";
import { medianInterval } from "../../core/log/grid";
import type { SoFar } from "./soFar";
import type { Newest } from "./newest";

type Channel = AssembledRun["cleaning"][number]["channel"];
const streamOf = (channelId: number) => Math.floor(channelId / 1000);

/** What is asked of a bench of which no reading came lately: its devices alone. */
const QUIET = {
  lanes: [],
  watched: [],
  channels: [],
  series: {
    startMs: 0,
    stepMs: 60_000,
    irradiance: null,
    ambient: null,
    wind: null,
    humidity: null,
    pressure: null,
    lanes: new Map(),
  },
  irradianceWm2: null,
  unsettledMinutes: null,
};

/** What is wrong at the bench now. @param bench null where no reading came lately */
export function watchBench(input: {
  experiment: Experiment;
  run: StoredRun;
  bench: Newest | null;
  devices: readonly DeviceRow[];
  nowMs: number;
  wallMs: number;
  stagnationMeant: boolean;
  soFar: SoFar | null;
}): Alarm[] {
  const { experiment, run, bench, devices, nowMs, wallMs, stagnationMeant, soFar } = input;
  return alarmsNow({
    nowMs,
    wallMs,
    ...(bench ? watchedBench(experiment, devices, bench, nowMs, soFar) : QUIET),
    devices: devices.map((d) => ({
      name: d.name,
      came: d.channels.slice(run.streams.find((s) => s.id === d.streamId)?.live?.known ?? d.channels.length),
      simulated: d.simulated,
      heardMs: d.heardAt,
      intervalMs: usualInterval(bench, run, d.streamId),
      lagMs: d.lagMs,
      lagSinceMs: d.lagSinceMs,
    })),
    stagnationMeant,
    paused: run.live!.pausedAt !== null,
  });
}

function watchedBench(
  experiment: Experiment,
  devices: readonly DeviceRow[],
  bench: Newest,
  nowMs: number,
  soFar: SoFar | null,
) {
  const { assembled, setup } = bench;
  const laneAt = (station: number | null) => setup.lanes.find((l) => l.station === station)?.lane ?? null;
  const channels = assembled.cleaning.map(({ channel, findings }): ChannelWatch => ({
    name: channel.name,
    device: devices.find((d) => d.streamId === streamOf(channel.id))?.name ?? "",
    kind: channel.kind,
    lane: laneAt(channel.station),
    latest: latestOf(channel),
    findings: findings.map((f) => ({
      ...f,
      firstMs: f.firstMs + channel.clockOffsetMs,
      lastMs: f.lastMs + channel.clockOffsetMs,
    })),
    unmovedMs: unmovedMs(channel),
    goneSinceMs: goneSince(channel),
  }));
  const latest = (kind: ChannelWatch["kind"], lane: string) => {
    const found = channels.find((c) => c.kind === kind && c.lane === lane)?.latest;
    return found && nowMs - found.atMs < 180_000 ? found.value : null;
  };
  const watched = setup.lanes.flatMap(({ lane, grossAreaM2, areaM2 }): LaneWatch[] => {
    const own = experiment.lanes.find((l) => l.letter === lane);
    return own
      ? [
          {
            lane,
            design: own.design,
            areaM2: grossAreaM2 ?? areaM2,
            plateC: latest("plate", lane),
            tankC: latest("tank", lane),
          },
        ]
      : [];
  });
  return {
    lanes: bench.lanes,
    watched,
    channels,
    series: bench.series,
    irradianceWm2: bench.shared.irradiance?.value ?? null,
    unsettledMinutes: unsettledMinutes(bench, soFar, experiment.settings.rules),
  };
}

/** How long a channel has shown its first value and no other, ms; 0 where it has moved. */
function unmovedMs({ times, values }: Channel): number {
  const first = values.find((v) => !Number.isNaN(v));
  if (first === undefined || values.some((v) => !Number.isNaN(v) && v !== first)) return 0;
  return times[times.length - 1] - times[0];
}

/** A channel comes no more once it has been missing for so long, ms, and for some of its own intervals. */
const GONE_MS = 3 * 60_000;
const GONE_INTERVALS = 6;

/** Since when a channel has not come though its device goes on, as far as is looked back, ms by the clock its layers put right; null: it comes. */
function goneSince({ times, values, clockOffsetMs }: Channel): number | null {
  let own = 0;
  let last = -1;
  values.forEach((v, i) => {
    if (Number.isNaN(v)) return;
    own++;
    last = i;
  });
  const since = times[Math.max(last, 0)];
  const first = values.findIndex((v) => !Number.isNaN(v));
  const usual = own > 1 ? (since - times[first]) / (own - 1) : 0;
  const away = times[times.length - 1] - since;
  return away > Math.max(GONE_MS, GONE_INTERVALS * usual) ? since + clockOffsetMs : null;
}

const latestOf = ({ times, values, clockOffsetMs }: Channel) => {
  for (let i = times.length - 1; i >= Math.max(0, times.length - 5); i--)
    if (!Number.isNaN(values[i])) return { atMs: times[i] + clockOffsetMs, value: values[i] };
  return null;
};

/** How far a device's frames usually are apart, ms; by its whole stream where none came lately. */
function usualInterval(bench: Newest | null, run: StoredRun, streamId: number): number {
  const own = bench?.assembled.cleaning.find((c) => streamOf(c.channel.id) === streamId);
  const interval = own ? medianInterval(own.channel.times) : NaN;
  if (!Number.isNaN(interval)) return interval;
  const stream = run.streams.find((s) => s.id === streamId);
  return stream && stream.frames > 1 ? (stream.endMs - stream.startMs) / (stream.frames - 1) : 10_000;
}

/** Minutes of usable sun without a window, until now: strong enough and near enough to the normal. null where there is no sun sensor. */
function unsettledMinutes(
  { setup, series }: Newest,
  soFar: SoFar | null,
  { minIrradiance, minModifier }: Experiment["settings"]["rules"],
): number | null {
  if (!series.irradiance) return null;
  const modifier = modifierSeries(setup, series.startMs, series.stepMs, series.irradiance.length);
  const since = soFar?.windows.at(-1)?.endMs ?? -Infinity;
  let minutes = 0;
  for (let i = series.irradiance.length - 1; i >= 0; i--) {
    if (series.startMs + i * series.stepMs < since) break;
    if (series.irradiance[i] >= minIrradiance && modifier[i] >= minModifier) minutes += series.stepMs / 60_000;
  }
  return minutes;
}
