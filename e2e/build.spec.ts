import { expect, test, type Page } from "@playwright/test";
import sharp from "sharp";
import { watch } from "./watch";
import { withFreshDemo } from "./demo";

withFreshDemo();

const heat = (page: Page) => page.locator('[data-testid="predicted"] [data-figure="heatPerArea"]');
const settled = async (page: Page) => {
  await expect(page.getByTestId("predicted")).toHaveAttribute("data-busy", "false");
  return (await heat(page).textContent())!;
};

async function openBuild(page: Page, experiment: string, query = ""): Promise<void> {
  await page.goto("/");
  const href = await page.getByRole("link", { name: experiment, exact: true }).first().getAttribute("href");
  await page.goto(`${href!.replace(/\/[a-z]+$/, "/build")}${query}`);
}

const copyOf = async (page: Page, name: string): Promise<void> => {
  await page.getByRole("button", { name: /^Copy [A-Z], or draw/ }).click();
  await page.getByLabel("Name", { exact: true }).fill(name);
  await page.getByRole("button", { name: "Make the variant" }).click();
  await expect(
    page.getByRole("navigation", { name: "Variants" }).getByRole("button", { name: new RegExp(name) }),
  ).toHaveAttribute("aria-current", "true");
};

test("two glazings from a copy: the figures move, the foam passes its limit, the wool mends it, the list prints", async ({
  page,
}) => {
  const faults = watch(page);
  await openBuild(page, "Absorber shapes", "?v=A");
  await expect(heat(page)).toBeVisible();
  await copyOf(page, "Winter heater");
  const before = await settled(page);

  await page.getByRole("button", { name: "Add a glazing" }).click();
  await expect(page.locator("[data-layer-row]")).toHaveCount(9);
  await expect.poll(() => settled(page)).not.toBe(before);

  await page.locator('[data-layer-row="wool"] th button').click();
  await page.getByLabel("Material", { exact: true }).selectOption("foam-pir");
  const notices = page.getByRole("list", { name: "Limits and hazards" });
  await expect(notices).toContainText(/Rigid foam \(PIR\) reaches \d+ ± \d+\s°C without flow.*its limit is 110/);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("without flow its rigid foam (PIR) reaches");

  await notices.getByRole("button", { name: "Insert the wool" }).click();
  await expect(page.locator("[data-layer-row]")).toHaveCount(10);
  await expect(notices).not.toContainText(/Rigid foam \(PIR\) reaches/);
  await page.getByRole("button", { name: "Save as revision" }).click();
  await expect(page.getByText("Revision 2 saved.")).toBeVisible();
  await expect(page.getByText("revision 2", { exact: true }).first()).toBeVisible();

  await page.getByRole("button", { name: "Materials and cost" }).click();
  await expect(page.getByTestId("bill")).toContainText("Rigid foam (PIR), foil-faced");
  await page.evaluate(() => {
    (window as unknown as { printed: number }).printed = 0;
    window.print = () => {
      (window as unknown as { printed: number }).printed++;
    };
  });
  await page.getByRole("button", { name: "Print the list" }).click();
  expect(await page.evaluate(() => (window as unknown as { printed: number }).printed)).toBe(1);
  await page.emulateMedia({ media: "print" });
  await expect(page.getByTestId("bill")).toBeVisible();
  await expect(page.getByRole("button", { name: "Print the list" })).toBeHidden();
  expect(faults).toEqual([]);
});

test("undo, redo, a reload in the middle and the keyboard: nothing is lost", async ({ page }) => {
  await openBuild(page, "Absorber shapes", "?v=A");
  await copyOf(page, "Kept draft");
  const first = await settled(page);
  const rows = page.locator("[data-layer-row]");
  await expect(rows).toHaveCount(7);
  await page.getByRole("group", { name: /^Section/ }).focus();
  await page.keyboard.press("ArrowDown");
  await page.keyboard.press("Delete");
  await expect(rows).toHaveCount(6);
  await page.reload();
  await expect(rows).toHaveCount(6);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(rows).toHaveCount(7);
  await expect.poll(() => settled(page)).toBe(first);
  await page.keyboard.press("Control+y");
  await expect(rows).toHaveCount(6);
  await page.keyboard.press("Control+z");
  await expect(rows).toHaveCount(7);

  // A row is moved with its grip by the keyboard: space, down, space.
  const names = async () => rows.getByRole("rowheader").allTextContents();
  const was = await names();
  await page.getByRole("button", { name: /^Move Mineral wool board/ }).focus();
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: /^Move Mineral wool board/ })).toHaveAttribute("aria-pressed", "true");
  await expect(page.getByText(/was moved over droppable area wool/)).toBeAttached();
  await page.keyboard.press("ArrowDown");
  await expect(page.getByText(/was moved over droppable area board/)).toBeAttached();
  await page.keyboard.press("Space");
  await expect.poll(names).not.toEqual(was);
});

