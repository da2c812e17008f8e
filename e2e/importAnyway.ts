import type { Page } from "@playwright/test";
import { sayBench } from "./sayBench";

/**
 * Presses Import; what is asked is answered by the first choice and by saying that the rest is right.
 * @returns what was asked
 */
export async function importAnyway(page: Page): Promise<string> {
  await sayBench(page);
  const asks = page.getByRole("alert", { name: "Before it is imported" });
  let asked = "";
  for (let tries = 0; tries < 4; tries++) {
    await page.getByRole("button", { name: "Import as one run" }).click();
    const done = await Promise.race([
      page.waitForURL(/\/read/).then(() => true),
      asks.waitFor({ timeout: 60_000 }).then(() => false),
    ]).catch(() => true);
    if (done) break;
    asked += await asks.innerText();
    for (const set of await asks.getByRole("group").all()) await set.getByRole("radio").first().check();
    for (const box of await asks.getByRole("checkbox").all()) await box.check();
  }
  await page.waitForURL(/\/read/);
  return asked;
}
