import { expect, test, type Page } from "@playwright/test";
import { addressOf, withFreshDemo } from "./demo";
import { watch } from "./watch";

withFreshDemo();

/** By its whole name, or by how its name begins where what stands beside it belongs to the name. */
const field = (page: Page, name: string) =>
  name.startsWith("^")
    ? page.getByRole("textbox", { name: new RegExp(name) }).first()
    : page.getByRole("textbox", { name, exact: true });

/** Numbers may stand apart from their unit by a narrow space. */
const shown = (value: string) => new RegExp(`^${value.replace(/[.^]/g, "\\$&").replace(/ /g, "\\s")}$`);

/** Types one field after the other as fast as keys go down, waiting for nothing; then says what stands there after a reload. */
async function typed(page: Page, values: Record<string, string>): Promise<void> {
  for (const [name, value] of Object.entries(values)) {
    await field(page, name).fill(value);
    await field(page, name).press("Tab");
  }
  for (const [name, value] of Object.entries(values)) await expect(field(page, name)).toHaveValue(shown(value));
  await expect(page.getByText(/^(ranking anew|saving|keeping) …$/i)).toHaveCount(0);
  await page.waitForLoadState("networkidle");
  await page.reload();
  for (const [name, value] of Object.entries(values)) await expect(field(page, name)).toHaveValue(shown(value));
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

/** A page's first heading, drawn by the page itself: its fields listen. */
async function open(page: Page, address: string): Promise<void> {
  await page.goto(address);
  await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
  await page.waitForLoadState("networkidle");
}

const FORMS: [form: string, step: string, values: Record<string, string>][] = [
  [
    "where the winner will run",
    "ask",
    { Wind: "2.4 m/s", Tilt: "61 °", "Coldest night": "-22 °C", "Hottest day": "33 °C" },
  ],
  ["the plan", "plan", { Days: "7", "A swap takes": "17 min", "Checks take": "13 min" }],
  [
    "a season's use",
    "apply",
    { "Loss of the room": "141 W/K", "Kept at least at": "13 °C", "Let out above": "27 °C", "One way": "5 m" },
  ],
  [
    "a bill",
    "build?view=bill",
    { "Hours, first unit": "11", "Hours, each more": "7", "An hour is worth": "21", Currency: "Kr" },
  ],
  [
    "what a specimen measures",
    "build?view=specimens",
    {
      "^Gross area": "2.04 m²",
      "^Aperture area": "1.81 m²",
      "^Weight, empty": "31 kg",
      "^Other deviations": "cut short",
    },
  ],
];

for (const [form, step, values] of FORMS)
  test(`fields of ${form} typed at once are all saved`, async ({ page }) => {
    const faults = watch(page);
    await open(page, `${await addressOf(page, "Absorber shapes")}/${step}`);
    await typed(page, values);
    expect(faults).toEqual([]);
  });

test("fields of a site typed at once are all saved, and Undo takes back the last alone", async ({ page }) => {
  const faults = watch(page);
  await open(page, "/site");
  const [altitude, turbidity] = [field(page, "Altitude"), field(page, "Turbidity in May")];
  const before = await turbidity.inputValue();
  await typed(page, { Altitude: "777 m", "Air pressure": "901 hPa", "Ground reflectance in June": "0.31" });
  await altitude.fill("778 m");
  await altitude.press("Tab");
  await turbidity.fill("4.4");
  await turbidity.press("Tab");
  await expect(turbidity).toHaveValue("4.4");
  await expect(page.getByText("Keeping …")).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(turbidity).toHaveValue(before);
  await expect(altitude).toHaveValue("778 m");
  await expect(page.getByText("Keeping …")).toHaveCount(0);
  await page.waitForLoadState("networkidle");
  await page.reload();
  await expect(turbidity).toHaveValue(before);
  await expect(altitude).toHaveValue("778 m");
  expect(faults).toEqual([]);
});
