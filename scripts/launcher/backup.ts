import { existsSync } from "node:fs";
import { createHash } from "node:crypto";
import type { Knex } from "knex";
import { createDatabase } from "../../src/data/database";
import { listExperiments } from "../../src/data/experiment/experiments";
import { experimentView } from "../../src/services/page/views";
import { checkCopy, dumpDatabase, loadDatabase, type Verdicts } from "./dump";
import { LaunchError } from "./progress";
import { tablesOf, upgrade } from "./upgrade";

const TRIES = 3;

/** What every experiment says, so that a copy can be held against it. */
async function verdictsOf(knex: Knex): Promise<Verdicts> {
  const verdicts: Verdicts = {};
  for (const { id, name } of await listExperiments(knex)) {
    // What cannot be computed must not keep anybody from taking a copy of it.
    const view = await experimentView(knex, id).catch((error: Error) => error);
    if (!view) continue;
    const said =
      view instanceof Error
        ? view.message
        : { verdict: view.verdict, ranking: view.ranking, points: view.points, curves: view.curves };
    verdicts[id] = { name, hash: createHash("sha256").update(JSON.stringify(said)).digest("hex") };
  }
  return verdicts;
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** A whole copy of the data in one file, taken while Bravel runs; with what every verdict is, to be checked by. @returns experiments in it */
export async function backup(url: string, file: string, note: (text: string) => void): Promise<number> {
  if (existsSync(file)) throw new LaunchError(`${file} is there already. Name another file, or move that one away.`);
  const knex = createDatabase(url);
  try {
    note("asking every verdict");
    let before = await verdictsOf(knex);
    for (let tries = 1; ; tries++) {
      note("writing");
      await dumpDatabase(url, file, before);
      const after = await verdictsOf(knex);
      if (same(before, after)) break;
      if (tries === TRIES)
        throw new LaunchError(
          `somebody changes experiments all the time; ${file} was written, and could not be checked.`,
        );
      before = after;
    }
    const count = Object.keys(before).length;
    note(`${count} experiment${count === 1 ? "" : "s"}`);
    return count;
  } finally {
    await knex.destroy();
  }
}

/** Reads a copy into an empty database, brings it up to date, and holds every verdict against the one it had. */
export async function restore(url: string, home: string, file: string, note: (text: string) => void): Promise<number> {
  if (!existsSync(file)) throw new LaunchError(`there is no file ${file}.`);
  const { verdicts } = await checkCopy(file);
  const knex = createDatabase(url);
  try {
    const held = (await tablesOf(knex)).length;
    if (held)
      throw new LaunchError(
        `the database holds ${held} tables. A copy goes into an empty one: name it, ./bravel restore FILE NAME. Nothing was changed.`,
      );
    note("reading");
    await loadDatabase(url, file);
    await upgrade(url, home, note);
    note("asking every verdict");
    const now = await verdictsOf(knex);
    const other = Object.entries(verdicts).filter(([id, v]) => now[id]?.hash !== v.hash);
    if (other.length)
      throw new LaunchError(
        `the copy is read, but ${other.map(([, v]) => `“${v.name}”`).join(", ")} ${other.length === 1 ? "does" : "do"} not say what ${other.length === 1 ? "it" : "they"} did. A newer Bravel may compute something better (see docs/decisions); if not, the file is damaged.`,
      );
    const count = Object.keys(now).length;
    note(`${count} experiment${count === 1 ? "" : "s"}, every verdict as it was`);
    return count;
  } finally {
    await knex.destroy();
  }
}
