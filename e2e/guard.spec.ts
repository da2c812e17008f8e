import { readFileSync } from "node:fs";
import { expect, test, type APIRequestContext } from "@playwright/test";
import type { Knex } from "knex";
import { freePort } from "../scripts/launcher/database";
import { startWeb, TEST_DIST, type WebServer } from "../scripts/launcher/web";
import { createDatabase } from "../src/data/database";
import { insertPerson } from "../src/data/people/people";
import { insertSession } from "../src/data/people/sessions";
import { insertViewer, revokeViewer } from "../src/data/viewer/viewers";
import { rightTo, type Right } from "../src/services/web/doors";
import { passphraseHash, SESSION_COOKIE, sealed, VIEWER_COOKIE } from "../src/services/web/session";
import { withFreshDemo } from "./demo";
import { server } from "./server";

withFreshDemo();

const url = server.databaseUrl;
test.skip(!url, "needs the database and the build of ./bravel test");

const START = "owl walks over slate";
const IDA = "four words in a row";
const env = {
  BRAVEL_GUARD: passphraseHash(START),
  BRAVEL_SESSION_KEY: "a key of the tests alone",
  BRAVEL_ADDRESSES: "http://bench.example:4310",
};
let web: WebServer;
let knex: Knex;
let experiment: number;
let link: number;
let ida: number;
test.beforeAll(async () => {
  web = await startWeb({ port: await freePort(4500), databaseUrl: url!, dist: TEST_DIST, quiet: true, env });
});
test.beforeEach(async () => {
  knex = createDatabase(url!);
  experiment = Number((await knex("experiment").orderBy("id").first("id")).id);
  await insertViewer(knex, { experimentId: experiment, label: "a friend", takes: false });
  link = Number((await knex("viewer_link").orderBy("id", "desc").first("id")).id);
  await knex("person").where({ name: "Ida Holm" }).delete();
  ida = await insertPerson(knex, { name: "Ida Holm", role: "hand", passphrase: passphraseHash(IDA) });
});
test.afterEach(() => knex.destroy());
test.afterAll(() => web.stop());

type Role = "nobody" | "viewer" | "hand" | "owner";
const ROLES: readonly Role[] = ["nobody", "viewer", "hand", "owner"];
const RANK: Record<Right, number> = { open: 0, viewer: 1, hand: 2, owner: 3 };

const seal = (subject: string) => sealed(subject, Date.now() + 600_000, env);
const session = async (personId: number | null) =>
  `${SESSION_COOKIE}=${seal(
    `session-${await insertSession(knex, { personId, device: "a test", address: "here", untilAt: Date.now() + 600_000 })}`,
  )}`;
const cookieOf = async (role: Role): Promise<string> => {
  if (role === "nobody") return "";
  if (role === "viewer") return `${VIEWER_COOKIE}=${seal(`viewer-${link}`)}`;
  return session(role === "hand" ? ida : null);
};

