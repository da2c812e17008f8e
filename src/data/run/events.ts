import type { Knex } from "knex";
import { EVENT_KINDS, type EventKind } from "../../core/log/eventKind";
import { eventDetailSchema, type EventDetail, type RunEvent } from "../../core/experiment/schema/event";
import { readable } from "../json";

interface Row {
  id: number;
  runId: number;
  key: string;
  atMs: number;
  kind: EventKind;
  detail: unknown;
}

const COLUMNS = { id: "id", runId: "run_id", key: "event_key", atMs: "at", kind: "kind", detail: "detail" } as const;

/** Events of runs in the order of time. @returns by run */
export async function findEvents(knex: Knex, runIds: readonly number[]): Promise<Map<number, RunEvent[]>> {
  const rows: Row[] = await knex("run_event")
    .whereIn("run_id", [...runIds])
    .whereNull("deleted_at")
    .orderBy(["at", "id"])
    .select(COLUMNS);
  const out = new Map<number, RunEvent[]>();
  for (const { runId, detail, atMs, ...head } of rows) {
    const read = EVENT_KINDS.includes(head.kind) ? readable(eventDetailSchema, detail) : null;
    if (read) out.set(runId, [...(out.get(runId) ?? []), { ...head, ...read, atMs: Number(atMs) }]);
  }
  return out;
}

export async function findEvent(knex: Knex, runId: number, id: number): Promise<RunEvent | null> {
  return (await findEvents(knex, [runId])).get(runId)?.find((e) => e.id === id) ?? null;
}

/** When an event was kept, ms. */
export const eventKeptAt = async (knex: Knex, runId: number, id: number): Promise<number> =>
  Number((await knex("run_event").where({ id, run_id: runId }).first("created_at"))?.created_at ?? 0);

/** Keeps an event once, however often it is sent. @returns its id, and whether it is new */
export async function insertEvent(
  trx: Knex,
  runId: number,
  event: { key: string; atMs: number; kind: EventKind },
  detail: EventDetail,
): Promise<{ id: number; fresh: boolean }> {
  const known = await trx("run_event").where({ event_key: event.key }).first("id");
  if (known) return { id: known.id, fresh: false };
  const [id] = await trx("run_event").insert({
    run_id: runId,
    event_key: event.key,
    at: event.atMs,
    kind: event.kind,
    detail: JSON.stringify(eventDetailSchema.parse(detail)),
    created_at: Date.now(),
  });
  return { id, fresh: true };
}

/** Events whose layer is another one now. */
export const pointEventsAt = (trx: Knex, runId: number, from: number, to: number): Promise<number> =>
  trx("run_event")
    .where({ run_id: runId })
    .whereRaw("JSON_VALUE(detail, '$.layerId') = ?", [from])
    .update({ detail: trx.raw("JSON_SET(detail, '$.layerId', ?)", [to]) });

/** What was pressed in one run is another's. */
export const moveEvents = (trx: Knex, from: number, to: number): Promise<number> =>
  trx("run_event").where({ run_id: from }).update({ run_id: to });

export const changeEvent = (trx: Knex, id: number, atMs: number, detail: EventDetail): Promise<number> =>
  trx("run_event")
    .where({ id })
    .update({ at: atMs, detail: JSON.stringify(eventDetailSchema.parse(detail)) });

export const markEventDeleted = (trx: Knex, id: number, deleted: boolean): Promise<number> =>
  trx("run_event")
    .where({ id })
    .update({ deleted_at: deleted ? Date.now() : null });
