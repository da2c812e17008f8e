import type { Knex } from "knex";
import sharp from "sharp";
import { freshDatabase } from "../../../scripts/testing/database";
import { importTwoBoxes, LANES, twoBoxes } from "../../../scripts/testing/twoBoxes";
import { type Inspection } from "@/services/import/imports";
import { importRequestSchema, type ImportRequest } from "@/services/import/importRequest";
import { unpackTraces } from "@/features/read/traceData";
import { GET as calendar } from "./experiments/[id]/plan.ics/route";
import { GET as working } from "./experiments/[id]/working/route";
import { GET as traces } from "./experiments/[id]/runs/[run]/traces/route";
import { POST as upload } from "./files/route";
import { GET as lookAgain } from "./files/[id]/route";
import { GET as health } from "./health/route";
import { POST as imports } from "./imports/route";
import { POST as sendPhoto } from "./photos/route";
import { GET as photo } from "./photos/[id]/route";
import { GET as places } from "./places/route";

let knex: Knex;
let experimentId: number;
beforeAll(async () => {
  knex = await freshDatabase("routes");
  experimentId = await importTwoBoxes(knex);
  // The routes use the process's own pool.
  (globalThis as { bravelDatabase?: Knex }).bravelDatabase = knex;
}, 90000);
afterAll(() => knex.destroy());

const AT = "http://127.0.0.1:4310";
const own = { host: "127.0.0.1:4310" };
const request = (path: string, init: RequestInit & { duplex?: "half" } = {}) =>
  new Request(`${AT}${path}`, { ...init, headers: { ...own, ...(init.headers as Record<string, string>) } });
const params = <T extends object>(p: T) => ({ params: Promise.resolve(p) });
const post = (path: string, body: BodyInit | null, headers: Record<string, string> = {}) =>
  request(path, { method: "POST", body, headers, duplex: "half" });
const errorOf = async (r: Response) => ((await r.json()) as { error: string }).error;
const count = async (table: string) => Number((await knex(table).count({ n: "*" }))[0].n);

describe("files", () => {
  test("one is kept, looked at, and looked at again with another delimiter", async () => {
    const answer = await upload(post("/api/files", LANES, { "x-file-name": encodeURIComponent("wool, day 1.csv") }));
    expect(answer.status).toBe(200);
    const inspection = (await answer.json()) as Inspection;
    expect(inspection.file.name).toBe("wool, day 1.csv");
    expect(inspection.layout).toMatchObject({ delimiter: ";" });
    const { id } = inspection.file;
    const bar = await lookAgain(request(`/api/files/${id}?delimiter=bar`), params({ id: String(id) }));
    expect(((await bar.json()) as Inspection).layout?.delimiter ?? null).not.toBe(";");
    const gone = await lookAgain(request("/api/files/4711"), params({ id: "4711" }));
    expect(gone.status).toBe(404);
    expect(await errorOf(gone)).toMatch(/Drop it again/);
  });

  test.each([
    ["../../etc/passwd", "passwd"],
    ["C:\\logs\\day.csv", "day.csv"],
    ["a\u0000b\u001f.csv", "ab.csv"],
    ["", "log.csv"],
    ["x".repeat(500), "x".repeat(200)],
  ])("a name is only a name: %j", async (sent, kept) => {
    const answer = await upload(post("/api/files", "time;a\n1;2\n", { "x-file-name": encodeURIComponent(sent) }));
    expect(((await answer.json()) as Inspection).file.name).toBe(kept);
  });

  test("an empty body says so; one cut short is not taken for whole", async () => {
    const empty = await upload(post("/api/files", null));
    expect(empty.status).toBe(400);
    expect(await errorOf(empty)).toMatch(/not a single byte/);
    const cut = await upload(post("/api/files", "time;a\n1;2\n", { "content-length": "5000" }));
    expect(cut.status).toBe(400);
    expect(await errorOf(cut)).toMatch(/arrived incomplete: 11 of 5000 bytes/);
  });

  test("another site’s page may not send one", async () => {
    const before = await count("raw_file");
    const answer = await upload(post("/api/files", "x", { origin: "http://elsewhere.example" }));
    expect(answer.status).toBe(403);
    expect(await count("raw_file")).toBe(before);
  });
});