test("dragging a layer in the section moves it", async ({ page }) => {
  await openBuild(page, "Absorber shapes", "?v=A");
  await copyOf(page, "Dragged");
  await settled(page);
  const wool = page.locator('[data-slab="wool"]');
  const board = page.locator('[data-slab="board"]');
  const [a, b] = [(await wool.boundingBox())!, (await board.boundingBox())!];
  await page.mouse.move(a.x + a.width / 3, a.y + a.height / 2);
  await page.mouse.down();
  await page.mouse.move(b.x + b.width / 3, b.y + b.height / 2, { steps: 6 });
  await page.mouse.up();
  await expect(page.locator("[data-layer-row]").last()).toContainText("Mineral wool board");
});

test("impossible stacks, absurd sizes and words in number fields say what, why and the way out, and lose nothing", async ({
  page,
}) => {
  const faults = watch(page);
  await openBuild(page, "Absorber shapes", "?v=A");
  await copyOf(page, "Impossible");
  await settled(page);
  const notices = page.getByRole("list", { name: "Limits and hazards" });
  const undo = page.getByRole("button", { name: "Undo" });
  const rows = page.locator("[data-layer-row]");

  // A film behind the insulation.
  await page.locator('[data-layer-row="wool"] th button').click();
  await page.getByRole("button", { name: "glazing", exact: true }).click();
  await page.getByLabel("Material", { exact: true }).selectOption("film-polyethylene");
  await expect(notices).toContainText("lies behind the insulation, where no light comes");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Polyethylene greenhouse film");
  await expect(page.getByRole("button", { name: "Save as revision" })).toBeDisabled();
  await undo.click();
  await undo.click();
  await expect(rows).toHaveCount(7);

  // Water in a mesh.
  await page.locator('[data-layer-row="absorber"]').locator("th button").click();
  await page.getByLabel("Form").selectOption("mesh");
  await page.getByLabel("Fluid").selectOption("water");
  await expect(notices).toContainText("This absorber cannot hold water");
  await undo.click();
  await undo.click();

  // Sizes: text, zero, huge. The field says why and keeps what was typed; the design stays as it was.
  await page.locator('[data-layer-row="wool"] th button').click();
  const thickness = page.getByLabel("Thickness", { exact: true });
  for (const [typed, says] of [
    ["thick", /understood|number/i],
    ["0", /At least/],
    ["900 m", /At most/],
    ["-5 mm", /At least/],
  ] as const) {
    await thickness.fill(typed);
    await thickness.press("Enter");
    await expect(thickness).toHaveValue(typed);
    await expect(page.getByRole("alert").filter({ hasText: says })).toBeVisible();
  }
  await thickness.fill("2 in");
  await thickness.press("Enter");
  await expect(rows.filter({ hasText: "Mineral wool board" })).toContainText("50.8");

  // Forty layers.
  for (let i = 0; i < 34; i++) await page.getByRole("button", { name: "insulation", exact: true }).click();
  await expect(notices).toContainText(/41 layers are more than the 24 the model takes/);
  await expect(rows).toHaveCount(41);
  await page.reload();
  await expect(rows).toHaveCount(41);
  expect(faults).toEqual([]);
});

test("every predicted figure opens its working, which moves with the design", async ({ page }) => {
  await openBuild(page, "One or two glazings", "?v=B");
  await settled(page);
  await heat(page).getByRole("button").click();
  const panel = page.getByRole("complementary", { name: "Working" });
  await expect(panel).toContainText("Heat at your point, predicted");
  await expect(panel).toContainText("Heat from wall to stream");
  const was = await panel.textContent();
  const width = page.getByLabel("Outside width");
  const wide = await width.inputValue();
  await width.fill("0.8");
  await width.press("Enter");
  await expect.poll(() => panel.textContent()).not.toBe(was);
  // What is drawn is kept: as the next test finds it.
  await width.fill(wide);
  await width.press("Enter");
  await expect.poll(() => panel.textContent()).toBe(was);
  await page.keyboard.press("Escape");
  await expect(panel).toBeHidden();
  await page.getByText(/more figures$/).click();
  for (const figure of await page.locator('[data-testid="predicted"] dd[data-figure]').all())
    await expect(figure.getByRole("button")).toHaveCount(1);
});