/** Who may use each door of the build: GET, and POST (where a page takes actions, each asks for its own right again). */
const TABLE: Record<string, readonly [get: Right, post: Right]> = {
  "/": ["hand", "hand"],
  "/account": ["hand", "hand"],
  "/devices": ["hand", "hand"],
  "/import": ["hand", "hand"],
  "/login": ["open", "owner"],
  "/materials": ["hand", "hand"],
  "/network": ["owner", "owner"],
  "/new": ["owner", "owner"],
  "/rig": ["hand", "hand"],
  "/sheet": ["hand", "hand"],
  "/site": ["hand", "hand"],
  "/site/[id]": ["hand", "hand"],
  "/experiments/[id]": ["viewer", "hand"],
  "/experiments/[id]/apply": ["viewer", "hand"],
  "/experiments/[id]/apply/today": ["viewer", "hand"],
  "/experiments/[id]/ask": ["viewer", "hand"],
  "/experiments/[id]/build": ["viewer", "hand"],
  "/experiments/[id]/history": ["viewer", "hand"],
  "/experiments/[id]/judge": ["viewer", "hand"],
  "/experiments/[id]/plan": ["viewer", "hand"],
  "/experiments/[id]/plan/[day]": ["viewer", "hand"],
  "/experiments/[id]/prove": ["viewer", "hand"],
  "/experiments/[id]/read": ["viewer", "hand"],
  "/experiments/[id]/report": ["viewer", "hand"],
  "/experiments/[id]/run": ["viewer", "hand"],
  "/api/climates/[id]/hours": ["hand", "owner"],
  "/api/experiments/[id]/apply.ics": ["viewer", "owner"],
  "/api/experiments/[id]/live": ["viewer", "owner"],
  "/api/experiments/[id]/methods": ["viewer", "owner"],
  "/api/experiments/[id]/package": ["viewer", "owner"],
  "/api/experiments/[id]/plan.ics": ["viewer", "owner"],
  "/api/experiments/[id]/results": ["viewer", "owner"],
  "/api/experiments/[id]/working": ["viewer", "owner"],
  "/api/experiments/[id]/runs/[run]/events": ["viewer", "hand"],
  "/api/experiments/[id]/runs/[run]/traces": ["viewer", "owner"],
  "/api/files": ["owner", "hand"],
  "/api/files/[id]": ["hand", "owner"],
  "/api/health": ["open", "owner"],
  "/api/imports": ["hand", "hand"],
  "/api/login": ["owner", "open"],
  "/api/logout": ["owner", "hand"],
  "/api/openapi.json": ["open", "owner"],
  "/api/packages": ["owner", "owner"],
  "/api/photos": ["owner", "hand"],
  "/api/photos/[id]": ["hand", "owner"],
  "/api/places": ["hand", "owner"],
  "/api/readings": ["owner", "open"],
  "/api/rig": ["open", "owner"],
  "/authority.pem": ["open", "owner"],
  "/icon.svg": ["open", "owner"],
  "/manifest.webmanifest": ["open", "owner"],
  "/sw.js": ["open", "owner"],
  "/view/[token]": ["open", "owner"],
};
/** A viewer's door by its path, and shut all the same: who did what, and the package where the link does not hand it out. */
const SHUT_TO_VIEWERS = ["/experiments/[id]/history", "/api/experiments/[id]/package"];

const json = <T>(name: string) => JSON.parse(readFileSync(`${TEST_DIST}/server/${name}`, "utf8")) as T;
const routes = () =>
  Object.keys(json<Record<string, string>>("app-paths-manifest.json"))
    .map((path) => path.replace(/\/(?:page|route)$/, "") || "/")
    .filter((path) => !path.startsWith("/_"));
const addressed = (route: string) =>
  route
    .replace("experiments/[id]", `experiments/${experiment}`)
    .replace("[run]", "1")
    .replace("[day]", "2026-10-06")
    .replace("[token]", "x".repeat(32))
    .replace("[id]", "1");

/** None: there is no such method, for nobody. */
type Outcome = "served" | "refused" | "none";

async function outcomeOf(request: APIRequestContext, method: string, path: string, cookie: string): Promise<Outcome> {
  const answer = await request.fetch(`${web.address}${path}`, { method, headers: { cookie }, maxRedirects: 0 });
  if (answer.status() === 405) return "none";
  const toSignIn = answer.status() === 303 && answer.headers().location?.includes("/login?to=");
  return [401, 403].includes(answer.status()) || toSignIn ? "refused" : "served";
}

