import { expect, type Page } from "@playwright/test";

/** Nothing may go wrong silently in the browser while a test runs. */
export function watch(page: Page): string[] {
  const faults: string[] = [];
  page.on("pageerror", (e) => faults.push(e.message));
  page.on("console", (m) => {
    if (m.type() === "error" && !/status of 4\d\d/.test(m.text())) faults.push(m.text());
  });
  return faults;
}

/** What the server drew hears keys and clicks only once its script has taken it over. */
export const alive = (page: Page) =>
  expect
    .poll(() =>
      page.evaluate(() => {
        const control = document.querySelector("main button, main input");
        return control !== null && Object.keys(control).some((key) => key.startsWith("__reactProps"));
      }),
    )
    .toBe(true);
