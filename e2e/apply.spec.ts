import { readFileSync } from "node:fs";
import { expect, test, type Page } from "@playwright/test";
import ICAL from "ical.js";
import { withFreshDemo } from "./demo";
import { alive, watch } from "./watch";

withFreshDemo();

const open = async (page: Page, name: string) => {
  await page.goto("/");
  await page
    .getByRole("link", { name: new RegExp(`^${name}`) })
    .first()
    .click();
  await page.getByRole("link", { name: /^Apply/ }).click();
};
const sentence = (page: Page) => page.getByRole("heading", { level: 1 });
const show = (page: Page, tab: string) => page.getByRole("radio", { name: tab, exact: true }).check();
const worked = async (page: Page) => {
  await expect(sentence(page)).toContainText("kWh of useful heat a year");
  await alive(page);
};
const number = async (page: Page, name: RegExp) =>
  Number((await sentence(page).textContent())!.replace(/[\s\u2009]/g, "").match(name)![1]);
const useful = (page: Page) => number(page, /gives?(\d+)/);

test("the loft's season with a bin of stones: months, bands, what if; a larger bin, and it stays after reload", async ({
  page,
}) => {
  const faults = watch(page);
  await open(page, "Absorber shapes");
  await worked(page);
  await expect(sentence(page)).toContainText(/±/);
  await expect(page.getByRole("region", { name: "Variants over the year" })).toContainText("Mesh layers");
  await expect(page.getByRole("list", { name: "More of this year" })).toContainText("closes to 0.0000 %");
  await expect(page.getByRole("region", { name: "What if" })).toContainText("Pear tree gone");
  const before = await useful(page);
  await page.getByRole("textbox", { name: "Bin, m³" }).fill("6");
  await page.getByRole("textbox", { name: "Bin, m³" }).press("Enter");
  await expect.poll(() => useful(page)).toBeGreaterThan(before);
  const larger = await useful(page);
  await expect(page.getByText("Keeping …")).toHaveCount(0);
  await page.reload();
  await worked(page);
  await expect.poll(() => useful(page)).toBe(larger);
  // The bars by keyboard, the hours as a file.
  await page.getByRole("application", { name: /Heat by month/ }).press("ArrowRight");
  await expect(page.getByText(/^February: /)).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "Hours" }).click(),
  ]);
  expect(
    readFileSync(await download.path(), "utf8")
      .trim()
      .split("\r\n"),
  ).toHaveLength(8761);
  expect(faults).toEqual([]);
});

test("a year that is asked for first: nothing is computed until use, boxes, control and run are said; it can be stopped", async ({
  page,
}) => {
  const faults = watch(page);
  await open(page, "One or two glazings");
  await expect(sentence(page)).toContainText("Say what it heats");
  await page.getByLabel("What it heats", { exact: true }).selectOption("freshAir");
  await expect(page.getByText(/Still asked: fresh air, wanted at/)).toBeVisible();
  await page.getByRole("textbox", { name: "Fresh air" }).fill("200 m³/h");
  await page.getByRole("textbox", { name: "Fresh air" }).press("Enter");
  await page.getByRole("textbox", { name: "Wanted at" }).fill("18");
  await page.getByRole("textbox", { name: "Wanted at" }).press("Enter");
  await page.getByRole("button", { name: /One box, as on the bench/ }).click();
  await page.getByLabel("Control", { exact: true }).selectOption("difference");
  await page.getByRole("textbox", { name: "Starts above by" }).fill("3");
  await page.getByRole("textbox", { name: "Starts above by" }).press("Enter");
  await page.getByRole("textbox", { name: "stops below by" }).fill("6");
  await page.getByRole("textbox", { name: "stops below by" }).press("Enter");
  await expect(page.getByText(/Set points are crossed/)).toBeVisible();
  await expect(sentence(page)).toContainText("what starts and stops the fan");
  await page.getByRole("textbox", { name: "stops below by" }).fill("1");
  await page.getByRole("textbox", { name: "stops below by" }).press("Enter");
  await page.getByRole("textbox", { name: "One way" }).fill("2");
  await page.getByRole("textbox", { name: "One way" }).press("Enter");
  await worked(page);
  await page.getByLabel("Store", { exact: true }).selectOption("water");
  await page.getByRole("textbox", { name: "Water", exact: true }).fill("0");
  await page.getByRole("textbox", { name: "Water", exact: true }).press("Enter");
  await page.getByRole("textbox", { name: "Its loss" }).fill("2");
  await page.getByRole("textbox", { name: "Its loss" }).press("Enter");
  await expect(page.getByText(/A store of nothing keeps nothing/)).toBeVisible();
  expect(faults).toEqual([]);
});

