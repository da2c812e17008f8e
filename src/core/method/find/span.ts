import { joined, type AssembledRun } from "../../analysis/assemble";
import { minutesOf, type LaneMinutes, type Minutes } from "../../analysis/laneMinutes";
import { arrangedSeries, type RunInput } from "../../analysis/reduce";
import type { RunSetup } from "../../analysis/setup";
import type { EventKind } from "../../log/eventKind";
import type { ChannelKind } from "../../log/channel";
import { blockMeans, gridMean } from "../../log/grid";

export interface MethodEvent {
  atMs: number;
  kind: EventKind;
  /** null: all lanes. */
  lane: string | null;
}

/** One arrangement of one run by the minute, with what else was logged on the same minutes. */
export interface MethodSpan {
  run: string;
  setup: RunSetup;
  minutes: Minutes;
  wind: Float64Array | null;
  /** A lane's other channel by the minute, °C or SI; null where it was not logged. */
  other(
    kind: Extract<ChannelKind, "plate" | "tank" | "fanState" | "speed" | "volumeFlow" | "massFlow">,
    lane: string,
  ): Float64Array | null;
  events: readonly MethodEvent[];
}

export function methodSpans({ arrangements, assembled }: RunInput, events: readonly MethodEvent[]): MethodSpan[] {
  return arrangements.flatMap((arranged) => {
    const { setup, series } = arrangedSeries(arranged, assembled);
    const minutes = minutesOf(setup, series);
    if (setup.byHand || minutes.count < 2) return [];
    const width = Math.max(1, Math.round(minutes.stepMs / series.stepMs));
    const [from, until] = [minutes.startMs, minutes.startMs + minutes.count * minutes.stepMs];
    return [
      {
        run: setup.run,
        setup,
        minutes,
        wind: series.wind && blockMeans(series.wind, width),
        other: (kind, lane) => {
          const station = setup.lanes.find((l) => l.lane === lane)?.station;
          return station === undefined ? null : otherChannel(assembled, kind, station, minutes);
        },
        events: events.filter((e) => e.atMs >= from && e.atMs < until),
      },
    ];
  });
}

/** Mean of all channels of a kind at a place, on the minutes. */
function otherChannel(
  { cleaning }: AssembledRun,
  kind: ChannelKind,
  station: number,
  { startMs, stepMs, count }: Minutes,
): Float64Array | null {
  const means = cleaning
    .filter(({ channel }) => channel.kind === kind && channel.station === station)
    .map(({ channel: { times, values, clockOffsetMs }, codes }) =>
      gridMean(times, values, codes, { startMs: startMs - clockOffsetMs, stepMs, count }),
    );
  return joined(means);
}

export const laneIn = (span: MethodSpan, lane: string): LaneMinutes | undefined =>
  span.minutes.lanes.find((l) => l.lane.lane === lane);

export const minuteMs = ({ minutes }: MethodSpan, i: number): number => minutes.startMs + (i + 0.5) * minutes.stepMs;
