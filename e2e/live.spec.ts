import { devices, expect, test, type Page } from "@playwright/test";
import { createDatabase } from "../src/data/database";
import { insertDevice } from "../src/data/device/devices";
import { rigToken } from "../src/data/rig/rigs";
import { RigDriver } from "../scripts/rig/drive";
import { withFreshDemo } from "./demo";
import { server } from "./server";
import { sayBench } from "./sayBench";
import { watch } from "./watch";

withFreshDemo();

const { address, databaseUrl } = server;
const LIVE = "On the bench now";

/** Drives the simulated bench from here, as its own process does. */
async function driving(): Promise<{ stop(): Promise<void> }> {
  const knex = createDatabase(databaseUrl!);
  const { token } = await rigToken(knex).finally(() => knex.destroy());
  const abort = new AbortController();
  const over = new RigDriver({ address, token, signal: abort.signal }).run().catch(() => undefined);
  return {
    stop: async () => {
      abort.abort();
      await over;
    },
  };
}

async function loggerToken(name: string): Promise<string> {
  const knex = createDatabase(databaseUrl!);
  try {
    return (await insertDevice(knex, { name, kind: "logger" })).token;
  } finally {
    await knex.destroy();
  }
}

const lives = (page: Page) => page.getByRole("region", { name: "Live bench" });
/** The address of the live run's page. */
async function openLive(page: Page): Promise<void> {
  await page.goto("/");
  await page
    .getByRole("region", { name: `Running: ${LIVE}` })
    .getByRole("link", { name: /^Open run 1/ })
    .click();
  await expect(lives(page)).toBeVisible();
}
const mark = (page: Page, what: string) =>
  page.getByRole("group", { name: "Events" }).getByRole("button", { name: what, exact: true }).click();
const events = (page: Page) => page.getByRole("list", { name: "Events of the run" });

test("a device is added, sends by its token alone, and what was wrong is named by line", async ({ page, request }) => {
  await page.goto("/devices");
  await page.getByLabel("Name of the device").fill("terrace logger");
  await page.getByRole("button", { name: "Add a device" }).click();
  const token = (await page.getByTestId("token").textContent())!.trim();
  const send = (data: string, type: string, by = token, query = "") =>
    request.post(`/api/readings${query}`, { data, headers: { authorization: `Bearer ${by}`, "content-type": type } });
  const now = Date.now();
  const good = await send(
    JSON.stringify([
      { time: now - 1000, values: { "A in (°C)": 14 } },
      { time: "noon", values: { "A in (°C)": 15 } },
    ]),
    "application/json",
  );
  expect(good.status()).toBe(200);
  expect(await good.json()).toMatchObject({ accepted: 1, rejectedCount: 1, rejected: [{ line: 2, at: "time" }] });
  const lines = await send(`bench,lane=A out=41 ${now}\n`, "text/plain", token, "?precision=ms");
  expect(await lines.json()).toMatchObject({ accepted: 1, repeated: 0 });
  expect(await (await send(`bench,lane=A out=41 ${now}\n`, "text/plain", token, "?precision=ms")).json()).toMatchObject(
    {
      accepted: 1,
      repeated: 1,
    },
  );
  expect((await send("{}", "application/json", "bravel_nobodys")).status()).toBe(401);
  await page.reload();
  const device = page
    .getByRole("list", { name: "Devices" })
    .getByRole("listitem")
    .filter({ hasText: "terrace logger" });
  await expect(device).toContainText("2 frames");
  await expect(device).toContainText("line 2: time");
  await device.getByRole("button", { name: "Revoke" }).click();
  await expect(device).toContainText("revoked");
  expect((await send("{}", "application/json")).status()).toBe(401);
});

