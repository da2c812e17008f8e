import type { Knex } from "knex";

/** Experiments with a run that goes on. */
export const liveExperiments = (knex: Knex): Promise<number[]> =>
  knex("run as r")
    .join("experiment as e", "e.id", "r.experiment_id")
    .whereNotNull("r.started_at")
    .whereNull("r.ended_at")
    .whereNull("r.deleted_at")
    .whereNull("e.deleted_at")
    .distinct("r.experiment_id")
    .pluck("r.experiment_id");

/** Runs that go on, by the stream each looks at. */
export const runningByStream = (
  knex: Knex,
): Promise<{ streamId: number; experimentId: number; experiment: string; run: number }[]> =>
  knex("run_stream as s")
    .join("run as r", "r.id", "s.run_id")
    .join("experiment as e", "e.id", "r.experiment_id")
    .whereNull("r.ended_at")
    .whereNull("r.deleted_at")
    .whereNull("e.deleted_at")
    .select({ streamId: "s.stream_id", experimentId: "e.id", experiment: "e.name", run: "r.number" });

/** Names what a live view would show: streams, runs, events, alarms. Changes whenever one of them does. */
export async function liveVersion(knex: Knex, experimentId: number): Promise<string> {
  const row = await knex("run as r")
    .leftJoin("run_stream as s", "s.run_id", "r.id")
    .where("r.experiment_id", experimentId)
    .whereNotNull("r.started_at")
    .whereNull("r.deleted_at")
    .first(
      knex.raw(
        "COALESCE(SUM(s.version), 0) AS versions, COUNT(DISTINCT r.id) AS runs, COALESCE(SUM(r.ended_at IS NULL), 0) AS going, COALESCE(SUM(r.paused_at IS NULL), 0) AS unpaused",
      ),
    );
  const changed = await knex("experiment").where({ id: experimentId }).first("changed_at");
  const alarms = await knex("run_alarm as a")
    .join("run as r", "r.id", "a.run_id")
    .where("r.experiment_id", experimentId)
    .first(knex.raw("COUNT(*) AS n, COUNT(a.ended_at) AS ended, COUNT(a.acknowledged_at) AS acknowledged"));
  return [
    row.versions,
    row.runs,
    row.going,
    row.unpaused,
    changed?.changed_at ?? 0,
    alarms.n,
    alarms.ended,
    alarms.acknowledged,
  ].join("-");
}

/** A live run that takes what one stream brings. */
export interface FedRun {
  runId: number;
  number: number;
  experimentId: number;
  experiment: string;
  startedAt: number;
  endedAt: number | null;
}

/**
 * Other runs that read the same collectors' channels of a stream as a run does. Two benches may share a logger, and its sun sensor;
 * a probe is in one collector only.
 * @param laneKinds the kinds of channel that belong to one collector @param committed as {@link runsFedBy} has it
 */
export async function rivalRuns(
  knex: Knex,
  runId: number,
  streamId: number,
  laneKinds: readonly string[],
  committed = false,
): Promise<FedRun[]> {
  const ids: number[] = await knex("run_channel as own")
    .join("run_channel as other", (on) =>
      on.on("other.stream_id", "own.stream_id").andOn("other.channel_no", "own.channel_no"),
    )
    .where({ "own.run_id": runId, "own.stream_id": streamId })
    .whereIn("own.kind", [...laneKinds])
    .whereIn("other.kind", [...laneKinds])
    .whereNot("other.run_id", runId)
    .distinct("other.run_id")
    .pluck("other.run_id");
  return ids.length ? (await runsFedBy(knex, streamId, committed)).filter((r) => ids.includes(r.runId)) : [];
}

/** Until this transaction ends nobody else who asks for it gives the experiment a run. */
export async function holdRuns(trx: Knex.Transaction, experimentId: number): Promise<void> {
  await trx("experiment").where({ id: experimentId }).forUpdate().first("id");
}

/**
 * Every live run of any experiment that looks at a stream; what was deleted does not count.
 * @param committed as they are by now, and not as they were when the transaction began
 */
export const runsFedBy = (knex: Knex, streamId: number, committed = false): Promise<FedRun[]> =>
  knex("run_stream as s")
    .modify((q) => committed && q.forShare())
    .join("run as r", "r.id", "s.run_id")
    .join("experiment as e", "e.id", "r.experiment_id")
    .where("s.stream_id", streamId)
    .whereNotNull("r.started_at")
    .whereNull("r.deleted_at")
    .whereNull("e.deleted_at")
    .orderBy("r.id")
    .select({
      runId: "r.id",
      number: "r.number",
      experimentId: "e.id",
      experiment: "e.name",
      startedAt: "r.started_at",
      endedAt: "r.ended_at",
    });