test("every door of the build stands in the table, and opens to whom the table says and to nobody else", async ({
  request,
}) => {
  test.setTimeout(240_000);
  expect(routes().sort()).toEqual(Object.keys(TABLE).sort());
  for (const [route, [get, post]] of Object.entries(TABLE)) {
    const path = addressed(route);
    expect([rightTo("GET", path), rightTo("POST", path)], route).toEqual([get, post]);
    for (const role of ROLES) {
      for (const [method, right] of [
        ["GET", get],
        ["POST", post],
      ] as const) {
        // Who may more than the least that a door asks for may this too: rightTo says so for all.
        if (ROLES.indexOf(role) > RANK[right] && !SHUT_TO_VIEWERS.includes(route)) continue;
        const shut = role === "viewer" && method === "GET" && SHUT_TO_VIEWERS.includes(route);
        // Without a body an import, an upload or a sign-in is refused for what it is; that is another answer.
        const asked = route.endsWith("/live") ? `${path}?once` : path;
        const outcome = await outcomeOf(request, method, asked, await cookieOf(role));
        // A device's token is asked for by the route itself.
        if (["/api/readings", "/api/rig"].includes(route) && right === "open") continue;
        const may = !shut && RANK[right] <= ROLES.indexOf(role);
        expect(["none", may ? "served" : "refused"], `${role}: ${method} ${route}`).toContain(outcome);
      }
      if (role === "nobody" || role === "viewer")
        for (const method of ["PUT", "PATCH", "DELETE"])
          expect(["none", "refused"], `${role}: ${method} ${route}`).toContain(
            await outcomeOf(request, method, path, await cookieOf(role)),
          );
    }
  }
});

interface Action {
  exportedName: string;
  /** Pages that hold it. */
  workers: Record<string, unknown>;
}
/** One that a bench hand may use, where there is one: rights do not differ from page to page, and every answer draws the page anew. */
const pagesWith = (workers: Action["workers"]): string[] =>
  Object.keys(workers)
    .map((entry) => entry.replace(/^app/, "").replace(/\/page$/, "") || "/")
    .filter((page) => page in TABLE)
    .sort((a, b) => RANK[TABLE[a][1]] - RANK[TABLE[b][1]])
    .slice(0, 1);
const ACTIONS = (): [string, Action][] =>
  Object.entries(json<{ node: Record<string, Action> }>("server-reference-manifest.json").node);

/** What a bench hand may have done: the questions that pages ask, and the work at the bench. */
const HANDS = [
  ..."acknowledgeAlarm applyFlowFactor applyToRuns buildSpecimen changeOwnPassphrase changeRig changeUnit".split(" "),
  ..."continueRun deleteEvent editEvent endRun followThePlan keepCalibration keepChecklist keepInstrument".split(" "),
  ..."keepSpot keepTwoPoint markEvent measureSpecimen offerDevice pauseRun reopenRun resumeRun setUpRig".split(" "),
];

/** Addresses under which a page with its actions could be reached without a sign-in. */
const ADDRESSES = [
  ...["/login", "/", "/icon.svg", "/icon.svgx", "/_next/staticx", "/_next/static/x", "/view/x", "/view/x/y"],
  ...["/sw.js", "/api/photos/1/x", "/nowhere"],
];

const post = (request: APIRequestContext, path: string, action: string, args: unknown[], cookie: string) =>
  request.post(`${web.address}${path}`, {
    headers: { "next-action": action, "content-type": "text/plain;charset=UTF-8", cookie },
    data: JSON.stringify(args),
    maxRedirects: 0,
  });
const spots = async () => Number((await knex("spot_reading").count({ n: "*" }))[0].n);

test("no action of the build runs without the passphrase, at whatever address, nor by a viewer's link", async ({
  request,
}) => {
  const actions = ACTIONS();
  expect(actions.length).toBeGreaterThan(40);
  const viewer = await cookieOf("viewer");
  const before = await spots();
  const args = [experiment, { text: "20 °C in", values: {} }];
  for (const [id, { exportedName }] of actions)
    for (const cookie of ["", viewer]) {
      const answer = await post(request, "/login", id, args, cookie);
      expect([401, 403], exportedName).toContain(answer.status());
    }
  const [keep] = actions.find(([, a]) => a.exportedName === "keepSpot")!;
  for (const address of [...ADDRESSES, `/experiments/${experiment}/run`])
    for (const cookie of ["", viewer]) {
      const answer = await post(request, address, keep, args, cookie);
      expect([401, 403], address).toContain(answer.status());
    }
  expect(await spots()).toBe(before);
  // The same call by the owner does what it says: the walk would notice one that ran.
  expect((await post(request, "/", keep, args, await cookieOf("owner"))).status()).toBe(200);
  expect(await spots()).toBe(before + 1);
});