describe("imports", () => {
  const send = (body: unknown) =>
    imports(post("/api/imports", JSON.stringify(body), { "content-type": "application/json" }));
  const lines = async (r: Response) =>
    (await r.text())
      .trim()
      .split("\n")
      .map((l) => JSON.parse(l) as { phase: string; experimentId?: number; failure?: { kind: string } });

  test("a whole request is imported, one line a step, the last one says where", async () => {
    const before = await count("experiment");
    const answer = await send(await twoBoxes(knex));
    expect(answer.headers.get("content-type")).toBe("application/x-ndjson");
    const steps = await lines(answer);
    expect(steps.at(-1)).toMatchObject({ phase: "done", experimentId: expect.any(Number) });
    expect(new Set(steps.map((s) => s.phase))).toEqual(new Set(["reading", "writing", "done"]));
    expect(await count("experiment")).toBe(before + 1);
  }, 60000);

  test.each([
    ["nothing", null],
    ["a word", "import please"],
    ["an empty object", {}],
    ["a list", [1, 2]],
  ])("%s is refused with the places that are wrong, and leaves nothing", async (_, body) => {
    const before = await count("run");
    const answer = await send(body);
    expect(answer.status).toBe(400);
    const { error, issues } = (await answer.json()) as { error: string; issues: { path: string; message: string }[] };
    expect(error.length).toBeGreaterThan(5);
    expect(issues.length).toBeGreaterThan(0);
    expect(await count("run")).toBe(before);
  });

  test("every field of the request is wanted: leaving one out is refused, never filled in", async () => {
    const whole = await twoBoxes(knex);
    const paths = (value: unknown, at: string[] = []): string[][] =>
      typeof value === "object" && value !== null && !Array.isArray(value)
        ? Object.entries(value).flatMap(([k, v]) => [[...at, k], ...paths(v, [...at, k])])
        : [];
    const filledIn: string[] = [];
    for (const path of paths({ target: whole.target, run: { setup: whole.run.setup } })) {
      const copy = structuredClone(whole) as unknown as Record<string, unknown>;
      const parent = path.slice(0, -1).reduce((o, k) => o[k] as Record<string, unknown>, copy);
      delete parent[path.at(-1)!];
      if (importRequestSchema.safeParse(copy).success) filledIn.push(path.join("."));
    }
    expect(filledIn).toEqual([]);
  });

  test("a file that is gone, an experiment that is gone: said by their kind", async () => {
    const whole = await twoBoxes(knex);
    const noFile: ImportRequest = { ...whole, files: [{ ...whole.files[0], fileId: 4711 }] };
    expect((await lines(await send(noFile))).at(-1)).toMatchObject({ phase: "failed", failure: { kind: "fileGone" } });
    const noTarget = { ...whole, target: { kind: "existing", experimentId: 4711 }, newLanes: [] };
    expect((await lines(await send(noTarget))).at(-1)).toMatchObject({
      phase: "failed",
      failure: { kind: "experimentGone" },
    });
  });
});

test("a figure’s working is read by asking; what names no figure is refused", async () => {
  const of = (query: string) =>
    working(request(`/api/experiments/${experimentId}/working${query}`), params({ id: String(experimentId) }));
  const answer = await of(`?figure=${encodeURIComponent('{"figure":"coefficient","lane":"A","name":"eta0"}')}`);
  expect(((await answer.json()) as { title: string }).title).toContain("Zero-loss");
  const gone = await of(`?figure=${encodeURIComponent('{"figure":"laneHeat","lane":"Z"}')}`);
  expect(await gone.json()).toBeNull();
  for (const query of ["", "?figure=heat", `?figure=${encodeURIComponent('{"figure":"heat"}')}`])
    expect((await of(query)).status).toBe(400);
});

describe("traces", () => {
  const of = async (query = "", run?: string) => {
    const [first] = await knex("run").where({ experiment_id: experimentId }).pluck("id");
    return traces(
      request(`/api/experiments/${experimentId}/runs/x/traces${query}`),
      params({ id: String(experimentId), run: run ?? String(first) }),
    );
  };

  test("come packed as the page unpacks them, in as many buckets as asked", async () => {
    const set = unpackTraces(await (await of("?buckets=300")).arrayBuffer());
    expect(set.buckets).toBe(300);
    expect(set.traces.length).toBe(10);
    for (const t of set.traces) expect(t.mean).toHaveLength(300);
    const inlet = set.traces.find((t) => t.kind === "inlet")!;
    expect(Math.max(...[...inlet.mean].filter((v) => !Number.isNaN(v)))).toBeLessThan(90);
  });

  test.each([
    ["?buckets=abc", 1200],
    ["?buckets=-5", 10],
    ["?buckets=1e9", 4000],
    ["?from=NaN&to=x", 1200],
  ])("%s cannot make it large or break it", async (query, most) => {
    const set = unpackTraces(await (await of(query)).arrayBuffer());
    expect(set.buckets).toBeGreaterThanOrEqual(10);
    expect(set.buckets).toBeLessThanOrEqual(most);
  });

  test("zooming in shows more: the span asked for and no more", async () => {
    const all = unpackTraces(await (await of("?buckets=100")).arrayBuffer());
    const from = all.fromMs + 3600000;
    const part = unpackTraces(await (await of(`?buckets=100&from=${from}&to=${from + 600000}`)).arrayBuffer());
    expect(part.fromMs).toBe(from);
    expect(part.toMs).toBe(from + 600000);
    expect(part.perBucket).toBeLessThan(all.perBucket);
  });

  test.each([
    ["4711", 404, /no such run/],
    ["abc", 400, /not named by a number/],
    ["-1", 400, /not named by a number/],
    ["0", 400, /not named by a number/],
  ])("run %s is answered %i, and in words", async (run, status, words) => {
    const answer = await of("", run);
    expect(answer.status).toBe(status);
    expect(await errorOf(answer)).toMatch(words);
  });
});

