import { readFileSync } from "node:fs";
import { expect, test, type APIRequestContext } from "@playwright/test";
import type { Knex } from "knex";
import { freePort } from "../scripts/launcher/database";
import { startWeb, TEST_DIST, type WebServer } from "../scripts/launcher/web";
import { createDatabase } from "../src/data/database";
import { OWNER_COOKIE, sealed, VIEWER_COOKIE } from "../src/services/web/session";
import { withFreshDemo } from "./demo";
import { server } from "./server";

withFreshDemo();

const url = server.databaseUrl;
test.skip(!url, "needs the database and the build of ./bravel test");

const env = { BRAVEL_GUARD: "a.b", BRAVEL_SESSION_KEY: "a key of the tests alone" };
let web: WebServer;
let knex: Knex;
let experiment: number;
test.beforeAll(async () => {
  web = await startWeb({ port: await freePort(4500), databaseUrl: url!, dist: TEST_DIST, quiet: true, env });
  knex = createDatabase(url!);
  experiment = Number((await knex("experiment").first("id")).id);
});
test.afterAll(async () => {
  await web.stop();
  await knex.destroy();
});

interface Action {
  exportedName: string;
}
const ACTIONS = (): [string, Action][] =>
  Object.entries(
    (
      JSON.parse(readFileSync(`${TEST_DIST}/server/server-reference-manifest.json`, "utf8")) as {
        node: Record<string, Action>;
      }
    ).node,
  );

/** Addresses under which a page with its actions could be reached without a sign-in. */
const ADDRESSES = [
  "/login",
  "/",
  "/icon.svg",
  "/icon.svgx",
  "/_next/staticx",
  "/_next/static/x",
  "/view/x",
  "/view/x/y",
  "/sw.js",
  "/api/photos/1/x",
  "/nowhere",
];

const post = (request: APIRequestContext, path: string, action: string, args: unknown[], cookie: string) =>
  request.post(`${web.address}${path}`, {
    headers: { "next-action": action, "content-type": "text/plain;charset=UTF-8", cookie },
    data: JSON.stringify(args),
    maxRedirects: 0,
  });
const spots = async () => Number((await knex("spot_reading").count({ n: "*" }))[0].n);

test("open to a network, no action of the build runs without the passphrase, at whatever address, nor by a viewer's link", async ({
  request,
}) => {
  const actions = ACTIONS();
  expect(actions.length).toBeGreaterThan(40);
  const viewer = `${VIEWER_COOKIE}=${sealed(String(experiment), Date.now() + 600_000, env)}`;
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
  const owner = `${OWNER_COOKIE}=${sealed("owner", Date.now() + 600_000, env)}`;
  expect((await post(request, "/", keep, args, owner)).status()).toBe(200);
  expect(await spots()).toBe(before + 1);
});

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