test("what a device sends becomes a run: mapped, begun with its first reading, on the live bench", async ({
  page,
  request,
}) => {
  const token = await loggerToken("two boxes");
  const now = Date.now();
  const frames = Array.from({ length: 60 }, (_, i) => ({
    // The hot minute after them lies behind now too: what is stamped ahead of it is held apart.
    time: now - 90_000 - (60 - i) * 10_000,
    values: {
      "A in (°C)": 12,
      "A out (°C)": 38 + (i % 3) / 10,
      "A air (m/s)": 3.4,
      "B in (°C)": 12,
      "B out (°C)": 41,
      "B air (m/s)": 3.4,
    },
  }));
  await request.post("/api/readings", { data: { frames }, headers: { authorization: `Bearer ${token}` } });
  await page.goto("/devices");
  await page
    .getByRole("list", { name: "Devices" })
    .getByRole("listitem")
    .filter({ hasText: "two boxes" })
    .getByRole("link", { name: "Start a run with it" })
    .click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("What two boxes sends, with 2 lanes");
  await page.getByLabel("Name", { exact: true }).first().fill("Live pair");
  await sayBench(page);
  await page.getByRole("radio", { name: "with the first reading shown" }).check();
  await page.getByRole("button", { name: "Start the run" }).click();
  await page.waitForURL(/\/run$/);
  await expect(lives(page).getByRole("heading", { level: 1 })).toContainText("Run 1 is running");
  const lane = page.getByTestId("lanes-desk").getByRole("row", { name: /^Out/ });
  await expect(lane).toContainText("41");
  // A reading on the way to the page takes well under a second; here it only has to come.
  const hot = {
    time: Date.now(),
    values: {
      "A in (°C)": 12,
      "A out (°C)": 39,
      "A air (m/s)": 3.4,
      "B in (°C)": 12,
      "B out (°C)": 47,
      "B air (m/s)": 3.4,
    },
  };
  for (let i = 1; i <= 8; i++)
    await request.post("/api/readings", {
      data: { ...hot, time: now - 90_000 + i * 10_000 },
      headers: { authorization: `Bearer ${token}` },
    });
  await expect(lane).toContainText("47");
  await page.getByRole("button", { name: "End run 1" }).click();
  await expect(page.getByText("has ended. Its device’s readings are still kept.")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(lives(page).getByRole("button", { name: "End run 1" })).toBeVisible();
});

test.describe("on the phone", () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true, userAgent: devices["Pixel 7"].userAgent });

  test("the bench in one hand: figures, marks, a spot reading, a page that opens without a link", async ({
    page,
    context,
  }) => {
    await page.goto("/");
    await page.waitForFunction(() => navigator.serviceWorker.ready.then(() => true));
    await page.getByRole("link", { name: LIVE }).first().click();
    await page.getByRole("link", { name: /^Run/ }).click();
    await page.waitForURL(/\/run$/);
    // A page that was seen opens without a link.
    await page.reload();
    const rows = page.getByTestId("lanes-phone");
    await expect(rows.getByRole("rowheader", { name: /^A / })).toBeVisible();
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    for (const button of await page.getByRole("group", { name: "Events" }).getByRole("button").all())
      expect((await button.boundingBox())!.height).toBeGreaterThanOrEqual(48);
    await page.getByLabel("Reads").fill("45,1 C");
    await page.getByLabel("Reads").press("Enter");
    await expect(page.getByText("The probe says")).toBeVisible();
    await page.getByRole("button", { name: "Keep" }).click();
    await expect(events(page)).toContainText("Spot reading");

    await context.setOffline(true);
    await page.reload();
    await expect(page.getByRole("link", { name: /^Judge/ })).toBeVisible();
    await context.setOffline(false);
    await page.reload();
    await events(page).getByRole("listitem").first().getByRole("button", { name: "Edit" }).click();
    await page.getByLabel("What happened").fill("held beside the outlet probe");
    await page.getByRole("group", { name: /^Edit/ }).getByRole("button", { name: "Keep" }).click();
    await expect(events(page)).toContainText("held beside the outlet probe");
    await events(page).getByRole("listitem").first().getByRole("button", { name: "Edit" }).click();
    await page.getByRole("button", { name: "Delete", exact: true }).click();
    await expect(page.getByText("held beside the outlet probe")).toHaveCount(0);
    await page.getByRole("button", { name: "Undo" }).click();
    await expect(events(page)).toContainText("held beside the outlet probe");
  });
});

