import AxeBuilder from "@axe-core/playwright";
import { expect, test } from "@playwright/test";
import { withFreshDemo } from "./demo";
import { alive } from "./watch";

withFreshDemo();

/** Every main view by day and in the evening against WCAG 2.2 A and AA, as a machine can check them. */
const STEPS = ["ask", "build", "prove", "plan", "run", "read", "judge", "report", "apply"];
const OTHERS = [
  "/",
  "/import",
  "/sheet",
  "/new",
  "/materials",
  "/site/1",
  "/site?add=1",
  "/devices",
  "/rig",
  "/network",
  "/login",
];

// An entry of the plan is as tall as it is long in time; the keys and the list beside it do the same with full-sized targets.
const essential = (rule: string, html: string) =>
  rule === "target-size" && html.includes('aria-roledescription="movable entry"');

const violations = async (page: import("@playwright/test").Page): Promise<string[]> => {
  const { violations: found } = await new AxeBuilder({ page })
    // Where what passes stands on a page of thousands of parts takes longer than to look at it. Before the tags: it sets all options.
    .options({ resultTypes: ["violations"] })
    .withTags(["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"])
    .analyze();
  return found.flatMap((v) =>
    v.nodes
      .filter((n) => !essential(v.id, n.html))
      .map((n) => `${v.id}: ${n.html.slice(0, 140)} | ${n.any[0]?.message ?? ""}`),
  );
};

/** In one hand: what scrolls can be reached by keys, targets are large enough, headings and landmarks tell the page, nothing is wider than the screen. */
async function phoneFaults(page: import("@playwright/test").Page): Promise<string[]> {
  await page.setViewportSize({ width: 390, height: 844 });
  const { violations: found } = await new AxeBuilder({ page })
    .options({ resultTypes: ["violations"] })
    .withRules(["scrollable-region-focusable", "target-size", "heading-order", "landmark-unique", "empty-table-header"])
    .analyze();
  const wide = await page.evaluate(() => document.documentElement.scrollWidth);
  return [
    ...found.flatMap((v) =>
      v.nodes.filter((n) => !essential(v.id, n.html)).map((n) => `${v.id}: ${n.html.slice(0, 160)}`),
    ),
    ...(wide > 390 ? [`${wide} px wide`] : []),
  ];
}

for (const step of STEPS)
  test(`${step} has no fault a machine can find`, async ({ page }) => {
    await page.goto("/");
    const judge = await page.getByRole("link", { name: "Absorber shapes" }).getAttribute("href");
    await page.goto(judge!.replace("judge", step));
    await expect(page.locator("h1")).toBeVisible();
    expect(await violations(page)).toEqual([]);
    expect(await phoneFaults(page)).toEqual([]);
  });

for (const path of OTHERS)
  test(`${path} has no fault a machine can find`, async ({ page }) => {
    await page.goto(path);
    await expect(page.locator("h1").first()).toBeVisible();
    expect(await violations(page)).toEqual([]);
    expect(await phoneFaults(page)).toEqual([]);
  });

test("the live bench has no fault a machine can find, by day and in the evening", async ({ page, baseURL }) => {
  await page.goto("/");
  await page.getByRole("link", { name: /^Open run 1/ }).click();
  await expect(page.getByTestId("lanes-desk")).toBeVisible();
  expect(await violations(page)).toEqual([]);
  await page.context().addCookies([{ name: "bravel-theme", value: "evening", url: baseURL! }]);
  await page.reload();
  await expect(page.getByTestId("lanes-desk")).toBeVisible();
  expect(await violations(page)).toEqual([]);
});

test("every part of Apply has no fault a machine can find, by day and in the evening", async ({ page, baseURL }) => {
  // Ten pages, each with a year worked out first.
  test.setTimeout(600_000);
  await page.goto("/");
  const judge = await page.getByRole("link", { name: "Bottom mirror" }).getAttribute("href");
  for (const theme of ["day", "evening"]) {
    await page.context().addCookies([{ name: "bravel-theme", value: theme, url: baseURL! }]);
    await page.goto(judge!.replace("judge", "apply"));
    await expect(page.locator("h1")).toContainText("kWh of useful heat");
    await alive(page);
    for (const part of ["Season", "Mirror", "Controls", "Sizing", "Money"]) {
      await page.getByRole("radio", { name: part, exact: true }).check();
      await expect(page.getByText(/^(Working out|Looking for|Solving for|The hours of the year)/)).toHaveCount(0);
      expect(await violations(page)).toEqual([]);
    }
  }
});

test("the evening theme keeps its contrast", async ({ page, baseURL }) => {
  await page.context().addCookies([{ name: "bravel-theme", value: "evening", url: baseURL! }]);
  await page.goto("/");
  expect(await violations(page)).toEqual([]);
  const judge = await page.getByRole("link", { name: "Absorber shapes" }).getAttribute("href");
  for (const step of ["judge", "read", "plan"]) {
    await page.goto(judge!.replace("judge", step));
    await expect(page.locator("h1")).toBeVisible();
    expect(await violations(page)).toEqual([]);
  }
});
