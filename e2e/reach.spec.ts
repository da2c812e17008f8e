import { expect, test } from "@playwright/test";
import { withFreshDemo } from "./demo";

withFreshDemo();

test.describe("on the phone", () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });
  test("bench, run list and judge fit the width without sideways scrolling", async ({ page }) => {
    await page.goto("/");
    await page.getByRole("link", { name: "Absorber shapes" }).click();
    await page.waitForURL(/\/judge$/);
    for (const step of [
      "judge",
      "run",
      "read",
      "ask",
      "prove",
      "plan",
      "build",
      "build?view=compare",
      "build?view=bill",
      "build?view=checklist",
      "build?view=specimens",
    ]) {
      await page.goto(page.url().replace(/\/[a-z]+(\?.*)?$/, `/${step}`));
      await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
      if (step === "judge" || step === "read")
        await expect(page.getByRole("img", { name: /Efficiency curves/ })).toBeVisible();
      expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    }
  });
});

test("the key sheet opens with ?, b goes to the bench", async ({ page }) => {
  await page.goto("/import");
  await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog", { name: "Keys" })).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("dialog")).toBeHidden();
  await page.keyboard.press("b");
  await expect(page).toHaveURL(/\/$/);
});

test("another site's page may not change anything, another host's name is refused, no script but ours runs", async ({
  request,
}) => {
  const foreign = await request.post("/api/imports", { headers: { origin: "http://elsewhere.example" }, data: {} });
  expect(foreign.status()).toBe(403);
  const renamed = await request.get("/", { headers: { host: "elsewhere.example" } });
  expect(renamed.status()).toBe(421);
  const page = await request.get("/");
  expect(page.headers()["content-security-policy"]).toContain("object-src 'none'");
  expect(page.headers()).toMatchObject({
    "cross-origin-opener-policy": "same-origin",
    "cross-origin-resource-policy": "same-origin",
    "permissions-policy": expect.stringContaining("camera=()"),
  });
  expect(page.headers()["content-security-policy"]).not.toMatch(/script-src[^;]*unsafe-inline/);
});

test("a file of more than ten megabytes arrives whole", async ({ request }) => {
  const row = "2026-10-06 12:00:00,15.12,38.44,3.21\n";
  const body = `time,A in,A out,A speed\n${row.repeat(400_000)}`;
  const answer = await request.post("/api/files", {
    headers: { "x-file-name": "large.csv", "content-type": "application/octet-stream" },
    data: Buffer.from(body),
  });
  expect((await answer.json()).file.bytes).toBe(body.length);
  const foreign = await request.post("/api/files", {
    headers: { origin: "http://elsewhere.example", "x-file-name": "x.csv" },
    data: Buffer.from("a,b\n"),
  });
  expect(foreign.status()).toBe(403);
});

test("machines get JSON errors that say what is wrong", async ({ request }) => {
  const bad = await request.post("/api/imports", { data: { files: [] } });
  expect(bad.status()).toBe(400);
  expect((await bad.json()).issues.length).toBeGreaterThan(0);
  expect((await request.get("/api/files/999999")).status()).toBe(404);
  expect((await request.get("/api/experiments/1/runs/999999/traces")).status()).toBe(404);
  expect(await (await request.get("/api/health")).json()).toEqual({ ok: true, database: true });
});

test("every control and picture of the main views has a name, and headings come in order", async ({ page }) => {
  await page.goto("/");
  const judge = await page.getByRole("link", { name: "Absorber shapes" }).getAttribute("href");
  for (const path of [
    "/",
    "/import",
    judge!,
    judge!.replace("judge", "read"),
    judge!.replace("judge", "run"),
    judge!.replace("judge", "ask"),
    judge!.replace("judge", "prove"),
    judge!.replace("judge", "plan"),
    "/site/1",
    "/site?add=1",
    judge!.replace("judge", "build"),
    judge!.replace("judge", "build?view=bill"),
    judge!.replace("judge", "build?view=checklist"),
    "/materials",
  ]) {
    await page.goto(path);
    await expect(page.getByRole("heading", { level: 1 })).toBeAttached();
    const nameless = await page.evaluate(() =>
      [
        ...document.querySelectorAll(
          "button, a[href], input:not([type=hidden]):not([aria-hidden=true]), select, svg[role=img], canvas",
        ),
      ]
        .filter((e) => {
          const label =
            e.getAttribute("aria-label") ??
            e.getAttribute("title") ??
            (e.id ? document.querySelector(`label[for="${e.id}"]`)?.textContent : "") ??
            "";
          return !`${label}${e.textContent ?? ""}${e.closest("label")?.textContent ?? ""}`.trim();
        })
        .map((e) => e.outerHTML.slice(0, 120)),
    );
    expect(nameless).toEqual([]);
    await expect(page.locator("h1")).toHaveCount(1);
  }
});
