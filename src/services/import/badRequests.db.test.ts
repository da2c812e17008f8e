import { testDatabase } from "../../../scripts/testing/database";
import { twoBoxes } from "../../../scripts/testing/twoBoxes";
import { endOfImport } from "../heavy/tasks";
import { issuesWords } from "../../words/refusal";
import { importRequestSchema, type ImportRequest } from "./importRequest";

const knex = testDatabase("bad_requests");

type Change = (request: ImportRequest) => void;
const lane = (r: ImportRequest, i = 0) => r.run.lanes[i].setup;

const BAD: [string, Change][] = [
  ["a width of nothing", (r) => (r.newLanes[0].design.grossWidthM = 0)],
  ["a width below nothing", (r) => (r.newLanes[0].design.grossWidthM = -1)],
  ["a width beyond every number", (r) => (r.newLanes[0].design.grossWidthM = 1e308)],
  ["a column that no file has", (r) => (r.files[0].settings.columns[1].index = 1e9)],
  ["a column that this file lacks", (r) => (r.files[0].settings.columns[1].index = 1999)],
  ["a time in a column that no file has", (r) => (r.files[0].settings.timeColumns = [1e9])],
  ["a unit of another kind", (r) => (r.files[0].settings.columns.find((c) => c.kind === "outlet")!.unit = "m/s")],
  ["a unit that nobody has", (r) => (r.files[0].settings.columns.find((c) => c.kind === "outlet")!.unit = "parsec")],
  ["one lane twice", (r) => (r.run.lanes[1].letter = "A")],
  ["a material that nobody describes", (r) => (r.newLanes[0].design.frame.material = "moonrock")],
  ["one new lane twice", (r) => (r.newLanes[1].letter = "A")],
  ["a lane that no new lane is", (r) => (r.run.lanes[1].letter = "C")],
  ["a factor beyond every number", (r) => (r.files[0].settings.columns[2].factor = 1e308)],
  ["a probe’s limit beyond every number", (r) => (lane(r).inletProbe.limitK = 1e308)],
  ["an altitude beyond the sky", (r) => void ((r.target as { site: { altitudeM: number } }).site.altitudeM = 1e308)],
  ["a plane that leans over", (r) => (r.run.setup.plane.tilt = 1e308)],
  ["a pressure of nothing", (r) => (r.run.setup.pressurePa = 0)],
  ["a file that is gone", (r) => (r.files[0].fileId = 4711)],
  ["one file twice", (r) => (r.files[1] = r.files[0])],
  ["a site that is gone", (r) => void ((r.target as { site: unknown }).site = { kind: "known", id: 4711 })],
  [
    "an experiment that is gone",
    (r) => void ((r as { target: unknown }).target = { kind: "existing", experimentId: 4711 }),
  ],
  ["a date that is none", (r) => (r.files[0].settings.timeFormat = { kind: "elapsed", unit: "s", startMs: 1e308 })],
  ["rows from beyond the end", (r) => (r.files[0].settings.firstDataRow = 1e9)],
];

test.each(BAD)(
  "%s is refused in a sentence that says what, and leaves nothing",
  async (_, change) => {
    const request = structuredClone(await twoBoxes(knex));
    change(request);
    const parsed = importRequestSchema.safeParse(request);
    const count = async () => Number((await knex("experiment").count({ n: "*" }))[0].n);
    const before = await count();
    const said = parsed.success
      ? await endOfImport(knex, parsed.data, () => undefined, new AbortController().signal)
      : issuesWords(parsed.error.issues);
    if (typeof said === "string") expect(said).toMatch(/^[^{}]{15,}\.$/);
    expect(JSON.stringify(said)).not.toMatch(/inside Bravel|"done"|"asks"|expected|cannot be that/);
    expect(await count()).toBe(before);
  },
  60_000,
);