test("a bench hand has done what is a bench hand's, and nothing else, whatever page it is asked from", async ({
  request,
}) => {
  const cookie = await cookieOf("hand");
  const questions: string[] = [];
  for (const [id, { exportedName, workers }] of ACTIONS()) {
    for (const page of pagesWith(workers)) {
      // Nothing is named, so that nothing is done.
      const answer = await post(request, addressed(page), id, [], cookie);
      const text = await answer.text();
      // A page that lacks the action would answer nothing, and prove nothing.
      expect(answer.status(), `${exportedName} at ${page}`).not.toBe(404);
      const refused = text.includes("Only the owner of this Bravel does that");

      if (HANDS.includes(exportedName)) expect(refused, exportedName).toBe(false);
      // A question refuses by throwing, whose words stay on the server.
      else if (!refused && answer.status() !== 500) questions.push(exportedName);
    }
  }
  // What is left asks and changes nothing.
  expect(questions.sort()).toEqual([...QUESTIONS].sort());
});
const QUESTIONS = ["loadHistory", "loadLooser", "loadRevision", "loadSpots", "loadStream", "lookAtBath", "tryBath"];

test("without a sign-in there is the sign-in, and the parts it is made of, and nothing else", async ({ page }) => {
  const refused: string[] = [];
  page.on("response", (r) => void (r.status() >= 400 && refused.push(r.url())));
  await page.goto(`${web.address}/experiments/${experiment}/judge`);
  await expect(page).toHaveURL(/\/login/);
  await expect(page.getByLabel(/passphrase/i)).toBeVisible();
  // Ways to other pages would be asked for beforehand, and refused.
  await expect(page.getByRole("link")).toHaveText(["Skip to the content"]);
  await page.waitForLoadState("networkidle");
  expect(refused).toEqual([]);
});

test("a bench hand signs in by name, sees where else, and signs out everywhere; a page left open is of no more use", async ({
  page,
  request,
}) => {
  const elsewhere = await session(ida);
  await page.goto(`${web.address}/login?to=/experiments/${experiment}/run`);
  await page.getByLabel("Name").fill("ida holm");
  await page.getByLabel("Passphrase").fill("not this one, surely");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("alert").filter({ hasText: "do not fit" })).toBeVisible();
  await page.getByLabel("Name").fill("ida holm");
  await page.getByLabel("Passphrase").fill(IDA);
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page).toHaveURL(new RegExp(`/experiments/${experiment}/run`));
  await expect(page.getByRole("link", { name: "Devices" })).toBeVisible();
  await expect(page.getByRole("link", { name: "Network" })).toHaveCount(0);
  await page.getByRole("link", { name: "Account" }).click();
  await expect(page.getByRole("heading", { name: "You are signed in as Ida Holm, a bench hand." })).toBeVisible();
  await expect(page.getByRole("list", { name: "Signed in" }).getByRole("listitem")).toHaveCount(2);
  await page.getByRole("button", { name: "Sign out everywhere" }).click();
  await expect(page).toHaveURL(/\/login/);
  expect(await outcomeOf(request, "GET", "/", elsewhere)).toBe("refused");
});

test("the owner lets a bench hand in, and out again", async ({ page, request }) => {
  await page
    .context()
    .addCookies([
      { name: SESSION_COOKIE, value: (await session(null)).slice(SESSION_COOKIE.length + 1), url: web.address },
    ]);
  await page.goto(`${web.address}/network`);
  const people = page.getByRole("region", { name: "People" });
  await people.getByLabel("Name").fill("Per Dahl");
  await people.getByLabel(/^Passphrase/).fill("short");
  await people.getByRole("button", { name: "Add" }).click();
  await expect(page.getByText(/twelve characters or more: four words/)).toBeVisible();
  await people.getByLabel(/^Passphrase/).fill("moss under the old pine");
  await people.getByRole("button", { name: "Add" }).click();
  const row = people.getByRole("list", { name: "People" }).getByRole("listitem").filter({ hasText: "Per Dahl" });
  await expect(row).toContainText("bench hand");
  const per = await session(Number((await knex("person").where({ name: "Per Dahl" }).first("id")).id));
  expect(await outcomeOf(request, "GET", "/", per)).toBe("served");
  await row.getByRole("button", { name: "Remove" }).click();
  await expect(row).toHaveCount(0);
  expect(await outcomeOf(request, "GET", "/", per)).toBe("refused");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(row).toBeVisible();
  // Signed out all the same: who comes back signs in again.
  expect(await outcomeOf(request, "GET", "/", per)).toBe("refused");
});

