import type { Knex } from "knex";
import { type ImportProblem, columnUnit } from "../../core/log/logData";
import { toSi } from "../../core/quantity/quantities";
import type { StoredChannel } from "../../core/experiment/types";
import { channelRanges, type ChannelRange } from "../../data/reading/readings";
import { findExperiment } from "../../data/experiment/experiments";
import { listProblems } from "../../data/run/runs";

/** What of a file could not be taken, and what each channel's raw readings span, SI where the channel's kind is known. */
export async function streamDetails(
  knex: Knex,
  { experimentId, runId, streamId }: { experimentId: number; runId: number; streamId: number },
): Promise<{ problems: ImportProblem[]; ranges: ChannelRange[] }> {
  const run = (await findExperiment(knex, experimentId))?.runs.find((r) => r.id === runId);
  const stream = run?.streams.find((s) => s.id === streamId);
  if (!stream) return { problems: [], ranges: [] };
  const [problems, ranges] = await Promise.all([
    listProblems(knex, streamId),
    channelRanges(knex, streamId, stream.live),
  ]);
  if (!stream.live) return { problems, ranges };
  return { problems, ranges: ranges.flatMap((r) => asSaid(r, stream.channels)) };
}

/** A live channel's readings are kept as sent; here they are what the run says they are. */
function asSaid(range: ChannelRange, channels: readonly StoredChannel[]): ChannelRange[] {
  const channel = channels.find((c) => c.channelNo === range.channelNo);
  if (!channel) return [];
  const unit = channel.kind && columnUnit(channel.kind, channel);
  if (!unit) return [range];
  const ends = [range.lowest, range.highest].map((v) => (v === null ? null : toSi(v, unit)));
  // A negative factor turns the ends round.
  const turned = ends[0] !== null && ends[1] !== null && ends[0] > ends[1];
  return [{ ...range, lowest: ends[turned ? 1 : 0], highest: ends[turned ? 0 : 1] }];
}
