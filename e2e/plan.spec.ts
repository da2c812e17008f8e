import { expect, test, type Page } from "@playwright/test";
import ICAL from "ical.js";
import { readFileSync } from "node:fs";
import { watch } from "./watch";
import { epwText } from "./epwFile";
import { withFreshDemo } from "./demo";

withFreshDemo();

async function addSite(page: Page, name: string, coordinates: string, zone: string, altitude = "50 m"): Promise<void> {
  await page.goto("/site?add=1", { waitUntil: "networkidle" });
  await page.getByLabel("Site’s name").fill(name);
  await page.getByLabel("Time zone").fill(zone);
  await page.getByLabel("Coordinates").fill(coordinates);
  await page.getByLabel("Altitude").fill(altitude);
  await page.getByLabel("Altitude").press("Enter");
  const keep = page.getByRole("button", { name: "Keep this site" });
  await keep.click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText(name);
  await expect(page.getByTestId("best-tilt")).toBeVisible();
}

const strip = (page: Page) => page.getByTestId("site-strip").getByRole("img");
const chooseDate = (page: Page, date: string) => page.getByLabel("Date", { exact: true }).fill(date);

async function openPlan(page: Page, name: string): Promise<void> {
  await page.goto("/");
  const href = await page
    .getByRole("region", { name: "Experiments" })
    .getByRole("link", { name, exact: true })
    .first()
    .getAttribute("href");
  await page.goto(href!.replace(/\/[a-z]+$/, "/plan"));
  await expect(page.getByRole("heading", { level: 1 })).toContainText(/Next:|No day/);
  // The chart is drawn by the page itself: from then on its fields listen.
  await expect(page.getByTestId("how-long").locator("canvas")).toBeVisible();
}

const rows = (page: Page) => page.getByRole("list", { name: "Planned days" }).locator(":scope > li");

test("a southern site: the box faces north, the sun stands highest in December, and its own best tilt is found", async ({
  page,
}) => {
  const faults = watch(page);
  await addSite(page, "Southern bench", "38° 6' S 145° 9' E", "Australia/Melbourne");
  await expect(page.getByLabel("Faces")).toHaveValue("0 °");
  await chooseDate(page, "2026-12-21");
  await expect(strip(page)).toHaveAttribute("aria-label", /21 December\. (Usable|no usable)/);
  await expect(page.getByRole("region", { name: "Sun" })).toContainText("sunset 20:4");
  const december = page.getByRole("application", { name: /^Irradiance in the plane/ });
  await expect(december).toBeVisible();
  await page.getByLabel("Best tilt for").selectOption("winter");
  await expect(page.getByTestId("best-tilt")).toContainText(/5\d°|6\d°/);
  await page.getByRole("button", { name: "Take it" }).click();
  await chooseDate(page, "2026-06-21");
  await expect(strip(page)).toHaveAttribute("aria-label", /Usable from \d\d:\d\d/);
  // The map is read by keyboard and has its table twin.
  await december.focus();
  await page.keyboard.press("ArrowRight");
  await expect(page.getByText(/January, 13 to 14 h: \d+ W\/m²/)).toBeVisible();
  await page.getByRole("button", { name: "Show as table" }).nth(2).click();
  await expect(page.getByRole("region", { name: "Irradiance in the plane, table" })).toContainText("Jun");
  expect(faults).toEqual([]);
});

test("a polar site: no sunrise in December, no sunset in June, and the pages say so", async ({ page }) => {
  const faults = watch(page);
  await addSite(page, "Polar bench", "69.6, 18.9", "Europe/Oslo");
  await chooseDate(page, "2026-12-21");
  await expect(page.getByTestId("site-strip")).toContainText("the sun does not rise");
  await chooseDate(page, "2026-06-21");
  await expect(page.getByTestId("site-strip")).toContainText("the sun does not set");
  await expect(strip(page)).toHaveAttribute("aria-label", /Sun strip/);
  expect(faults).toEqual([]);
});

