import type { Knex } from "knex";
import { noteChange } from "../journal";
import type { StoredInstrument } from "../../core/experiment/records";
import { json, readable } from "../json";
import { instrumentSchema, type Instrument } from "../../core/experiment/schema/calibration";
import { transact } from "../transact";

export async function listInstruments(knex: Knex): Promise<StoredInstrument[]> {
  const rows = await knex("instrument")
    .whereNull("deleted_at")
    .orderBy("label")
    .select("id", "detail", "created_at", "changed_at");
  return rows.flatMap((r: { id: number; detail: unknown; created_at: number; changed_at: number }) => {
    const detail = readable(instrumentSchema, r.detail);
    return detail ? [{ ...detail, id: r.id, createdAt: Number(r.created_at), changedAt: Number(r.changed_at) }] : [];
  });
}

/** Keeps an instrument, new or changed; what it was before stays in the journal. @returns its id, or null when the label is taken */
export async function saveInstrument(knex: Knex, id: number | null, instrument: Instrument): Promise<number | null> {
  const detail = instrumentSchema.parse(instrument);
  return transact(knex, async (trx) => {
    const taken = await trx("instrument")
      .where({ label: detail.label })
      .whereNull("deleted_at")
      .modify((q) => {
        if (id !== null) void q.whereNot({ id });
      })
      .first("id");
    if (taken) return null;
    const now = Date.now();
    const before = id === null ? null : await trx("instrument").where({ id }).first("detail");
    if (id !== null && !before) return null;
    const kept =
      id ??
      (
        await trx("instrument").insert({
          label: detail.label,
          detail: JSON.stringify(detail),
          created_at: now,
          changed_at: now,
        })
      )[0];
    if (id !== null)
      await trx("instrument")
        .where({ id })
        .update({ label: detail.label, detail: JSON.stringify(detail), changed_at: now });
    await noteChange(trx, null, id === null ? "instrument added" : "instrument changed", {
      id: kept,
      before: before ? json(before.detail) : null,
      after: detail,
    });
    return kept;
  });
}

/** Only marks. @returns false when it is not there */
export async function markInstrumentDeleted(knex: Knex, id: number, deleted: boolean): Promise<boolean> {
  const marked = await knex("instrument")
    .where({ id })
    .update({ deleted_at: deleted ? Date.now() : null });
  return marked > 0;
}

/** What was changed about an instrument, newest first. */
export async function instrumentHistory(knex: Knex, id: number): Promise<{ at: number; action: string }[]> {
  const rows = await knex("journal")
    .where("action", "like", "instrument %")
    .orderBy("id", "desc")
    .limit(400)
    .select("at", "action", "detail");
  return rows
    .filter((r: { detail: unknown }) => json<{ id: number }>(r.detail).id === id)
    .map((r: { at: number; action: string }) => ({ at: Number(r.at), action: r.action }));
}