test("two changed at once are named as confounded, the missing variant is proposed and drawn", async ({ page }) => {
  await openBuild(page, "Paint or selective foil", "?v=A");
  await copyOf(page, "Two changes");
  await settled(page);
  await page.getByRole("button", { name: "Add a glazing" }).click();
  await page.locator('[data-layer-row="absorber"]').locator("th button").click();
  await page.getByLabel("Coating, sun side").selectOption("black-chrome");
  await settled(page);
  // What is drawn is what Ask uses, saved as a revision or not: the press follows the last edit at once.
  await page.getByRole("link", { name: /^Ask/ }).click();
  const confounded = page.getByTestId("confounded");
  await expect(confounded).toContainText(/differ in .*(coating|glazing).*you cannot say which helped/);
  const letters = page.getByTestId("predicted-ranking").getByRole("row");
  await expect(page.getByTestId("predicted-ranking")).not.toContainText("working");
  const before = await letters.count();
  await confounded.getByRole("button", { name: "Draw it" }).first().click();
  await expect(letters).toHaveCount(before + 1);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("These variants can answer");
});

test("ten ways are sorted before anyone cuts sheet: every form predicted, ranked and explained", async ({ page }) => {
  await openBuild(page, "Ten ways");
  await page.getByRole("link", { name: /^Ask/ }).click();
  const ranking = page.getByTestId("predicted-ranking");
  await expect(ranking.getByRole("row")).toHaveCount(11);
  await expect(ranking).toContainText("highest value by the model");
  await expect(ranking).toContainText(/loses more than|passes less heat/);
  await expect(ranking).toContainText("Highest predicted value by basis");
  await ranking.getByLabel("rank").selectOption("metre");
  await expect(ranking.getByRole("row")).toHaveCount(5);
});

test("two variants stand side by side with what differs marked", async ({ page }) => {
  await openBuild(page, "One or two glazings", "?v=B&with=A&view=compare");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("A and B differ in glazing.");
  await expect(page.getByRole("row", { name: /glazing ?, differs/ }).first()).toContainText(
    "float glass 4 mm + float glass 4 mm",
  );
  await expect(page.getByRole("row", { name: /Heat at your point/ })).toContainText("±");
});

test("bill: price, pack and scrounged change the cost and are kept; the checklist keeps ticks, notes and photos", async ({
  page,
}) => {
  await openBuild(page, "Absorber shapes", "?v=C&view=bill");
  const glass = page.getByTestId("bill").getByRole("row", { name: /Float glass, toughened/ });
  await glass.getByRole("button", { name: /^Price of/ }).click();
  const price = page.getByLabel("Price of Float glass, toughened");
  await price.fill("abc");
  await price.press("Enter");
  await expect(price).toHaveValue("abc");
  await expect(page.getByRole("alert").filter({ hasText: "a number from 0" })).toBeVisible();
  await price.fill("12,5");
  await price.press("Enter");
  await expect(glass).toContainText("12.50");
  await glass.getByRole("combobox").selectOption("once");
  await expect(glass.getByRole("cell").nth(6)).toHaveText("0.00");
  await expect(page.getByText("Keeping …")).toHaveCount(0);
  await page.reload();
  await expect(glass).toContainText("12.50");
  await expect(glass.getByRole("combobox")).toHaveValue("once");

  await page.getByRole("button", { name: "Checklist" }).click();
  const smoke = page.locator('[data-item="smokeTest"]');
  await smoke.getByRole("checkbox").check();
  await smoke.getByLabel("Note").fill("tight");
  await smoke.getByLabel("Note").blur();
  const png = Buffer.from(
    "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==",
    "base64",
  );
  await smoke.locator('input[type="file"]').setInputFiles({ name: "joint.png", mimeType: "image/png", buffer: png });
  await expect(smoke.getByRole("img")).toBeVisible();
  await smoke
    .locator('input[type="file"]')
    .setInputFiles({ name: "page.png", mimeType: "image/png", buffer: Buffer.from("<script>alert(1)</script>") });
  await expect(page.getByText(/is not a picture this browser can read/)).toBeVisible();
  await expect(page.getByText("Keeping …")).toHaveCount(0);
  await page.reload();
  await expect(smoke.getByRole("checkbox")).toBeChecked();
  await expect(smoke.getByLabel("Note")).toHaveValue("tight");
  await expect(smoke.getByRole("img")).toBeVisible();
});