test("the day clocks change: the strip skips the lost hour and shows the repeated day whole; a plan over it keeps sun time", async ({
  page,
}) => {
  const faults = watch(page);
  await page.goto("/site");
  await expect(page.getByTestId("best-tilt")).toBeVisible();
  await chooseDate(page, "2026-03-28");
  const noon = async () =>
    /at (\d\d):(\d\d)/
      .exec((await strip(page).getAttribute("aria-label"))!)!
      .slice(1)
      .map(Number);
  await expect(strip(page)).toHaveAttribute("aria-label", /28 March/);
  const before = await noon();
  await chooseDate(page, "2026-03-29");
  await expect(strip(page)).toHaveAttribute("aria-label", /29 March/);
  const after = await noon();
  // The clock is an hour ahead, the sun is not: the best hour is shown an hour later.
  expect(Math.abs(after[0] * 60 + after[1] - before[0] * 60 - before[1] - 60)).toBeLessThanOrEqual(10);
  await chooseDate(page, "2026-10-25");
  await expect(strip(page)).toHaveAttribute("aria-label", /25 October\. Usable/);
  await openPlan(page, "One or two glazings");
  await page.getByLabel("From", { exact: true }).first().fill("2026-10-24");
  await expect(rows(page).first()).toContainText("Sat 24 Oct");
  const first = async (n: number) =>
    (await rows(page)
      .nth(n)
      .getByRole("button", { name: /Measure/ })
      .first()
      .getAttribute("aria-label"))!.slice(0, 5);
  await expect.poll(async () => Number((await first(0)).slice(0, 2)) - Number((await first(1)).slice(0, 2))).toBe(1);
  expect(faults).toEqual([]);
});

test("a skyline typed, refused where it cannot be, and one that kills the morning", async ({ page }) => {
  const faults = watch(page);
  await addSite(page, "Under the ridge", "46.3 9.1", "Europe/Zurich", "900 m");
  await chooseDate(page, "2026-10-06");
  const usable = async () =>
    /Usable from (\d\d):(\d\d)/
      .exec((await strip(page).getAttribute("aria-label")) ?? "")
      ?.slice(1)
      .map(Number);
  await expect(strip(page)).toHaveAttribute("aria-label", /Usable from/);
  const free = (await usable())!;
  const corners = page.getByRole("textbox", { name: "Corners" });
  await corners.fill("90 12\n120 soft");
  await corners.blur();
  await expect(page.getByRole("region", { name: "Skyline" }).getByRole("alert")).toContainText("Line 2");
  await expect(corners).toHaveValue("90 12\n120 soft");
  await corners.fill("60\t45\n172\t45\n176\t3\n300\t3\n58\t3");
  await corners.blur();
  await expect(page.getByTestId("site-strip")).toContainText("06 October".replace("06", "6"));
  await expect
    .poll(async () => {
      const u = await usable();
      return u ? u[0] * 60 + u[1] : 0;
    })
    .toBeGreaterThan(free[0] * 60 + free[1] + 60);
  await expect(strip(page)).toHaveAttribute("aria-label", /skyline shades it for \d+ minutes/);
  // What was typed is on its way for a moment after the page has drawn it.
  await page.waitForLoadState("networkidle");
  await page.reload();
  await expect(page.getByRole("textbox", { name: "Corners" })).toHaveValue(/58\t3\n60\t45/);
  expect(faults).toEqual([]);
});

test("a skyline traced over a photo by keyboard alone", async ({ page }) => {
  await addSite(page, "Photo bench", "46.2 9.2", "Europe/Zurich");
  await page.getByRole("button", { name: "Trace over a panorama photo" }).click();
  // A plain picture of 400 × 100 pixels, drawn in the browser: what is on it does not matter, directions come from the marks.
  const png = await page.evaluate(() => {
    const c = document.createElement("canvas");
    c.width = 400;
    c.height = 100;
    const g = c.getContext("2d")!;
    g.fillStyle = "#88a";
    g.fillRect(0, 40, 400, 60);
    return c.toDataURL("image/png").split(",")[1];
  });
  await page
    .getByLabel("Panorama photo", { exact: true })
    .setInputFiles({ name: "ridge.png", mimeType: "image/png", buffer: Buffer.from(png, "base64") });
  const photo = page.getByRole("application", { name: /^Panorama photo/ });
  await photo.focus();
  for (let i = 0; i < 10; i++) await page.keyboard.press("Shift+ArrowLeft");
  await page.keyboard.press("Enter");
  for (let i = 0; i < 20; i++) await page.keyboard.press("Shift+ArrowRight");
  await page.keyboard.press("Enter");
  await page.getByLabel("Azimuth of mark 1").fill("100");
  await page.getByLabel("Azimuth of mark 2").fill("260");
  await expect(page.getByTestId("panorama").getByRole("status")).toContainText("1.000° a pixel");
  await page.getByRole("button", { name: "Go on to trace" }).click();
  await photo.focus();
  await page.keyboard.press("Shift+ArrowUp");
  await page.keyboard.press("Enter");
  for (let i = 0; i < 5; i++) await page.keyboard.press("Shift+ArrowLeft");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Use this skyline" }).click();
  await expect(page.getByRole("textbox", { name: "Corners" })).toHaveValue("220\t8\n260\t8");
});