test("a thermostat that hunts, and the best pair taken; payback with its band, and never at a price of next to nothing", async ({
  page,
}) => {
  const faults = watch(page);
  await open(page, "Bottom mirror");
  await worked(page);
  await show(page, "Controls");
  const holding = page.getByTestId("holding");
  await page.getByRole("textbox", { name: "On above" }).fill("40");
  await page.getByRole("textbox", { name: "On above" }).press("Enter");
  await page.getByRole("textbox", { name: "Off below" }).fill("38");
  await page.getByRole("textbox", { name: "Off below" }).press("Enter");
  await page.getByRole("textbox", { name: "Sun in the plane" }).fill("400");
  await page.getByRole("textbox", { name: "Sun in the plane" }).press("Enter");
  await expect(holding).toContainText(/hunts.*times an hour/);
  await page.getByRole("button", { name: "Take this pair" }).click();
  await expect(holding).not.toContainText(/on above 40/);
  await show(page, "Money");
  await expect(page.getByText(/pays itself back in .* years \(.* to .*\); chance that it pays/).first()).toBeVisible();
  const price = page.getByRole("textbox", { name: /Price of its energy/ });
  await price.fill("-1");
  await price.press("Enter");
  await expect(page.getByText("At least 0.0001.")).toBeVisible();
  await price.fill("0.001");
  await price.press("Enter");
  await expect(page.getByText(/does not pay within its/).first()).toBeVisible();
  expect(faults).toEqual([]);
});

test("a mirror dragged; its list as a calendar, parsed back; the sheet for today on the phone", async ({ page }) => {
  const faults = watch(page);
  await open(page, "Bottom mirror");
  await worked(page);
  await show(page, "Mirror");
  await expect(page.getByText(/The mirror gives × 1\.\d\d the light of a year/)).toBeVisible();
  const angle = page.getByRole("textbox", { name: "Angle of mirror 1" });
  await expect(angle).toHaveValue("118 °");
  const handle = page.getByRole("slider", { name: /Mirror bottom: angle and length/ });
  const at = (await handle.boundingBox())!;
  await page.mouse.move(at.x + at.width / 2, at.y + at.height / 2);
  await page.mouse.down();
  await page.mouse.move(at.x + at.width / 2 - 25, at.y - 25, { steps: 5 });
  await page.mouse.up();
  await expect(angle).not.toHaveValue("118 °");
  const dragged = await angle.inputValue();
  await handle.press("ArrowLeft");
  await expect(angle).not.toHaveValue(dragged);
  await page.getByRole("slider", { name: "Time of day" }).fill("1200");
  await page.getByRole("slider", { name: "Day of the year" }).fill("0");
  await expect(page.getByText("The sun is down.")).toBeVisible();
  await page.getByRole("slider", { name: "Time of day" }).fill("740");
  await expect(page.getByTestId("lit-1")).toBeVisible();
  const list = page.getByRole("table", { name: "Adjustment list" });
  await expect(list.getByRole("row")).not.toHaveCount(1);
  await expect(page.getByText("Keeping …")).toHaveCount(0);
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "Calendar file" }).click(),
  ]);
  const events = new ICAL.Component(ICAL.parse(readFileSync(await download.path(), "utf8")))
    .getAllSubcomponents("vevent")
    .map((v) => new ICAL.Event(v));
  const turns = events.map((e) => /mirror to (.*)$/.exec(e.summary)?.[1]).filter((a) => a !== undefined);
  expect(turns.length).toBeGreaterThan(3);
  // The page works the dragged mirror's year out again; then both say the same.
  // An angle that stays over the turn of the year stands in two rows of the list, and is no turn of the calendar.
  const turned = async () => {
    const angles = await list.locator("tbody tr td:nth-child(3)").allInnerTexts();
    return angles.filter((a, i) => a !== angles[(i + angles.length - 1) % angles.length]);
  };
  await expect.poll(turned).toEqual(turns);
  const today = await page.getByRole("link", { name: "Today’s sheet" }).getAttribute("href");
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(today!);
  await expect(page.getByTestId("angle-today")).toContainText(/\d+(\.5)?°/);
  expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
  expect(faults).toEqual([]);
});

test("wash water by hose and tank; sizes solved; a curve typed in beside", async ({ page }) => {
  const faults = watch(page);
  await open(page, "Hose coils for wash water");
  await worked(page);
  await expect(page.getByText(/scalds/)).toBeVisible();
  await show(page, "Sizing");
  await expect(page.getByTestId("solved")).toContainText(/of the need/);
  await expect(page.getByRole("region", { name: "Rules of thumb" })).toContainText("noon power");
  await show(page, "Season");
  await page.getByText("A curve typed in").click();
  await page.getByLabel("put it beside the others").check();
  await expect(page.getByRole("region", { name: "Variants over the year" })).toContainText("another collector");
  expect(faults).toEqual([]);
});
