import { CLEAN } from "../log/clean";
import { clockOffsetOf, SMOOTH_MS, type Signal } from "../log/clockOffset";
import type { ChannelKind } from "../log/channel";
import type { AssembledRun, LoggedChannel } from "./assemble";
import type { RunSetup } from "./setup";

/** A second logger whose clock disagrees with the first's. */
export interface ClocksApart {
  kind: "clocksApart";
  /** The first and the second logger. */
  streams: [number, number];
  /** The channels that tell. */
  channels: [string, string];
  /** The second is behind by so much, ms, with its standard uncertainty. */
  slowMs: number;
  standardMs: number;
}

/** A channel's number holds its stream's. */
export const streamOf = (channel: Pick<LoggedChannel, "id">): number => Math.floor(channel.id / 1000);

/** What both loggers may have seen, best first. A box follows the sun by what it stores. */
const PAIRS: readonly [ChannelKind, ChannelKind][] = [
  ["irradiance", "irradiance"],
  ["ambient", "ambient"],
  ["inlet", "inlet"],
  ["outlet", "outlet"],
  ["irradiance", "outlet"],
  ["outlet", "irradiance"],
];
const boxLagMs = ({ lanes }: RunSetup): number =>
  (1000 * lanes.reduce((s, l) => s + l.timeConstantS, 0)) / Math.max(1, lanes.length);
/** Clocks set by hand agree to this, ms: less harms nothing. */
const HARMLESS = 60_000;

/** Loggers of one run whose clocks disagree, by what both of them saw; each against the run's first. */
export function clocksApart(setup: RunSetup, { cleaning }: AssembledRun): ClocksApart[] {
  const streams = [...new Set(cleaning.map((c) => streamOf(c.channel)))].sort((a, b) => a - b);
  const [first, ...others] = streams;
  return others.flatMap((other) => {
    for (const [kindA, kindB] of PAIRS) {
      const a = cleaning.find((c) => streamOf(c.channel) === first && c.channel.kind === kindA);
      const b = cleaning.find((c) => streamOf(c.channel) === other && c.channel.kind === kindB);
      if (!a || !b) continue;
      const lagMs = kindA === kindB ? 0 : boxLagMs(setup);
      const lagOf = (kind: ChannelKind) => (kind === "irradiance" ? lagMs : 0);
      const found = clockOffsetOf(signal(a, lagOf(kindA)), signal(b, lagOf(kindB)), Math.max(SMOOTH_MS, 4 * lagMs));
      if (!found) continue;
      const { offsetMs } = found;
      // A drawing knows a time constant to about a third.
      const standardMs = Math.hypot(found.standardMs, lagMs / 3);
      if (Math.abs(offsetMs) < Math.max(HARMLESS, 3 * standardMs)) return [];
      return [
        {
          kind: "clocksApart",
          streams: [first, other],
          channels: [a.channel.name, b.channel.name],
          slowMs: offsetMs,
          standardMs,
        },
      ];
    }
    return [];
  });
}

const signal = ({ channel, codes }: AssembledRun["cleaning"][number], lagMs: number): Signal => {
  const times = channel.clockOffsetMs ? channel.times.map((t) => t + channel.clockOffsetMs) : channel.times;
  // The sun's jumps are what tells: only what is no measurement at all is left out.
  const kept = codes.map((c) => (c === CLEAN.spike ? CLEAN.kept : c));
  return { times, values: lagMs > 0 ? followed(times, channel.values, kept, lagMs) : channel.values, codes: kept };
};

/** What a box makes of the sun: a first-order lag of its time constant, so that both signals have one shape and no shift between them. */
function followed(times: Float64Array, values: Float64Array, codes: Uint8Array, lagMs: number): Float64Array {
  let state = NaN;
  let last = 0;
  return values.map((v, i) => {
    if (codes[i] !== 0 || Number.isNaN(v)) return NaN;
    const share = Number.isNaN(state) ? 1 : 1 - Math.exp(-(times[i] - last) / lagMs);
    state = share === 1 ? v : state + share * (v - state);
    last = times[i];
    return state;
  });
}