test("wrong input at the site: 91° of latitude, swapped coordinates, obstacles in one place or on the bench", async ({
  page,
}) => {
  await page.goto("/site");
  await expect(page.getByTestId("best-tilt")).toBeVisible();
  const field = page.getByLabel("Coordinates");
  await field.fill("91, 9.05");
  await field.press("Enter");
  await expect(page.getByRole("alert").filter({ hasText: "Latitude 91° cannot be" })).toContainText(
    "Were latitude and longitude exchanged?",
  );
  await expect(field).toHaveValue("91, 9.05");
  await field.fill("9.05, 46.31");
  await field.press("Enter");
  await expect(page.getByRole("alert").filter({ hasText: "lies far from the clock of Europe/Zurich" })).toBeVisible();
  await page.getByRole("button", { name: "Exchange them" }).click();
  await expect(field).toHaveValue("46.31, 9.05");
  const obstacles = page.getByRole("region", { name: "Near obstacles" });
  await obstacles.getByRole("button", { name: "Add a tree" }).click();
  const tree = obstacles.getByRole("listitem", { name: "Tree", exact: true });
  await tree.getByLabel("Bearing").fill("124");
  await tree.getByLabel("Bearing").press("Enter");
  await tree.getByLabel("Distance").fill("14 m");
  await tree.getByLabel("Distance").press("Enter");
  await expect(obstacles.getByRole("alert")).toContainText("Tree stands in Pear tree");
  await tree.getByLabel("Distance").fill("0.5 m");
  await tree.getByLabel("Distance").press("Enter");
  await expect(obstacles.getByRole("alert")).toContainText("stands on the bench");
  await expect(page.getByRole("alert").filter({ hasText: "not kept yet" })).toBeVisible();
  await tree.getByRole("button", { name: "Remove" }).click();
  await expect(obstacles.getByRole("alert")).toHaveCount(0);
});

test("an EPW file is read whole; one cut short is refused and nothing kept; a monthly CSV too", async ({ page }) => {
  const faults = watch(page);
  await addSite(page, "Weather bench", "46.4 9.0", "Europe/Zurich", "1,100 m".replace(",", ""));
  const climate = page.getByTestId("climate");
  const file = climate.getByLabel("EPW file or monthly CSV");
  const text = epwText();
  await file.setInputFiles({
    name: "cut.epw",
    mimeType: "text/plain",
    buffer: Buffer.from(text.slice(0, Math.floor(text.length * 0.6))),
  });
  await expect(climate.getByRole("alert")).toContainText(/stops after 5,\d{3} of 8,760 hours/);
  await expect(climate.getByLabel("Climate", { exact: true })).toHaveValue("");
  await climate.getByLabel("Its licence, for your record").fill("invented, free");
  await file.setInputFiles({ name: "ridge.epw", mimeType: "text/plain", buffer: Buffer.from(text) });
  await expect(climate).toContainText("8,760 hours, the file itself is kept");
  await expect(climate).toContainText("licence: invented, free");
  await expect(
    page.getByRole("region", { name: "Month by month" }).getByRole("row", { name: /January/ }),
  ).toContainText("%");
  await file.setInputFiles({
    name: "half.csv",
    mimeType: "text/csv",
    buffer: Buffer.from("month,global,mean\n1,1.2,0\n"),
  });
  await expect(climate.getByRole("alert")).toContainText("Months 2, 3");
  await file.setInputFiles({
    name: "own.csv",
    mimeType: "text/csv",
    buffer: Buffer.from(
      [
        "month,global,mean",
        ...Array.from({ length: 12 }, (_, i) => `${i + 1},${1 + (5 - Math.abs(5.5 - i)) * 0.7},${i}`),
      ].join("\n"),
    ),
  });
  await expect(climate.getByLabel("Climate", { exact: true })).toHaveValue(/^own:/);
  await expect(climate).toContainText("own");
  expect(faults).toEqual([]);
});

