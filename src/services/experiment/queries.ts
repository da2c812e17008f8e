import type { Knex } from "knex";
import type { ImportProblem } from "../../core/log/readLog";
import { channelRanges, type ChannelRange } from "../../data/reading/readings";
import { listProblems } from "../../data/run/runs";

/** What of a file could not be taken, and what each channel's raw readings span. */
export async function streamDetails(
  knex: Knex,
  streamId: number,
): Promise<{ problems: ImportProblem[]; ranges: ChannelRange[] }> {
  const [problems, ranges] = await Promise.all([listProblems(knex, streamId), channelRanges(knex, streamId)]);
  return { problems, ranges };
}