test("photos: only real pictures are taken, and they are served as such and nothing else", async ({
  page,
  request,
}) => {
  await openBuild(page, "Absorber shapes", "?v=A");
  const experiment = /experiments\/(\d+)/.exec(page.url())![1];
  const html = await request.post(`/api/photos?experiment=${experiment}&variant=1&item=x`, {
    data: Buffer.from("<html><script>alert(1)</script></html>"),
    headers: { "content-type": "image/png" },
  });
  expect(html.status()).toBe(415);
  const jpeg = await sharp({ create: { width: 6, height: 4, channels: 3, background: "#805030" } })
    .jpeg()
    .toBuffer();
  const sent = await request.post(`/api/photos?experiment=${experiment}&variant=1&item=x`, {
    data: jpeg,
    headers: { "content-type": "text/html" },
  });
  const { id } = (await sent.json()) as { id: number };
  const got = await request.get(`/api/photos/${id}`);
  expect(got.headers()["content-type"]).toBe("image/jpeg");
  expect(got.headers()["x-content-type-options"]).toBe("nosniff");
  expect(got.headers()["content-security-policy"]).toContain("sandbox");
  expect((await request.get("/api/photos/999999")).status()).toBe(404);
  const large = await request.post(`/api/photos?experiment=${experiment}&variant=1&item=x`, {
    data: Buffer.concat([jpeg, Buffer.alloc(5 * 1024 * 1024)]),
  });
  expect(large.status()).toBe(413);
});

test("specimens: an identical one gets a lane, measures are kept, absurd ones refused", async ({ page }) => {
  await openBuild(page, "Paint or selective foil", "?v=B&view=specimens");
  await page.getByRole("button", { name: "Add an identical one" }).click();
  await expect(page.locator("[data-specimen]")).toHaveCount(2);
  const second = page.locator('[data-specimen="2"]');
  const area = second.getByLabel("Gross area");
  await area.fill("200");
  await area.press("Enter");
  await expect(second.getByRole("alert")).toContainText("five times off the plan");
  await area.fill("1.98");
  await area.press("Enter");
  await expect(second).toContainText("−1.0 % from plan");
  await second.getByRole("button", { name: "remove" }).click();
  await expect(page.locator("[data-specimen]")).toHaveCount(1);
});

test("materials: find, make one's own, use it, take it out again; a broken CSV names its cell", async ({ page }) => {
  const faults = watch(page);
  await page.goto("/materials");
  await page.getByLabel("Find").fill("solvent");
  await expect(page.getByRole("row", { name: /spray paint/ })).toBeVisible();
  await expect(page.getByRole("row", { name: /Float glass/ })).toHaveCount(0);
  await page.getByLabel("Find").fill("mineral wool");
  await page
    .getByRole("row", { name: /Mineral wool board/ })
    .getByRole("button", { name: "Make mine" })
    .click();
  await page.getByLabel("Name", { exact: true }).fill("Ridge wool");
  await page.getByLabel("Conductivity, W/(m·K)").fill("warm");
  await page.getByLabel("Conductivity, W/(m·K)").press("Tab");
  await expect(page.getByLabel("Conductivity, W/(m·K)")).toHaveValue("warm");
  await page.getByLabel("Conductivity, W/(m·K)").fill("0.041");
  await page.getByRole("button", { name: "Keep it" }).click();
  await page.getByLabel("Find").fill("");
  await page.getByLabel("Kind").first().selectOption("own");
  await expect(page.getByRole("row", { name: /Ridge wool/ })).toContainText("0.041");
  await page.locator('input[type="file"]').setInputFiles({
    name: "mine.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("key,name,group,density_kg_m3\nx,Straw,insulation,light\n"),
  });
  await expect(page.getByRole("alert").filter({ hasText: "Nothing was taken over" })).toContainText(
    'Row 1, density_kg_m3: "light" is no number',
  );
  await page
    .getByRole("row", { name: /Ridge wool/ })
    .getByRole("button", { name: "Remove" })
    .click();
  await expect(page.getByRole("row", { name: /Ridge wool/ })).toHaveCount(0);
  expect(faults).toEqual([]);
});

test("a question first: new experiment, two drawn variants, and the bench says what is expected", async ({ page }) => {
  const faults = watch(page);
  await page.goto("/");
  await page.getByRole("link", { name: "New experiment" }).click();
  await page.getByLabel("Name of the experiment").fill("Fins or not");
  await page.getByLabel("Question").fill("Do fins earn their work?");
  await page.getByRole("button", { name: "Go on to draw the variants" }).click();
  await page.getByRole("button", { name: /flat sheet$/ }).click();
  await expect(heat(page)).toBeVisible();
  await page.getByRole("button", { name: /^Copy A, or draw/ }).click();
  await page.getByLabel("Begin with").selectOption("fins");
  await page.getByRole("button", { name: "Make the variant" }).click();
  await expect(
    page.getByRole("navigation", { name: "Variants" }).getByRole("button", { name: /Finned sheet/ }),
  ).toHaveAttribute("aria-current", "true");
  await settled(page);
  await page.getByRole("link", { name: /^Ask/ }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("they differ in absorber form alone");
  await page.getByRole("link", { name: "Bench", exact: true }).click();
  await expect(page.getByText("2 variants are drawn, none built yet")).toBeVisible();
  expect(faults).toEqual([]);
});