describe("photos", () => {
  let png: Buffer;
  beforeAll(async () => {
    png = await sharp({ create: { width: 6, height: 4, channels: 3, background: "#805030" } })
      .png()
      .toBuffer();
  });
  const query = async (more: object = {}) => {
    const variant = await knex("experiment_variant").where({ experiment_id: experimentId }).first({ id: "variant_id" });
    return `/api/photos?${new URLSearchParams({ experiment: String(experimentId), variant: String(variant.id), item: "smokeTest", ...more })}`;
  };

  test("one is kept and served as what its bytes say, with nothing that could run", async () => {
    const sent = await sendPhoto(post(await query(), new Uint8Array(png), { "content-type": "text/html" }));
    const { id } = (await sent.json()) as { id: number };
    const served = await photo(request(`/api/photos/${id}`), params({ id: String(id) }));
    expect(served.headers.get("content-type")).toBe("image/png");
    expect(served.headers.get("x-content-type-options")).toBe("nosniff");
    expect(served.headers.get("content-security-policy")).toContain("sandbox");
    expect(await sharp(Buffer.from(await served.arrayBuffer())).metadata()).toMatchObject({
      format: "png",
      width: 6,
      height: 4,
    });
  });

  test.each([
    ["a page", "<html><script>1</script>", 415],
    ["a drawing with script in it", "<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>", 415],
    ["nothing", "", 415],
  ])("%s is no photo", async (_, body, status) => {
    const before = await count("photo");
    expect((await sendPhoto(post(await query(), body))).status).toBe(status);
    expect(await count("photo")).toBe(before);
  });

  test("one too large is refused without being read to its end", async () => {
    const large = new Uint8Array(4 * 1024 * 1024 + 10);
    large.set(png);
    expect((await sendPhoto(post(await query(), large))).status).toBe(413);
  });

  test("a variant of another experiment takes none; a photo that is not there says so", async () => {
    const other = await sendPhoto(post(await query({ experiment: "4711" }), new Uint8Array(png)));
    expect(other.status).toBe(404);
    for (const [id, status] of Object.entries({ 4711: 404, x: 400, "1e3": 400, "-1": 400 }))
      expect((await photo(request(`/api/photos/${id}`), params({ id }))).status).toBe(status);
  });
});

describe("the rest", () => {
  test("health says well, and unwell when the database is away", async () => {
    expect((await health()).status).toBe(200);
    const holder = globalThis as { bravelDatabase?: unknown };
    const there = holder.bravelDatabase;
    holder.bravelDatabase = { raw: () => Promise.reject(new Error("away")) };
    try {
      const answer = await health();
      expect(answer.status).toBe(503);
      expect(await answer.json()).toMatchObject({ ok: false });
    } finally {
      holder.bravelDatabase = there;
    }
  });

  test("places name every experiment with its lanes", async () => {
    const found = (await (await places()).json()) as { experiments: { id: number; lanes: { letter: string }[] }[] };
    expect(found.experiments.find((e) => e.id === experimentId)!.lanes.map((l) => l.letter)).toEqual(["A", "B"]);
  });

  test("the plan is a calendar file; of an experiment that is not there, nothing", async () => {
    const answer = await calendar(request("/x"), params({ id: String(experimentId) }));
    expect(answer.headers.get("content-type")).toMatch(/^text\/calendar/);
    const text = await answer.text();
    expect(text).toMatch(/^BEGIN:VCALENDAR/);
    expect(text.match(/BEGIN:VEVENT/g)!.length).toBeGreaterThan(3);
    // A name that was stored before names were one line plants no events.
    const { name } = await knex("experiment").where({ id: experimentId }).first("name");
    await knex("experiment")
      .where({ id: experimentId })
      .update({ name: "x\r\nEND:VCALENDAR\r\nBEGIN:VEVENT\r\nSUMMARY:planted" });
    const planted = await (await calendar(request("/x"), params({ id: String(experimentId) }))).text();
    await knex("experiment").where({ id: experimentId }).update({ name });
    expect(planted.match(/^BEGIN:VEVENT/gm)!.length).toBe(text.match(/^BEGIN:VEVENT/gm)!.length);
    expect(planted.match(/^END:VCALENDAR/gm)!.length).toBe(1);
    for (const [id, status] of Object.entries({ 4711: 404, abc: 400, "1;DROP TABLE run": 400 }))
      expect((await calendar(request("/x"), params({ id }))).status).toBe(status);
  });
});