test("a whole test on the rig: a cloud, a swap, a stagnation alarm, a reload in the middle, a spell offline, to the verdict", async ({
  page,
  context,
}) => {
  test.setTimeout(300_000);
  const faults = watch(page);
  const rig = await driving();
  try {
    await page.goto("/rig");
    await page.getByRole("radio", { name: "60×" }).click();
    await expect(page.getByRole("heading", { level: 1 })).toContainText("60 times");
    await openLive(page);
    await mark(page, "Cloud");
    await expect(events(page)).toContainText("Cloud");
    await page.getByRole("radiogroup", { name: "Lane that is marked" }).getByRole("radio", { name: "B" }).click();
    await mark(page, "Door");
    await expect(events(page).getByRole("listitem").first()).toContainText("Door");

    // What is pressed without a link waits, and goes when it is back.
    await context.setOffline(true);
    await mark(page, "Probe moved");
    await expect(page.getByText("1 kept here, waiting to be sent")).toBeVisible();
    await context.setOffline(false);
    await expect(events(page).getByRole("listitem").first()).toContainText("Probe moved");
    await expect(page.getByText("waiting to be sent")).toHaveCount(0);

    // A stopped fan in the sun is an alarm; it says what to do, and is acknowledged.
    await page.goto("/rig");
    await page.getByRole("button", { name: /^Fan stops/ }).click();
    await expect(page.getByRole("button", { name: /^Fan stops: on/ })).toBeVisible();
    await openLive(page);
    const alarm = page.getByRole("alert").filter({ hasText: "A has lost its flow in the sun" });
    await expect(alarm).toBeVisible({ timeout: 60_000 });
    await expect(alarm).toContainText("keep clear of outlet and metal");
    await page.reload();
    await expect(alarm).toBeVisible();
    await alarm.getByRole("button", { name: "I have seen it" }).first().click();
    await expect(alarm).toContainText("seen");
    await page.goto("/rig");
    await page.getByRole("button", { name: /^Fan stops: on/ }).click();
    await expect(page.getByText("nothing is wrong now")).toBeVisible();

    // Steady again, then the boxes change places: the run has two arrangements.
    await openLive(page);
    await expect(page.getByText("Alarms that are over")).toBeVisible({ timeout: 90_000 });
    await mark(page, "Swap");
    await page.getByLabel("Box it changed places with").selectOption("C");
    await page.getByRole("button", { name: "Mark the swap" }).click();
    await expect(events(page).getByRole("listitem").first()).toContainText("Swap");
    await expect(page.getByTestId("lanes-desk")).toContainText("place 3");

    await page.getByRole("button", { name: "End run 1" }).click();
    await expect(page.getByText("has ended. Its device’s readings are still kept.")).toBeVisible();
    await page.getByRole("link", { name: /^Judge/ }).click();
    await expect(page.getByRole("heading", { level: 1 })).toContainText(
      /Mesh layers|Columns of cans|Cannot tell|No verdict|verdict waits|look at/i,
    );
    await expect(page.getByRole("region", { name: "Ranking" })).toContainText("B");
    expect(faults.filter((f) => !/ERR_INTERNET_DISCONNECTED|Failed to fetch|NetworkError/.test(f))).toEqual([]);
  } finally {
    await rig.stop();
  }
});

test("a serial line of this computer: connected, mapped, its readings arrive", async ({ page }) => {
  await page.addInitScript(() => {
    const lines = ["half a li", "ne\n", ...Array.from({ length: 40 }, (_, i) => `${20 + i / 10};${40 + i / 10}\n`)];
    const readable = new ReadableStream<Uint8Array>({
      async start(controller) {
        for (const line of lines) {
          controller.enqueue(new TextEncoder().encode(line));
          await new Promise((r) => setTimeout(r, 100));
        }
      },
    });
    Object.defineProperty(navigator, "serial", {
      value: {
        requestPort: () => Promise.resolve({ open: () => Promise.resolve(), close: () => Promise.resolve(), readable }),
      },
    });
  });
  await page.goto("/devices");
  await page.getByRole("button", { name: "Connect" }).click();
  await expect(page.getByRole("list", { name: "Newest lines" })).toContainText("field 1");
  await page.getByLabel(/” is$/).first().fill("A in (°C)");
  await expect(page.getByRole("list", { name: "Newest lines" })).toContainText("A in (°C)");
  await expect(page.getByText("all sent")).toBeVisible();
  await page.reload();
  await expect(page.getByRole("list", { name: "Devices" })).toContainText("Serial line of this computer");
  await expect(page.getByRole("list", { name: "Devices" })).toContainText("A in (°C)");
});

test("logs packed as gz and zip are unpacked where they are dropped", async ({ page }) => {
  const { gzipSync } = await import("node:zlib");
  const { zipSync, strToU8 } = await import("fflate");
  const { strangersLog } = await import("./logs");
  await page.goto("/import");
  await page.getByLabel("Choose log files").setInputFiles([
    { name: "terrace.csv.gz", mimeType: "application/gzip", buffer: gzipSync(strangersLog()) },
    {
      name: "logs.zip",
      mimeType: "application/zip",
      buffer: Buffer.from(zipSync({ "logs/": new Uint8Array(), "logs/again.csv": strToU8(strangersLog()) })),
    },
    { name: "cut.gz", mimeType: "application/gzip", buffer: gzipSync(strangersLog()).subarray(0, 300) },
  ]);
  await expect(page.getByRole("region", { name: "terrace.csv" })).toBeVisible();
  await expect(page.getByText("again.csv", { exact: true })).toBeVisible();
  await expect(page.getByRole("alert").filter({ hasText: "cut.gz is cut or damaged" })).toBeVisible();
});
