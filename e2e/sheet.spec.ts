import { expect, test, type Page } from "@playwright/test";
import { withFreshDemo } from "./demo";
import { sayBench } from "./sayBench";

withFreshDemo();

const cell = (page: Page, row: number, name: string | RegExp) =>
  page
    .getByRole("listitem")
    .nth(row - 1)
    .getByRole("textbox", { name });

test.describe("on a phone", () => {
  test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });

  test("an afternoon with one thermometer, from an empty sheet to a verdict", async ({ page }) => {
    await page.goto("/sheet");
    await page.getByRole("textbox", { name: "Name" }).first().fill("Two boxes by hand");
    await page.getByLabel("Day").fill("2026-10-06");
    await page.getByRole("radio", { name: "°F" }).click();
    await page.getByRole("radio", { name: "one, carried" }).first().click();
    await page.getByLabel("Flow is").selectOption({ label: "a speed, read each time" });
    await page.getByLabel("read in").selectOption("ft/min");
    await page.getByRole("radiogroup", { name: "Flow meter" }).getByRole("radio", { name: "one, carried" }).click();
    await sayBench(page);

    // The first row by thumb: what it gives stands beside it at once.
    await cell(page, 1, /time/).fill("13:00");
    await cell(page, 1, /: in,/).fill("50.4");
    await cell(page, 1, /: out,/).fill("98.2");
    await cell(page, 1, /speed/).fill("690");
    await expect(page.getByRole("listitem").first()).toContainText(/\d ± \d+/);

    // A slip is said at its cell; nothing is lost, also over a reload.
    await page.getByRole("button", { name: "Next reading" }).click();
    await cell(page, 2, /time/).fill("13:70");
    await cell(page, 2, /: in,/).fill("50.6");
    await expect(page.getByText("“13:70” is no time of day; write 13:05.")).toBeVisible();
    await page.reload();
    await expect(cell(page, 2, /time/)).toHaveValue("13:70");
    await cell(page, 2, /time/).fill("13:05");
    await cell(page, 2, /: out,/).fill("92.1");
    await cell(page, 2, /speed/).fill("3.5 m/s");
    await expect(page.getByTestId("sheet-answer")).toContainText("1 round so far; 3 compare the boxes");

    await page.getByText("Paste a table").click();
    await page
      .getByLabel("Rows as time, box, in, out, flow, sun, outside")
      .fill(
        "13:12\tB\t50.8\t92.3\t691\n13:16\tA\t50.9\t98.8\t688\n13:24\tA\t51.0\t98.5\t692\n13:29\tB\t51.1\t92.6\t690",
      );
    await page.getByRole("button", { name: "Add these rows" }).click();
    await expect(page.getByTestId("sheet-answer")).toContainText("more heat per area than");
    await page.screenshot({ path: "test-results/sheet-phone.png", fullPage: true });
    await page.getByRole("button", { name: "Keep as a run" }).click();
    await page.waitForURL(/\/judge$/);
    await expect(page.locator("h1")).toContainText(/gives \d+.% \(.*\) more heat/);

    // The rows stand in Read, each with its heat; the run says it cannot be swapped.
    await page.goto(page.url().replace("judge", "read"));
    await expect(page.getByRole("heading", { name: "Read by hand in run 1" })).toBeVisible();
    await expect(page.getByRole("region", { name: "Read by hand in run 1" }).getByRole("row")).toHaveCount(7);
  });
});

test("exchanged in and out are named while they are typed, and asked about before the sheet is kept", async ({
  page,
}) => {
  await page.goto("/");
  await page.getByRole("link", { name: "The afternoon test" }).first().click();
  await page.waitForURL(/experiments/);
  await page.goto(page.url().replace(/(experiments\/\d+).*/, "$1/run"));
  await page.getByRole("link", { name: "Read by hand" }).click();
  await page.getByLabel("Day").fill("2026-11-03");
  await page.getByRole("radio", { name: "°C" }).click();
  await page.getByRole("radio", { name: "each its own" }).first().click();
  await page.getByLabel("Flow is").selectOption({ label: "a speed, read each time" });
  await page.getByLabel("read in").selectOption("m/s");
  await page.getByRole("radiogroup", { name: "Flow meter" }).getByRole("radio", { name: "each its own" }).click();
  await sayBench(page);
  await page.getByText("Paste a table").click();
  await page
    .getByLabel("Rows as time, box, in, out, flow, sun, outside")
    .fill("13:00\tA\t33\t8\t4\n13:05\tB\t40\t9\t3");
  await page.getByRole("button", { name: "Add these rows" }).click();
  await expect(page.getByRole("alert").first()).toContainText(/cool/i);
  await page.getByRole("button", { name: "Keep as a run" }).click();
  await expect(page.getByRole("alert", { name: "Before it is imported" })).toBeVisible();
});
