import type { Knex } from "knex";
import { EMPTY_BILL, type BillEdits } from "../../core/collector/bill";
import { billSchema } from "../../core/experiment/schema/design";
import { readable } from "../json";

/** What was changed in the bills of an experiment's variants. @returns by variant */
export async function findBills(knex: Knex, experimentId: number): Promise<Map<number, BillEdits>> {
  const rows: { id: number; bill: unknown }[] = await knex("experiment_variant as ev")
    .join("variant as v", "v.id", "ev.variant_id")
    .where("ev.experiment_id", experimentId)
    .whereNull("ev.removed_at")
    .select({ id: "v.id", bill: "v.bill" });
  return new Map(rows.map(({ id, bill }) => [id, (bill ? readable(billSchema, bill) : null) ?? EMPTY_BILL]));
}
