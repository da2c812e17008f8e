import { gzipSync } from "node:zlib";
import { expect, test, type Page } from "@playwright/test";
import { addressOf, withFreshDemo } from "./demo";

withFreshDemo();

/**
 * Script that a browser loads with a view until it is quiet, gzipped, kB, workers apart. Aimed at: 250. What every page carries (React and
 * its router) is 136 of it, a chart 66; views that draw charts or check forms as they are typed stay above the aim, and none may grow.
 */
const MOST = {
  bench: 200,
  ask: 240,
  build: 253,
  prove: 230,
  plan: 290,
  run: 200,
  read: 300,
  judge: 310,
  apply: 253,
  import: 265,
  materials: 190,
  new: 190,
  site: 300,
} as const;

async function weightOf(page: Page, address: string): Promise<number> {
  const loaded: Promise<number>[] = [];
  page.on("response", (r) => {
    if (r.request().resourceType() === "script")
      loaded.push(
        r.body().then(
          (body) => gzipSync(body, { level: 6 }).length,
          () => 0,
        ),
      );
  });
  await page.goto(address, { waitUntil: "networkidle" });
  return (await Promise.all(loaded)).reduce((a, b) => a + b, 0) / 1000;
}

for (const [view, most] of Object.entries(MOST))
  test(`the script of ${view} weighs no more than ${most} kB`, async ({ browser, page, baseURL }) => {
    const own = ["bench", "import", "materials", "new", "site"].includes(view);
    const path = view === "bench" ? "/" : `/${view}`;
    const address = own ? path : `${await addressOf(page, "Absorber shapes")}${path}`;
    // Nothing is in store yet: as on the first visit.
    const fresh = await browser.newContext({ baseURL, viewport: { width: 1280, height: 800 } });
    const kB = await weightOf(await fresh.newPage(), address);
    await fresh.close();
    expect(kB).toBeGreaterThan(100);
    expect(kB).toBeLessThanOrEqual(most);
  });
