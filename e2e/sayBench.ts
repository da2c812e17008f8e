import type { Page } from "@playwright/test";

/**
 * Says of a bench what no file knows: how it stands, how its sun sensor lies, and of the first lane its area, its duct and where the
 * flow is metered; the other lanes follow. What is filled already stays.
 * @returns how many entries that took
 */
export async function sayBench(page: Page): Promise<number> {
  let entries = 0;
  const fill = async (label: string, text: string) => {
    const field = page.getByLabel(label, { exact: true }).first();
    if (!(await field.count()) || (await field.inputValue()) !== "") return;
    await field.fill(text);
    await field.press("Enter");
    entries++;
  };
  const choose = async (group: string, option: string) => {
    const radios = page.getByRole("radiogroup", { name: group }).first();
    if (!(await radios.count()) || (await radios.getByRole("radio", { checked: true }).count())) return;
    await radios.getByRole("radio", { name: option, exact: true }).click();
    entries++;
  };
  const site = page.getByRole("combobox", { name: "Site", exact: true });
  if ((await site.count()) && (await site.inputValue()) === "") {
    await site.selectOption({ label: "Tansy Ridge" });
    entries++;
  }
  await fill("Collector tilt", "55");
  await fill("Collectors face", "180");
  await choose("Sun sensor mounted", "in the collector plane");
  await choose("All temperatures in", "°C");
  await fill("Gross area", "2 m²");
  await fill("Inner diameter", "125 mm");
  await choose("Flow metered in the", "outlet");
  return entries;
}
