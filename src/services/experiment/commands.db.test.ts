import { findExperiment } from "../../data/experiment/experiments";
import fc from "fast-check";
import type { Knex } from "knex";
import { freshDatabase } from "../../../scripts/testing/database";
import { importTwoBoxes } from "../../../scripts/testing/twoBoxes";
import { invalid, type Command, type Outcome } from "../web/command";
import * as experiment from "./commands";
import * as material from "../material/commands";
import * as plan from "../plan/commands";
import * as prove from "../prove/commands";
import * as site from "../site/commands";
import * as tools from "../tools/commands";
import * as variant from "../variant/commands";

type Any = Command<unknown[], unknown[], object>;
const COMMANDS = Object.entries({ experiment, material, plan, prove, site, tools, variant }).flatMap(
  ([where, module]) =>
    Object.entries(module)
      .filter(([, c]) => typeof c === "object" && c !== null && "input" in c && "run" in c)
      .map(([name, c]) => [`${where}.${name}`, c as unknown as Any] as const),
);

describe("every command", () => {
  test("is found here", () => expect(COMMANDS.length).toBeGreaterThan(20));

  test.each(COMMANDS)("%s answers whatever is sent to it, and never with a throw", (_, command) => {
    fc.assert(
      fc.property(fc.oneof(fc.anything(), fc.array(fc.anything())), (sent) => {
        const parsed = command.input.safeParse(sent);
        if (parsed.success) return;
        const { ok, error } = invalid(parsed.error);
        expect(ok).toBe(false);
        expect(error.length).toBeGreaterThan(3);
      }),
      { numRuns: 60, seed: 10 },
    );
  });

  test.each(COMMANDS)("%s wants its arguments", (_, command) => {
    expect(command.input.safeParse(undefined).success).toBe(false);
    expect(command.input.safeParse([undefined, undefined]).success).toBe(false);
  });
});

describe("in a database without experiments", () => {
  let knex: Knex;
  beforeAll(async () => {
    knex = await freshDatabase("commands");
  }, 60000);
  afterAll(() => knex.destroy());

  const nobody = 4711;
  const gone: [string, () => Promise<Outcome>][] = [
    ["changeQuestion", () => experiment.changeQuestion.run(knex, nobody, { name: "x", question: "" })],
    ["changeSettings", () => experiment.changeSettings.run(knex, nobody, { smallestDifference: 10 })],
    ["chooseRules", () => experiment.chooseRules.run(knex, nobody, "standard")],
    [
      "swapLanes",
      () =>
        experiment.swapLanes.run(knex, nobody, {
          runId: 1,
          atMs: 1,
          lanes: ["A", "B"],
          reason: "swapped at noon",
        }),
    ],
  ];
  test.each(gone)("%s says that it is no longer there", async (_, run) => {
    expect(await run()).toMatchObject({ ok: false, error: expect.stringContaining("no longer there") });
  });

  test("a new experiment is there, with its own site, and takes a new name and a setting", async () => {
    const made = await experiment.startExperiment.run(knex, {
      name: "Second glass",
      question: "Does it earn its place?",
      fluid: "glycol",
      site: { name: "Shed", latitude: 46, longitude: 9, altitudeM: 500, zone: "Europe/Zurich" },
    });
    if (!made.ok) throw new Error(made.error);
    const { id } = made as { id: number } & typeof made;
    expect(await experiment.changeQuestion.run(knex, id, { name: "Third glass", question: "" })).toEqual({ ok: true });
    expect(await experiment.changeSettings.run(knex, id, { smallestDifference: 12 })).toEqual({ ok: true });
    expect(await experiment.changeSettings.run(knex, id, { smallestDifference: -1 })).toMatchObject({ ok: false });
    expect(await experiment.changeSettings.run(knex, id, { unheardOf: 1 })).toMatchObject({
      ok: false,
      error: expect.stringContaining("unheardOf"),
    });
    expect(await knex("experiment").where({ id }).first("name")).toEqual({ name: "Third glass" });
    // Four fields typed quickly: each was changed from the same page, and each stays.
    const before = { operatingPoint: (await findExperiment(knex, id))!.settings.operatingPoint };
    const typed = { inletC: 31, ambientC: -4, irradianceWm2: 640, flowPerArea: 0.031 };
    await Promise.all(
      Object.entries(typed).map(([field, value]) =>
        experiment.changeSettings.run(
          knex,
          id,
          { operatingPoint: { ...before.operatingPoint, [field]: value } },
          before,
        ),
      ),
    );
    expect((await findExperiment(knex, id))!.settings.operatingPoint).toEqual(typed);
    expect(experiment.changeSettings.touches(id, {})).toEqual({ experiment: id });
  });
});

describe("an experiment once more", () => {
  let knex: Knex;
  beforeAll(async () => {
    knex = await freshDatabase("duplicated");
  });
  afterAll(() => knex.destroy());

  test("has question, settings and drawings under a name of its own, and nothing measured; several go and come back in one press", async () => {
    const first = await importTwoBoxes(knex);
    const from = (await findExperiment(knex, first))!;
    const made = await experiment.duplicateExperiment.run(knex, first);
    if (!made.ok) throw new Error(made.error);
    const copy = (await findExperiment(knex, made.id))!;
    expect(copy.name).toBe(`${from.name} (2)`);
    expect(copy.question).toBe(from.question);
    expect({ ...copy.settings, dismissed: null }).toEqual({ ...from.settings, dismissed: null });
    expect([copy.runs, copy.lanes]).toEqual([[], []]);
    expect(copy.drawn.map((d) => [d.letter, d.variant, d.design])).toEqual(
      from.lanes.map((l) => [l.letter, l.variant, l.design]),
    );
    const again = await experiment.duplicateExperiment.run(knex, made.id);
    expect(again).toMatchObject({ ok: true, name: `${from.name} (3)` });
    const ids = [first, made.id];
    await experiment.deleteExperiments.run(knex, ids, true);
    expect(await Promise.all(ids.map((id) => findExperiment(knex, id)))).toEqual([null, null]);
    await experiment.deleteExperiments.run(knex, ids, false);
    expect((await findExperiment(knex, first))!.name).toBe(from.name);
    expect(await experiment.duplicateExperiment.run(knex, 4711)).toMatchObject({ ok: false });
  }, 60_000);
});
