import type { Knex } from "knex";

/** Deadlock, waited too long for a lock, row changed since it was read: the server has undone everything, and asks to try again. */
const AGAIN = new Set([1213, 1205, 1020]);
const TRIES = 6;

/**
 * A transaction that the server may have to refuse because another was in its way: done again, a little later each time.
 * Inside a transaction it is part of that one, which only its owner can begin anew.
 */
export async function transact<T>(knex: Knex, work: (trx: Knex.Transaction) => Promise<T>): Promise<T> {
  for (let tried = 1; ; tried++) {
    try {
      return await knex.transaction(work);
    } catch (error) {
      const again = AGAIN.has((error as { errno?: number }).errno ?? 0);
      if (!again || tried === TRIES || knex.isTransaction) throw error;
      await new Promise((r) => setTimeout(r, 2 ** tried * (10 + 20 * Math.random())));
    }
  }
}
