import type { Knex } from "knex";
import { alarmKey, type Alarm } from "../../core/live/alarms";
import { json } from "../json";
import { transact } from "../transact";

/** An alarm as it is logged. */
export interface LoggedAlarm {
  id: number;
  beganAt: number;
  endedAt: number | null;
  acknowledgedAt: number | null;
  alarm: Alarm;
}

/** An alarm that is gone for so long is over, ms: what flickers is one alarm. */
const OVER_AFTER_MS = 60_000;

interface OpenRow {
  id: number;
  key: string;
  detail: unknown;
}

/** A run's open alarms, and of those that are over the newest. */
export async function listAlarms(knex: Knex, runId: number, most = 60): Promise<LoggedAlarm[]> {
  const rows = await knex("run_alarm")
    .where({ run_id: runId })
    .orderByRaw("ended_at IS NULL DESC, id DESC")
    .limit(most)
    .select({
      id: "id",
      beganAt: "began_at",
      endedAt: "ended_at",
      acknowledgedAt: "acknowledged_at",
      detail: "detail",
    });
  return rows.map(({ detail, ...r }: Omit<LoggedAlarm, "alarm"> & { detail: unknown }) => ({
    ...r,
    alarm: json<{ alarm: Alarm }>(detail).alarm,
  }));
}

/**
 * Writes down what is wrong now: what is new begins, what goes on is brought up to date, what has been gone for a minute is over.
 * Several instances may do this for one run: each waits for the other.
 * @returns those that begin
 */
export async function noteAlarms(knex: Knex, runId: number, alarms: readonly Alarm[], nowMs: number): Promise<Alarm[]> {
  const open: OpenRow[] = await openAlarms(knex, runId);
  if (open.length === 0 && alarms.length === 0) return [];
  return transact(knex, async (trx) => {
    const begun: Alarm[] = [];
    await trx("run").where({ id: runId }).forUpdate().first("id");
    const known = new Map((await openAlarms(trx, runId)).map((o) => [o.key, o]));
    for (const alarm of alarms) {
      const key = alarmKey(alarm);
      const row = known.get(key);
      known.delete(key);
      const detail = JSON.stringify({ alarm, seenAt: nowMs });
      if (row) await trx("run_alarm").where({ id: row.id }).update({ detail });
      else {
        await trx("run_alarm").insert({ run_id: runId, alarm_key: key, began_at: nowMs, detail });
        begun.push(alarm);
      }
    }
    for (const gone of known.values()) {
      const { seenAt } = json<{ seenAt: number }>(gone.detail);
      if (nowMs - seenAt >= OVER_AFTER_MS) await trx("run_alarm").where({ id: gone.id }).update({ ended_at: seenAt });
    }
    return begun;
  });
}

const openAlarms = (knex: Knex, runId: number): Promise<OpenRow[]> =>
  knex("run_alarm")
    .where({ run_id: runId })
    .whereNull("ended_at")
    .select({ id: "id", key: "alarm_key", detail: "detail" });

/** @returns false when the run has no such alarm */
export const acknowledge = async (knex: Knex, runId: number, alarmId: number, nowMs: number): Promise<boolean> =>
  (await knex("run_alarm").where({ id: alarmId, run_id: runId }).update({ acknowledged_at: nowMs })) > 0;
