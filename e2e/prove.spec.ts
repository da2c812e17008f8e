import { expect, test, type Page } from "@playwright/test";
import { bathLogCsv } from "../demo/logFiles";
import { DEMO } from "../demo/tansyRidge";
import { simulateBath, type BathPlan } from "../src/core/rig/bath";
import { benchProbes } from "../src/core/rig/bench";
import { watch } from "./watch";
import { withFreshDemo } from "./demo";

withFreshDemo();

const COATING = DEMO.find((d) => d.key === "coating")!;
const PLAN: BathPlan = {
  seed: 77,
  probes: benchProbes(COATING.plan),
  startMs: Date.UTC(2026, 9, 10, 8),
  minutes: 100,
  stepS: 10,
  fromC: 14,
  hotC: 70,
  roomC: 12,
  coolingMin: 60,
  gradientK: 0.02,
};
const log = (change: Partial<BathPlan> = {}) => ({
  name: "bath.csv",
  mimeType: "text/csv",
  buffer: Buffer.from(bathLogCsv(simulateBath({ ...PLAN, ...change }))),
});

async function openProve(page: Page): Promise<void> {
  await page.goto("/");
  const href = await page
    .getByRole("link", { name: "Paint or selective foil", exact: true })
    .first()
    .getAttribute("href");
  await page.goto(href!.replace(/\/[a-z]+$/, "/prove"));
  await expect(page.getByRole("heading", { level: 1 })).toContainText("probe");
}
const drop = (page: Page, file: ReturnType<typeof log>) =>
  page.getByRole("region", { name: "A new bath" }).locator('input[type="file"]').setInputFiles(file);

