import { expect, test, type Page } from "@playwright/test";
import { addressOf, withFreshDemo } from "./demo";
import { watch } from "./watch";

withFreshDemo();

const field = (page: Page, name: string) => page.getByRole("textbox", { name, exact: true });

/** Types one field after the other as fast as keys go down, waiting for nothing; then says what stands there after a reload. */
async function typed(page: Page, values: Record<string, string>): Promise<void> {
  for (const [name, value] of Object.entries(values)) {
    await field(page, name).fill(value);
    await field(page, name).press("Tab");
  }
  for (const [name, value] of Object.entries(values)) await expect(field(page, name)).toHaveValue(value);
  await expect(page.getByText(/ranking anew|saving/i)).toHaveCount(0);
  await page.waitForLoadState("networkidle");
  await page.reload();
  for (const [name, value] of Object.entries(values)) await expect(field(page, name)).toHaveValue(value);
}

for (const step of ["judge", "ask"])
  test(`four fields of the operating point typed at once on ${step} are all saved`, async ({ page }) => {
    const faults = watch(page);
    await page.goto(`${await addressOf(page, "Absorber shapes")}/${step}`);
    await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
    await page.waitForLoadState("networkidle");
    const shift = step === "ask" ? 1 : 0;
    await typed(page, {
      Inlet: `${17 + shift} °C`,
      Outside: `${3 + shift} °C`,
      "Sun in plane": `${810 + shift} W/m²`,
      "Matters from": `${12 + shift} W/m²`,
    });
    expect(faults).toEqual([]);
  });