test("three specimens over six days: places and followers even, calendar exported and parsed back, day sheet ticked on the phone", async ({
  page,
}) => {
  const faults = watch(page);
  await openPlan(page, "One or two glazings");
  await page.getByLabel("From", { exact: true }).first().fill("2026-10-05");
  await expect(rows(page).first()).toContainText("Mon 5 Oct");
  const days = page.getByRole("textbox", { name: "Days" });
  await days.fill("6");
  await days.press("Enter");
  await expect(rows(page)).toHaveCount(6);
  const swaps = page.getByTestId("swaps");
  await expect(swaps).toContainText(
    "Every lane stands at every place equally often, and follows every other one there equally often",
  );
  for (const row of await swaps
    .getByRole("table", { name: /^Times/ })
    .getByRole("row")
    .all())
    if (/^[ABC]/.test((await row.textContent())!)) expect(await row.textContent()).toMatch(/^[ABC]222(–22|2–2|22–)$/);
  const seed = await page.getByLabel("Seed").inputValue();
  const orderOf = () => swaps.getByRole("table").first().innerText();
  const dealt = await orderOf();
  await page.getByRole("button", { name: "Deal again" }).click();
  await expect(page.getByLabel("Seed")).not.toHaveValue(seed);
  await expect.poll(orderOf).not.toBe(dealt);
  // Calendar file, parsed by an independent reader.
  const [download] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "Calendar file" }).click(),
  ]);
  const events = new ICAL.Component(ICAL.parse(readFileSync(await download.path(), "utf8")))
    .getAllSubcomponents("vevent")
    .map((v) => new ICAL.Event(v));
  const measuring = events.filter((e) => e.summary.includes("Measure"));
  expect(new Set(measuring.map((e) => e.startDate.toJSDate().toISOString().slice(0, 10))).size).toBe(6);
  expect(events.filter((e) => e.summary.includes("bath"))).toHaveLength(2);
  const shown = (await rows(page)
    .first()
    .getByRole("button", { name: /Measure/ })
    .first()
    .getAttribute("aria-label"))!;
  const first = measuring.sort((a, b) => a.startDate.compare(b.startDate))[0];
  expect(
    new Intl.DateTimeFormat("en-GB", { timeZone: "Europe/Zurich", hour: "2-digit", minute: "2-digit" }).format(
      first.startDate.toJSDate(),
    ),
  ).toBe(shown.slice(0, 5));
  expect(first.description).toContain("Stations 1:");
  // The sheet at the bench.
  const sheet = await rows(page).nth(1).getByRole("link", { name: "Tue 6 Oct" }).getAttribute("href");
  // Opened at its size: a window that shrinks while the next page is on its way may draw no more frames.
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(sheet!);
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Tue 6 Oct, day 2 of 6");
  await expect(page.getByText("Glass and full boxes are lifted by two people")).toBeVisible();
  const tick = page.getByRole("checkbox", { name: /Loggers run/ });
  await tick.check();
  await expect(page.getByText("Keeping …")).toHaveCount(0);
  await page.reload();
  await expect(tick).toBeChecked();
  expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
  expect(faults).toEqual([]);
});

test("days are edited by keyboard and by drag, left out and taken again; away times make conflicts and are planned around", async ({
  page,
}) => {
  const faults = watch(page);
  await openPlan(page, "One or two glazings");
  await page.getByLabel("From", { exact: true }).first().fill("2026-10-05");
  await expect(rows(page).first()).toContainText("Mon 5 Oct");
  const measure = () =>
    rows(page)
      .first()
      .getByRole("button", { name: /Measure/ })
      .first();
  const start = async () => (await measure().getAttribute("aria-label"))!.slice(0, 5);
  const before = await start();
  await measure().focus();
  await page.keyboard.press("ArrowRight");
  await expect.poll(start).not.toBe(before);
  await expect(measure()).toHaveAttribute("aria-label", /moved \+5 min/);
  await expect(measure()).toBeFocused();
  await page.keyboard.press("Shift+ArrowRight");
  await expect(measure()).toHaveAttribute("aria-label", /moved \+20 min/);
  await page.keyboard.press("Shift+ArrowRight");
  await expect(page.getByRole("list", { name: "Conflicts" })).toContainText(/runs into/);
  await page.keyboard.press("Delete");
  await expect.poll(start).toBe(before);
  // Dragged an hour's worth to the right.
  const box = (await measure().boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 30, box.y + box.height / 2, { steps: 5 });
  await page.mouse.up();
  await expect(measure()).toHaveAttribute("aria-label", /moved \+\d+ min/);
  await measure().focus();
  await page.keyboard.press("Delete");
  await expect.poll(start).toBe(before);
  // A day left out moves the rest on.
  await page.keyboard.press("ArrowDown");
  await expect(rows(page).first()).toContainText("Tue 6 Oct");
  await page.getByTestId("passed").getByRole("button", { name: "Take it again" }).click();
  await expect(rows(page).first()).toContainText("Mon 5 Oct");
  // Away every Tuesday.
  const away = page.getByRole("region", { name: "When you are away" });
  await away.getByLabel("Day").selectOption("2");
  await away.getByLabel("From").fill("00:00");
  await away.getByLabel("To").fill("23:59");
  await away.getByLabel("Why").fill("market day");
  await away.getByRole("button", { name: "Add" }).click();
  await expect(away.getByRole("listitem")).toContainText("Tuesdays");
  await expect(rows(page).nth(1)).toContainText("Wed 7 Oct");
  await away.getByLabel("To").fill("00:00");
  await away.getByLabel("From").fill("10:00");
  await away.getByRole("button", { name: "Remove" }).click();
  await expect(rows(page).nth(1)).toContainText("Tue 6 Oct");
  expect(faults).toEqual([]);
});

