import { expect, test, type Page } from "@playwright/test";
import { addressOf, withFreshDemo } from "./demo";
import { alive, watch } from "./watch";

withFreshDemo();

const apply = (tab: string, answer: RegExp) => async (page: Page, base: string) => {
  await page.goto(`${base}/apply`);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("kWh of useful heat a year");
  await alive(page);
  await page.getByRole("radio", { name: tab, exact: true }).check();
  await expect(page.getByText(answer).first()).toBeVisible();
};

/** Every view that starts a worker: opened, and waited for until what only the worker knows stands there. */
const VIEWS: Record<string, (page: Page, base: string) => Promise<void>> = {
  Ask: async (page, base) => {
    await page.goto(`${base}/ask`);
    await expect(page.getByTestId("predicted-ranking")).toContainText("±");
    await expect(page.getByTestId("predicted-ranking")).not.toContainText("working …");
  },
  Build: async (page, base) => {
    await page.goto(`${base}/build`);
    await expect(page.getByRole("region", { name: "Flow advice" })).toContainText("W");
  },
  Site: async (page) => {
    await page.goto("/site");
    await expect(page.getByTestId("best-tilt")).toContainText("kWh/m²");
  },
  Season: apply("Season", /closes to/),
  Sizing: apply("Sizing", /What matters most/),
  Controls: apply("Controls", /Best pair at/),
};

/** One view of each worker's: every view is opened after every worker has been started once in the same profile. */
for (const first of ["Build", "Site", "Season"])
  test(`after ${first}, every other view that starts a worker gets its own worker's answer`, async ({ page }) => {
    const faults = watch(page);
    const base = await addressOf(page, "Absorber shapes");
    await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
    await page.reload();
    expect(await page.evaluate(() => navigator.serviceWorker.controller !== null)).toBe(true);
    for (const name of [first, ...Object.keys(VIEWS)]) await test.step(name, () => VIEWS[name](page, base));
    expect(faults).toEqual([]);
  });