test("import a bath log, calibrate, apply: the verdict changes; take it off: it is as before", async ({ page }) => {
  const faults = watch(page);
  await openProve(page);
  const sentence = page.getByRole("heading", { level: 1 });
  await expect(sentence).toContainText("not enough to tell");
  await expect(page.getByTestId("budget")).toContainText(/Temperature probes.*\d+/);
  await expect(page.getByTestId("what-if")).toContainText("calibrate the probes in one stirred bath");
  await drop(page, log());
  const result = page.getByTestId("bath-result");
  await expect(result).toContainText("after correction by an offset");
  await expect(result.getByRole("row", { name: /2-out/ })).toContainText("±");
  await page.getByRole("textbox", { name: "Name" }).fill("Kettle, October");
  await page.getByRole("button", { name: "Keep this calibration" }).click();
  const kept = page
    .getByRole("region", { name: "Calibrations" })
    .getByRole("listitem")
    .filter({ hasText: "Kettle, October" });
  await kept.getByRole("button", { name: "Apply to this experiment" }).click();
  await expect(sentence).toContainText("Calibrated probes count in run 1");
  await expect(sentence).not.toContainText("not enough to tell");
  await expect(kept).toContainText("over run 1: 1-in");
  await page.getByRole("link", { name: /^Judge/ }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Selective foil (B) gives");
  await page
    .getByRole("heading", { level: 1 })
    .getByRole("button", { name: /open its working/ })
    .click();
  await expect(page.getByRole("complementary", { name: "Working" })).toContainText(
    "calibration “Kettle, October” over run 1",
  );
  await page.keyboard.press("Escape");
  await page.getByRole("link", { name: /^Prove/ }).click();
  await kept.getByRole("button", { name: "Take it off" }).click();
  await expect(sentence).toContainText("not enough to tell");
  await page.getByRole("link", { name: /^Judge/ }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Cannot tell");
  expect(faults).toEqual([]);
});

test("baths that cannot say what is asked of them: two probes, one, constant, half missing, twice the label, 3 K for a slope", async ({
  page,
}) => {
  await openProve(page);
  const region = page.getByRole("region", { name: "A new bath" });
  await drop(page, log({ probes: PLAN.probes.slice(0, 2) }));
  await expect(region).toContainText("Two probes only");
  await drop(page, log({ probes: PLAN.probes.slice(0, 1) }));
  await expect(region.getByRole("alert")).toContainText("a bath compares at least two");
  await drop(page, log({ fromC: 20, hotC: 20.2, roomC: 20 }));
  await expect(region).toContainText("The bath stood still");
  await drop(
    page,
    log({ probes: PLAN.probes.map((p, i) => (i === 1 ? { ...p, missing: [0.3, 0.8] as [number, number] } : p)) }),
  );
  await expect(region).toContainText(/1-out logged nothing for \d+/);
  await drop(page, log({ probes: [...PLAN.probes.slice(0, 3), { ...PLAN.probes[0], key: "1-in " }] }));
  await expect(region.getByRole("alert")).toContainText("label of its own");
  await drop(page, log({ fromC: 20, hotC: 23, roomC: 20 }));
  await expect(region.getByRole("alert")).toHaveCount(0);
  await region.getByLabel("Correct by").selectOption("line");
  await expect(region).toContainText("No slope from a span of");
  await drop(page, { name: "words.csv", mimeType: "text/csv", buffer: Buffer.from("all\nwords\n") });
  await expect(region.getByRole("alert")).toContainText("was not understood as a log");
});

test("a table typed by hand is calibrated like a log", async ({ page }) => {
  await openProve(page);
  const region = page.getByRole("region", { name: "A new bath" });
  await region.getByRole("button", { name: "or type a table" }).click();
  const rows = Array.from({ length: 20 }, (_, i) => [60 - i, 60.5 - i, 59.8 - i].map((v) => v.toFixed(1)).join("\t"));
  await region.getByRole("textbox").fill(["a\tb\tc", ...rows].join("\n"));
  await region.getByRole("button", { name: "Use this table" }).click();
  await expect(page.getByTestId("bath-result").getByRole("row", { name: /^b/ })).toContainText(/0\.4/);
});

test("a traverse is filled by keyboard alone, refuses negative speeds, and its factor lies over the run as a layer", async ({
  page,
}) => {
  await openProve(page);
  await page.getByText("Traverse worksheet").focus();
  await page.keyboard.press("Enter");
  const first = page.getByLabel(/^Speed at place 1,/);
  await first.focus();
  await page.keyboard.type("-3");
  await expect(page.getByRole("alert").filter({ hasText: "not negative" })).toBeVisible();
  await page.keyboard.press("Control+a");
  for (const v of ["2,6", "3.1 m/s", "3.5", "3.5", "3.1", "2.6", "2.6", "3.1", "3.5", "3.5", "610 fpm", "2.6"]) {
    await page.keyboard.type(v);
    await page.keyboard.press("Enter");
  }
  await page.keyboard.type("3.6");
  await expect(page.getByTestId("traverse")).toContainText(/Mean speed 3\.0\d? ± .*mean ÷ read speed 0\.8[45]/);
  await page.keyboard.press("Tab");
  await page.keyboard.press("Enter");
  const layer = page.locator("[data-flow-layer]");
  await expect(layer).toContainText("traverse of 12 places, over run 1");
  await layer.getByRole("button", { name: "Take it off" }).click();
  await expect(layer).toHaveCount(0);
});

test("the register keeps instruments, says which are due, and what was changed", async ({ page }) => {
  await openProve(page);
  const register = page.getByRole("region", { name: "Instruments" });
  await register.getByRole("button", { name: "2-in", exact: true }).click();
  await register.getByRole("button", { name: "Keep it" }).click();
  const row = register.getByRole("row", { name: /^2-in/ });
  await expect(row).toContainText("0.5 K");
  await row.getByRole("button", { name: "Change" }).click();
  await register.getByLabel("Calibrate every, days").fill("1");
  await register.getByLabel("Calibrate every, days").press("Tab");
  await register.getByRole("button", { name: "Keep it" }).click();
  await expect(row).toContainText("calibration due");
  await row.getByRole("button", { name: "History" }).click();
  await expect(row).toContainText("instrument changed");
  await register.getByRole("button", { name: "Add an instrument" }).click();
  await register.getByLabel("Label on it").fill("2-in");
  await register.getByRole("button", { name: "Keep it" }).click();
  await expect(page.getByText(/is taken\. Give each instrument a label of its own/)).toBeVisible();
});

test("before any run, the planned budget names the weak instrument", async ({ page }) => {
  await page.goto("/");
  const href = await page.getByRole("link", { name: "Ten ways", exact: true }).first().getAttribute("href");
  await page.goto(href!.replace(/\/[a-z]+$/, "/prove"));
  const planned = page.getByTestId("planned");
  await expect(planned.getByRole("listitem").first()).toContainText(/Speed meter|Profile factor/);
  await planned.getByLabel("Expected rise").fill("4 K");
  await planned.getByLabel("Expected rise").press("Enter");
  await expect(planned.getByRole("listitem").first()).toContainText(/probe/);
});

test("bench tools are a key away: quick reading with its ±, checked by drawing, saved; units of the trade", async ({
  page,
}) => {
  await openProve(page);
  const tools = page.getByRole("dialog", { name: "Bench tools" });
  // A key pressed before the page listens is lost, as any visitor's would be: pressed again.
  await expect(async () => {
    await page.keyboard.press("t");
    await expect(tools).toBeVisible({ timeout: 2000 });
  }).toPass();
  await tools.getByLabel("Out", { exact: true }).fill("104 F");
  await tools.getByLabel("Out", { exact: true }).press("Enter");
  await expect(tools.getByTestId("quick-heat")).toContainText(/Heat 80\d ± \d+\s?W/);
  await tools.getByRole("button", { name: "Check the ± by drawing" }).click();
  await expect(tools).toContainText("20 000 draws");
  await tools.getByRole("button", { name: "Save into this experiment" }).click();
  await expect(tools).toContainText(/run 1: 18.* in, 40.* out/);
  await expect(tools.getByTestId("converted")).toContainText("4.2926 m/s");
  await tools.getByLabel("Figure with its unit").fill("fast");
  await expect(tools.getByRole("alert")).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(tools).toBeHidden();
});