test("every protocol has its hours, needs and cautions; wrong numbers of days and levels are refused where they are typed", async ({
  page,
}) => {
  const faults = watch(page);
  await openPlan(page, "One or two glazings");
  const panel = page.getByTestId("protocol");
  for (const [value, words] of [
    ["dynamic", "Uses cloudy days"],
    ["stagnation", "Without flow the box runs"],
    ["offNormal", "incidence modifier"],
    ["mirrorOnOff", "blinds and burns"],
    ["batch", "scalds"],
    ["calibration", "stirred pot"],
    ["leakSmoke", "smoke source"],
    ["timeConstant", "opaque cover"],
    ["allDay", "Heat per day"],
    ["steady", "inlet temperatures"],
  ] as const) {
    await page.getByLabel("Protocol").selectOption(value);
    await expect(panel).toContainText(words);
    await expect(rows(page).first()).toBeVisible();
    // One at a time, as a person would: ten plans in a row take a slow machine longer than one wait.
    await expect(page.getByText("Working it out …")).toBeHidden();
  }
  const days = page.getByRole("textbox", { name: "Days" });
  await days.fill("0");
  await days.press("Enter");
  await expect(page.getByRole("alert").filter({ hasText: "At least 1." })).toBeVisible();
  await expect(days).toHaveValue("0");
  await days.fill("3");
  await days.press("Enter");
  await expect(rows(page)).toHaveCount(3);
  const levels = panel.getByLabel(/Inlet above outside/);
  await levels.fill("0 warm");
  await levels.press("Enter");
  await expect(panel.getByRole("alert")).toContainText("One to six numbers");
  await levels.fill("0 20");
  await levels.press("Enter");
  await expect(
    rows(page)
      .first()
      .getByRole("button", { name: /Measure, inlet \+20 K/ }),
  ).toBeVisible();
  await expect(page.getByTestId("how-long")).toContainText("80 % chance");
  await page.getByLabel("Lanes swap").selectOption("none");
  await expect(page.getByTestId("swaps")).toContainText("Lanes never swap");
  await expect(page.getByTestId("how-long")).toContainText("swap lanes every day");
  await page.getByLabel("Lanes swap").selectOption("daily");
  await expect(page.getByTestId("swaps")).not.toContainText("Lanes never swap");
  expect(faults).toEqual([]);
});

test("one specimen has nothing to be compared with, and Plan says the way out", async ({ page }) => {
  await page.goto("/new");
  await page.getByLabel("Name of the experiment").fill("Alone");
  await page.getByRole("button", { name: "Go on to draw the variants" }).click();
  await expect(page).toHaveURL(/\/build$/);
  await page.goto(page.url().replace(/build$/, "plan"));
  await expect(page.getByRole("alert").first()).toContainText("One specimen has nothing to be compared with");
});

test("the bench shows the next window of the plan, when to be there and what to bring", async ({ page }) => {
  await page.goto("/");
  const next = page.getByTestId("next-window");
  await expect(next).toContainText(/Next window: \w+day \d+ \w+, \d\d:\d\d to \d\d:\d\d, for /);
  await expect(next).toContainText("be there at");
  await expect(next).toContainText("Bring inlet and outlet probe for every lane");
  await next.getByRole("link", { name: "Day sheet" }).click();
  await expect(page.getByRole("heading", { level: 2, name: /Pack/ })).toBeVisible();
});
