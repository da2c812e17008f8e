import type { Knex } from "knex";
import { freshDatabase } from "../../../scripts/testing/database";
import { as } from "../../data/actor";
import { recordChange } from "../../data/journal";
import { listSessions } from "../../data/people/sessions";
import { insertViewer, revokeViewer } from "../../data/viewer/viewers";
import { experimentHistory } from "../experiment/history";
import { importTwoBoxes } from "../../../scripts/testing/twoBoxes";
import { addPerson, changeOwnPassphrase, endSession, people, removePerson, setPassphrase } from "../network/people";
import { deviceName, signOut, trySignIn, type Try } from "../network/signIn";
import { deleteEvent, markEvent } from "../live/commands";
import { actorFor, askerOf, isRefusal, refusal } from "./requestGuard";
import { DEVICE_COOKIE, passphraseHash, SESSION_COOKIE, sealed, VIEWER_COOKIE } from "./session";

const START = "owl walks over slate";
const IDA = "four words in a row";
const env = { BRAVEL_GUARD: passphraseHash(START), BRAVEL_SESSION_KEY: "a key of the tests" };
const kept = { ...process.env };
let knex: Knex;
let experiment: number;

beforeAll(async () => {
  knex = await freshDatabase("roles");
  experiment = await importTwoBoxes(knex);
  (globalThis as { bravelDatabase?: Knex }).bravelDatabase = knex;
  Object.assign(process.env, env);
  await addPerson.run(knex, { name: "Ida Holm", role: "hand", passphrase: IDA });
}, 90_000);
afterAll(async () => {
  for (const key of Object.keys(env)) delete process.env[key];
  Object.assign(process.env, kept);
  await knex.destroy();
});
beforeEach(() => delete (globalThis as { bravelGuessing?: unknown }).bravelGuessing);

const by = (over: Partial<Try> = {}): Try => ({
  ...{ name: "", passphrase: START, address: "10.0.0.3", browser: "a browser", device: null },
  ...over,
});
const signIn = async (over: Partial<Try> = {}) => {
  const tried = await trySignIn(knex, by(over), Date.now());
  if (tried.kind !== "in") throw new Error(tried.kind);
  return `${SESSION_COOKIE}=${sealed(`session-${tried.token}`, Date.now() + 60_000, env)}`;
};
const ida = () => signIn({ name: "ida holm", passphrase: IDA });
const link = async (over: { takes?: boolean; experimentId?: number } = {}) => {
  const token = await insertViewer(knex, { experimentId: experiment, label: "a friend", takes: false, ...over });
  const { id } = await knex("viewer_link").orderBy("id", "desc").first("id");
  return { id: Number(id), token, cookie: `${VIEWER_COOKIE}=${sealed(`viewer-${id}`, Date.now() + 60_000, env)}` };
};
const ask = async (path: string, cookie = "", method = "GET") =>
  (
    await refusal({
      method,
      url: `http://127.0.0.1:4310${path}`,
      headers: new Headers({ host: "127.0.0.1:4310", cookie }),
    })
  )?.status ?? null;
const may = async (right: "hand" | "owner", cookie: string) => {
  const answer = await actorFor(right, new Headers({ host: "127.0.0.1:4310", cookie }));
  return isRefusal(answer) ? answer.text : "may";
};

test("without a sign-in nothing but the sign-in is served", async () => {
  for (const path of ["/", `/experiments/${experiment}/run`, "/api/files", "/devices", "/network", "/api/photos/3"])
    for (const method of ["GET", "POST"]) expect(await ask(path, "", method)).toBe(401);
  expect(await ask("/login")).toBeNull();
  expect(await may("hand", "")).toMatch(/Sign in first/);
});

test("the owner is served everything, a bench hand the work at the bench, and neither by a token nobody gave out", async () => {
  const [owner, hand] = [await signIn(), await ida()];
  for (const path of ["/", "/network", "/new", "/anything"]) expect(await ask(path, owner)).toBeNull();
  for (const path of ["/", "/import", "/devices", `/experiments/${experiment}/judge`, "/account"])
    expect(await ask(path, hand)).toBeNull();
  for (const path of ["/network", "/new", "/anything"]) expect(await ask(path, hand)).toBe(403);
  expect(await ask("/api/packages", hand, "POST")).toBe(403);
  expect(await may("hand", hand)).toBe("may");
  expect(await may("owner", hand)).toMatch(/Only the owner/);
  expect(await may("owner", owner)).toBe("may");
  const made = `${SESSION_COOKIE}=${sealed("session-nobody-gave-this-out", Date.now() + 60_000, env)}`;
  expect(await ask("/", made)).toBe(401);
});

test("a viewer sees one experiment, changes nothing, and takes the package only where the owner said so", async () => {
  const { id, cookie } = await link();
  const at = `/experiments/${experiment}`;
  for (const path of [`${at}/judge`, `/api${at}/live`, `/api${at}/runs/1/traces`])
    expect(await ask(path, cookie)).toBeNull();
  const elsewhere = [`${at}0/judge`, "/", "/devices", "/account", `${at}/history`, `/api${at}/package`];
  for (const path of elsewhere) expect(await ask(path, cookie)).toBe(403);
  for (const path of [`${at}/run`, `/api${at}/runs/1/events`, "/api/readings/x"])
    expect(await ask(path, cookie, "POST")).toBe(403);
  expect(await may("hand", cookie)).toMatch(/shows one experiment/);
  expect(await ask(`/api${at}/package`, (await link({ takes: true })).cookie)).toBeNull();
  await revokeViewer(knex, id, true);
  expect(await ask(`${at}/judge`, cookie)).toBe(401);
});

