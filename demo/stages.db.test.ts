import type { Knex } from "knex";
import { demoDatabase } from "../scripts/testing/demo";
import type { Experiment } from "../src/core/experiment/types";
import { findExperiments } from "../src/data/experiment/experiments";
import { analyse, stageCounts } from "../src/services/analysis/analyse";
import * as commands from "../src/services/experiment/commands";
import { stepPage } from "../src/services/page/pages";

jest.setTimeout(60000);

let knex: Knex;
let experiment: Experiment;
beforeAll(async () => {
  knex = await demoDatabase("stages");
  const all = await findExperiments(knex, null);
  experiment = all.reduce((most, e) => (e.runs.length > most.runs.length ? e : most));
}, 120000);
afterAll(() => knex.destroy());

/** What was really computed while something was done and the experiment read again. */
async function computed(change: () => Promise<unknown>): Promise<Partial<typeof stageCounts>> {
  const before = { ...stageCounts };
  await change();
  await analyse(knex, experiment.id);
  return Object.fromEntries(
    (Object.keys(before) as (keyof typeof before)[])
      .map((k) => [k, stageCounts[k] - before[k]] as const)
      .filter(([, n]) => n > 0),
  );
}

describe("a change computes only what follows from it", () => {
  test("the experiment has several runs, and the first look reads each once", async () => {
    expect(experiment.runs.length).toBeGreaterThan(1);
    await analyse(knex, experiment.id);
    expect(await computed(async () => undefined)).toEqual({});
  }, 60000);

  test("a minute set aside assembles and reduces its own run, and reads no reading again", async () => {
    const run = experiment.runs[0];
    const [{ startMs }] = run.streams;
    let layer = 0;
    const once = await computed(async () => {
      const done = await commands.setSpanAside.run(knex, experiment.id, {
        runId: run.id,
        lane: null,
        fromMs: startMs + 3_600_000,
        toMs: startMs + 3_660_000,
        reason: "a hand before the sun sensor",
      });
      if (!done.ok) throw new Error(done.error);
      layer = done.id;
    });
    expect(once).toMatchObject({ assembled: 1, reduced: 1 });
    expect(once.readings).toBeUndefined();
    // Taken back, everything is as it was, and nothing is computed.
    expect(await computed(() => commands.removeLayers.run(knex, experiment.id, [layer], true))).toEqual({});
  }, 60000);

  test("a changed limit reduces again, and neither reads nor cleans", async () => {
    const { rules } = experiment.settings;
    const change = (minIrradiance: number) =>
      commands.changeSettings.run(knex, experiment.id, { rules: { ...rules, minIrradiance } });
    const counts = await computed(() => change(rules.minIrradiance + 20));
    expect(counts).toMatchObject({ reduced: experiment.runs.length, judged: 1 });
    expect(counts).not.toHaveProperty("readings");
    expect(counts).not.toHaveProperty("assembled");
    await change(rules.minIrradiance);
  }, 60000);

  test("another smallest difference only judges again", async () => {
    const smallestDifference = experiment.settings.smallestDifference + 1;
    expect(await computed(() => commands.changeSettings.run(knex, experiment.id, { smallestDifference }))).toEqual({
      judged: 1,
    });
  }, 60000);
});

describe("a page asks the database little", () => {
  test.each(["ask", "build", "prove", "plan", "run", "read", "judge"])("%s in ten queries or fewer", async (step) => {
    await stepPage(knex, experiment.id, step, Date.UTC(2026, 10, 25));
    let queries = 0;
    const count = () => queries++;
    knex.on("query", count);
    await stepPage(knex, experiment.id, step, Date.UTC(2026, 10, 25));
    knex.removeListener("query", count);
    expect(queries).toBeLessThanOrEqual(step === "plan" ? 10 : 12);
    expect(queries).toBeGreaterThan(0);
  });
});