test("a stream ends when its link is revoked", async () => {
  const answer = await fetch(`${web.address}/api/experiments/${experiment}/live`, {
    headers: { cookie: await cookieOf("viewer") },
  });
  expect(answer.status).toBe(200);
  const reader = answer.body!.getReader();
  await reader.read();
  await revokeViewer(knex, link, true);
  for (let over = false; !over;) over = (await reader.read()).done;
});

test("every answer says that it is nobody else's, and runs nothing but the application's own script", async ({
  request,
}) => {
  const cookie = await cookieOf("owner");
  const paths = ["/", "/login", "/nowhere", "/network", "/api/health", "/api/photos/1", "/sw.js", "/api/packages"];
  for (const path of [...paths, "/icon.svg"]) {
    for (const asked of [cookie, ""]) {
      const answer = await request.get(`${web.address}${path}`, { headers: { cookie: asked }, maxRedirects: 0 });
      const headers = answer.headers();
      expect(headers, path).toMatchObject({
        "x-content-type-options": "nosniff",
        "referrer-policy": "same-origin",
        "x-frame-options": "DENY",
        "cross-origin-opener-policy": "same-origin",
        "cross-origin-resource-policy": "same-origin",
        "permissions-policy": expect.stringContaining("camera=()"),
      });
      if (answer.status() !== 303)
        expect(headers["content-security-policy"], path).toMatch(/default-src '(?:self|none)'/);
      expect(headers["x-powered-by"]).toBeUndefined();
    }
  }
});

test("stopped while it is being started, the application is gone", async () => {
  const port = await freePort(4500);
  const ending = new AbortController();
  let pid = 0;
  const starting = startWeb({
    ...{ port, databaseUrl: url!, dist: TEST_DIST, quiet: true, env, signal: ending.signal },
    onSpawn: (spawned) => (pid = spawned!),
  });
  ending.abort();
  await expect(starting).rejects.toThrow(/ended while starting/);
  expect(() => process.kill(pid, 0)).toThrow("ESRCH");
});

test("a bench hand who asks for a page of the owner’s is told so, and led on", async ({ page }) => {
  await page
    .context()
    .addCookies([
      { name: SESSION_COOKIE, value: (await session(ida)).slice(SESSION_COOKIE.length + 1), url: web.address },
    ]);
  await page.goto(`${web.address}/network`);
  await expect(page).toHaveURL(/\/account/);
  await expect(page.getByRole("alert").filter({ hasText: "is the owner’s" })).toBeVisible();
});

// Last: what it uses up of this address's tries fills again by one in ten seconds.
test("guesses from one address are slowed, whatever they say where they come from and whom they name", async ({
  request,
}) => {
  const guess = async (i: number) => {
    const answer = await request.post(`${web.address}/api/login`, {
      headers: { "x-forwarded-for": `192.0.2.${i}`, forwarded: `for=192.0.2.${i}` },
      form: { name: `somebody ${i}`, passphrase: "a guess among many" },
      maxRedirects: 0,
    });
    return new URL(answer.headers().location, web.address).searchParams;
  };
  const answers: URLSearchParams[] = [];
  for (let i = 0; i < 12; i++) answers.push(await guess(i));
  expect(answers[0].get("wrong") ?? answers[0].get("wait")).not.toBeNull();
  expect(Number(answers.at(-1)!.get("wait"))).toBeGreaterThan(0);
});
