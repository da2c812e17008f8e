import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { listSites } from "../../../src/data/site/sites";
import {
  benchPage,
  importPage,
  materialsPage,
  places,
  sitePage,
  shownStep,
  stepPage,
} from "../../../src/services/page/pages";
import { runTraces } from "../../../src/services/read/traces";
import { openWorking } from "../../../src/services/working/working";
import { demoDatabase } from "../demo";
import { encode } from "./codec";
import { NOW, STEPS, type Captured } from "./pages";

/**
 * Makes the demo world in a database of its own and writes what every page gets, as the server would hand it over, so that
 * tests of screens show real experiments. @param argv[2] folder to write to
 */
async function capture(folder: string): Promise<void> {
  const knex = await demoDatabase("screens");
  mkdirSync(folder, { recursive: true });
  const write = (name: string, value: unknown) => writeFileSync(join(folder, `${name}.json`), encode(value));
  try {
    const bench = await benchPage(knex, NOW);
    const captured: Captured = {
      experiments: bench.experiments.map(({ head }) => ({ id: head.id, name: head.name })),
      sites: (await listSites(knex)).map((s) => s.id),
    };
    write("captured", captured);
    write("bench", bench);
    write("import", await importPage(knex, null));
    write("materials", await materialsPage(knex));
    write("places", await places(knex));
    for (const id of captured.sites) write(`site-${id}`, await sitePage(knex, id));
    for (const { id } of captured.experiments) {
      for (const step of STEPS) write(`${id}-${step}`, await stepPage(knex, id, step, NOW));
      const [run] = shownStep(await stepPage(knex, id, "read", NOW)).view.runs;
      if (run) write(`${id}-traces`, await runTraces(knex, id, run.id, { buckets: 120 }));
      write(`${id}-working`, await openWorking(knex, id, { figure: "verdict" }));
    }
  } finally {
    await knex.destroy();
  }
}

capture(process.argv[2]).catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
