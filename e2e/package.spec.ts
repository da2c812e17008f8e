import { readFile } from "node:fs/promises";
import { expect, test } from "@playwright/test";
import { withFreshDemo } from "./demo";

withFreshDemo();

test("a dismissed doubt is printed; the report goes out as a package and comes in with the same results", async ({
  page,
}) => {
  await page.goto("/");
  await page.getByRole("link", { name: "Absorber shapes" }).first().click();
  await expect(page.getByRole("heading", { level: 2, name: "Doubts" })).toBeVisible();
  await page
    .getByRole("button", { name: /^Dismiss: / })
    .first()
    .click();
  await page.getByLabel("Why it does not count").fill("both places were looked at with smoke");
  await page.getByRole("button", { name: "Dismiss it" }).click();
  await expect(page.getByRole("list", { name: "Dismissed doubts" })).toContainText("looked at with smoke");

  await page.getByRole("button", { name: "Compare by all daylight" }).click();
  await expect(page.getByRole("table", { name: "Two schools" })).toContainText("difference at your point");
  await page.getByLabel("Note").fill("as printed");
  await page.getByRole("button", { name: "Freeze this verdict" }).click();
  await expect(page.getByText("Nothing has changed since.")).toBeVisible();

  await page.getByRole("link", { name: "Report" }).click();
  await page.emulateMedia({ media: "print" });
  await expect(page.getByText("looked at with smoke")).toBeVisible();
  await expect(page.getByRole("button", { name: /Print/ })).toBeHidden();
  await expect(page.getByText("Fingerprint of the results")).toBeVisible();
  await page.emulateMedia({ media: "screen" });

  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: /Package/ }).click(),
  ]);
  const path = await download.path();
  await page.goto("/");
  await page.getByLabel("Package of an experiment (zip)").setInputFiles(path);
  await page.waitForURL(/\/experiments\/\d+\/judge/);
  await expect(page.getByText("the same results as where it comes from, to the last digit")).toBeVisible();
  await expect(page.getByRole("list", { name: "Dismissed doubts" })).toContainText("looked at with smoke");

  // Dropped among logs it is what it is.
  await page.goto("/import");
  const dropped = { name: "absorber-shapes.zip", mimeType: "application/zip", buffer: await readFile(path) };
  await page.getByLabel("Choose log files").setInputFiles(dropped);
  await page.waitForURL(/\/experiments\/\d+\/judge/);
  await expect(page.getByText("the same results as where it comes from, to the last digit")).toBeVisible();
});