test("signed out, here or everywhere, a session opens nothing from then on", async () => {
  const [here, there, other] = [await signIn(), await signIn(), await ida()];
  const who = (await askerOf(new Headers({ cookie: here })))!;
  if (who.role === "viewer") throw new Error("not signed in");
  await signOut(knex, who, false);
  expect([await ask("/", here), await ask("/", there)]).toEqual([401, null]);
  await signOut(knex, { ...who, sessionId: 1 }, true);
  expect([await ask("/", there), await ask("/", other)]).toEqual([401, null]);
});

test("who leaves, or gets another passphrase, is signed out at once; the name stays taken", async () => {
  await addPerson.run(knex, { name: "Bo Lund", role: "owner", passphrase: "stone in the river" });
  const { people: known } = await people(knex, Date.now());
  const bo = known.find((p) => p.name === "Bo Lund")!;
  const sign = (passphrase: string) => signIn({ name: "Bo Lund", passphrase });
  const first = await sign("stone in the river");
  expect(await ask("/network", first)).toBeNull();
  await setPassphrase.run(knex, bo.id, "river over the stone");
  expect(await ask("/", first)).toBe(401);
  await expect(sign("stone in the river")).rejects.toThrow("wrong");
  const second = await sign("river over the stone");
  const own = { name: "Bo Lund", personId: bo.id, role: "owner" as const };
  const change = (old: string) => as(own, () => changeOwnPassphrase.run(knex, old, "a third one, long"));
  expect(await change("not the old one")).toMatchObject({ ok: false });
  expect(await change("river over the stone")).toMatchObject({ ok: true });
  expect(await ask("/", second)).toBe(401);
  const third = await sign("a third one, long");
  const [session] = (await listSessions(knex, Date.now())).filter((s) => s.personId === bo.id);
  expect(session).toMatchObject({ name: "Bo Lund", role: "owner", address: "10.0.0.3" });
  expect(await endSession.run(knex, session.id)).toMatchObject({ ok: true });
  expect(await ask("/", third)).toBe(401);
  await removePerson.run(knex, bo.id, true);
  await expect(sign("a third one, long")).rejects.toThrow("wrong");
  const again = await addPerson.run(knex, { name: "bo lund", role: "hand", passphrase: "twelve and more" });
  expect(again).toMatchObject({ ok: false, error: expect.stringMatching(/take another/) });
});

test("guessing is slowed by address and by name, and keeps out nobody who was signed in before", async () => {
  const wrong = (over: Partial<Try>, times: number) =>
    Promise.all(Array.from({ length: times }, () => trySignIn(knex, by({ passphrase: "guess", ...over }), 0)));
  const kinds = (tries: { kind: string }[]) => [...new Set(tries.map((t) => t.kind))].sort();
  expect(kinds(await wrong({}, 10))).toEqual(["wrong"]);
  expect(await trySignIn(knex, by(), 0)).toMatchObject({ kind: "wait", seconds: 10 });
  // From many addresses at one name: the name is slowed too, and another name goes on.
  expect(
    kinds(await Promise.all(Array.from({ length: 3 }, (_, i) => trySignIn(knex, by({ address: `a${i}` }), 0)))),
  ).toEqual(["wait"]);
  expect((await trySignIn(knex, by({ name: "Ida Holm", passphrase: IDA, address: "b" }), 0)).kind).toBe("in");
  expect((await trySignIn(knex, by({ device: "known" }), 0)).kind).toBe("in");
  expect((await trySignIn(knex, by(), 11_000)).kind).toBe("in");
}, 30_000);

test("what was done stands under the name of who did it, and under the owner where there was none", async () => {
  const hand = { name: "Ida Holm", personId: 1, role: "hand" as const };
  await as(hand, () => recordChange(knex, experiment, "question", { after: { question: "which is best" } }));
  await recordChange(knex, experiment, "verdict frozen", {});
  const { entries, name } = (await experimentHistory(knex, experiment))!;
  expect(name).toBeTruthy();
  expect(entries.slice(0, 2)).toMatchObject([
    { by: null, said: "froze the verdict" },
    { by: "Ida Holm", said: "changed the question: question" },
  ]);
  expect(await experimentHistory(knex, 4711)).toBeNull();
});

test("a bench hand takes back what was pressed by mistake, and deletes nothing older", async () => {
  const [run] = await knex("run").select("id", "experiment_id");
  await knex("run").where({ id: run.id }).update({ started_at: 1, ended_at: null });
  const pressed = {
    key: "abcdefgh-1",
    atMs: Date.now(),
    kind: "note" as const,
    lane: null,
    text: "a bird",
    photoId: null,
  };
  const hand = { name: "Ida Holm", personId: 1, role: "hand" as const };
  const marked = await as(hand, () => markEvent.run(knex, experiment, run.id, pressed));
  expect(marked).toMatchObject({ ok: true });
  const { id } = await knex("run_event").first("id");
  const back = () => as(hand, () => deleteEvent.run(knex, experiment, run.id, id, true));
  await knex("run_event").update({ created_at: Date.now() - 16 * 60_000 });
  expect(await back()).toMatchObject({ ok: false, error: expect.stringMatching(/15 minutes/) });
  await knex("run_event").update({ created_at: Date.now() });
  expect(await back()).toMatchObject({ ok: true });
});

test("a browser's own description is said as a person would say it", () => {
  expect(deviceName("Mozilla/5.0 (iPhone; CPU iPhone OS 19_0 like Mac OS X) Version/19 Safari/605")).toBe(
    "Safari on iPhone or iPad",
  );
  expect(deviceName("Mozilla/5.0 (X11; Linux x86_64) AppleWebKit Chrome/140 Safari/537")).toBe("Chromium on Linux");
  expect(deviceName("curl/8")).toBe("another program");
  expect(DEVICE_COOKIE).not.toBe(SESSION_COOKIE);
});
