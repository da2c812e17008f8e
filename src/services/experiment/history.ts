import type { Knex } from "knex";
import { experimentName } from "../../data/experiment/experiments";
import { journalOf } from "../../data/journal";
import { historyWords } from "../../words/history";

export interface History {
  name: string;
  entries: { id: number; atMs: number; by: string | null; said: string }[];
  /** Before which more stands; null at the beginning. */
  older: number | null;
}

const PAGE = 100;

/** Who changed what in an experiment, newest first, a page at a time; null when there is no such experiment. */
export async function experimentHistory(knex: Knex, experimentId: number, before?: number): Promise<History | null> {
  const name = await experimentName(knex, experimentId);
  if (name === undefined) return null;
  const rows = await journalOf(knex, experimentId, PAGE + 1, before);
  const shown = rows.slice(0, PAGE);
  return {
    name,
    entries: shown.map(({ id, atMs, by, action, detail }) => ({
      id,
      atMs,
      by,
      said: historyWords(action, parsed(detail)),
    })),
    older: rows.length > PAGE ? shown.at(-1)!.id : null,
  };
}

/** A detail that nobody can read any more still has its action. */
function parsed(detail: unknown): unknown {
  if (typeof detail !== "string") return detail;
  try {
    return JSON.parse(detail);
  } catch {
    return null;
  }
}
