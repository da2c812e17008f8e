import type { Knex } from "knex";
import { spanExtent } from "../../data/reading/readings";
import { holdRuns, rivalRuns, runsFedBy } from "../../data/run/live";
import { recordChange } from "../../data/journal";
import { endLiveRun } from "../live/commands";
import { LANE_KINDS } from "../../core/log/channel";
import { ImportRefused, type FullRequest } from "./importRequest";

/**
 * A logger whose probes were moved to another bench belongs to that bench: a run of another experiment that read the same
 * collectors' channels ends where the new one begins, or now where that would leave nothing of it.
 */
export async function releaseLoggers(
  trx: Knex.Transaction,
  { experimentId, runId }: { experimentId: number; runId: number },
  { liveFromMs: fromMs, liveUntilMs: untilMs, files }: FullRequest,
): Promise<void> {
  if (fromMs === null || untilMs !== null) return;
  for (const { live } of files) {
    if (!live) continue;
    for (const other of await rivalRuns(trx, runId, live.streamId, LANE_KINDS, true)) {
      if (other.experimentId === experimentId || other.endedAt !== null) continue;
      const newest = (await spanExtent(trx, live.streamId, { fromMs, untilMs: null }))?.endMs ?? fromMs;
      await endLiveRun(trx, other, other.startedAt < fromMs ? fromMs : newest + 1);
      await recordChange(trx, other.experimentId, "logger moved", { run: other.number, to: experimentId });
    }
  }
}

/**
 * Whether a run may look at this span of the devices' readings: there are some, it does not end ahead of now, and no other run of the
 * experiment holds them already, because the same minutes would count twice.
 */
export async function refuseSpan(
  trx: Knex.Transaction,
  experimentId: number,
  { liveFromMs: fromMs, liveUntilMs: untilMs, files }: FullRequest,
): Promise<void> {
  if (fromMs === null) return;
  const { zone } = files[0].settings;
  await holdRuns(trx, experimentId);
  for (const { live } of files) {
    if (!live) continue;
    if (untilMs !== null) {
      const sent = await spanExtent(trx, live.streamId, { fromMs, untilMs: null });
      // A simulated device's time may run ahead of the clock on the wall.
      const newestMs = Math.max(Date.now(), (sent?.endMs ?? -Infinity) + 1);
      if (!sent || sent.startMs >= untilMs || untilMs > newestMs)
        throw new ImportRefused({ kind: "spanEmpty", fromMs, untilMs, zone });
    }
    const other = (await runsFedBy(trx, live.streamId, true)).find(
      (r) => r.experimentId === experimentId && r.startedAt < (untilMs ?? Infinity) && (r.endedAt ?? Infinity) > fromMs,
    );
    if (other)
      throw new ImportRefused({
        kind: "spanTaken",
        run: other.number,
        fromMs: other.startedAt,
        untilMs: other.endedAt,
        zone,
      });
  }
}
