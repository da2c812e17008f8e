import type { Knex } from "knex";

type Value = number | string | Buffer | null;

/** Most parameters in one statement, and bytes: a server takes 65,535 and 16 MB. */
const MOST_PARAMETERS = 20_000;
const MOST_BYTES = 6 << 20;

interface Connection {
  execute(sql: string, values: readonly Value[], done: (error: Error | null) => void): void;
}

/**
 * Inserts rows of one shape with their bytes as they are. What the query builder sends is text, in which every byte is two letters: for
 * readings and files that is most of the time.
 */
export async function insertBinary(knex: Knex, table: string, rows: readonly Record<string, Value>[]): Promise<void> {
  if (!rows.length) return;
  const names = Object.keys(rows[0]);
  const connection = (await knex.client.acquireConnection()) as Connection;
  try {
    for (const part of inParts(rows, names)) {
      const marks = `(${names.map(() => "?").join(", ")})`;
      const sql = `INSERT INTO \`${table}\` (${names.map((n) => `\`${n}\``).join(", ")}) VALUES ${part.map(() => marks).join(", ")}`;
      await new Promise<void>((done, failed) =>
        connection.execute(
          sql,
          part.flatMap((row) => names.map((n) => row[n])),
          (error) => (error ? failed(error) : done()),
        ),
      );
    }
  } finally {
    await knex.client.releaseConnection(connection);
  }
}

function* inParts(rows: readonly Record<string, Value>[], names: readonly string[]) {
  const size = (row: Record<string, Value>) =>
    names.reduce((sum, n) => sum + (row[n] instanceof Uint8Array ? row[n].byteLength : 64), 0);
  let part: Record<string, Value>[] = [];
  let bytes = 0;
  for (const row of rows) {
    const more = size(row);
    if (part.length && ((part.length + 1) * names.length > MOST_PARAMETERS || bytes + more > MOST_BYTES)) {
      yield part;
      part = [];
      bytes = 0;
    }
    part.push(row);
    bytes += more;
  }
  yield part;
}
