import { sayBench } from "./sayBench";
import { expect, test } from "@playwright/test";
import { importAnyway } from "./importAnyway";
import { file } from "./logs";
import { withFreshDemo } from "./demo";

withFreshDemo();

const HEAD = "time,A in (C),A out (C),A speed (m/s),Sun (W/m2),Outside (C)";
const row = (time: string, cells = "15,38,3.2,950,12") => `${time},${cells}`;
const stamp = (i: number) =>
  `2026-10-06 12:${String(Math.floor(i / 6)).padStart(2, "0")}:${String((i % 6) * 10).padStart(2, "0")}`;
const good = (n = 60) => Array.from({ length: n }, (_, i) => row(stamp(i)));

test.beforeEach(async ({ page }) => {
  await page.goto("/import");
  await page.evaluate(() => localStorage.clear());
  await page.reload();
});

const refused: [string, string | Buffer, RegExp][] = [
  ["empty.csv", "", /is empty/],
  ["blank.csv", "\n\n  \n", /The file is empty/],
  [
    "picture.csv",
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13]),
    /This is a picture, not a text log/,
  ],
  ["zipped.csv", Buffer.from([0x50, 0x4b, 0x03, 0x04, 0x14, 0, 0, 0]), /zipped or spreadsheet file/],
  ["noise.csv", Buffer.from(Array.from({ length: 4000 }, (_, i) => (i * 7919) % 251)), /not text/],
  ["header.csv", `${HEAD}\n`, /no readings below it/],
  ["words.csv", "hello\nworld\nagain\n", /No columns were found/],
  ["timeless.csv", "a,b,c\n1,2,3\n4,5,6\n7,8,9\n", /No column looks like time/],
  ["oneline.csv", "7,".repeat(5_000_000), /never ends/],
];

for (const [name, content, words] of refused) {
  test(`${name} is refused with what, why and the way out`, async ({ page }) => {
    await page.getByLabel("Choose log files").setInputFiles(file(name, content));
    await expect(page.getByRole("alert").filter({ hasText: words })).toBeVisible();
    const button = page.getByRole("button", { name: "Import as one run" });
    if (await button.count()) await expect(button).toBeDisabled();
  });
}

const accepted: [string, string | Buffer, string | RegExp][] = [
  ["wide.csv", Buffer.from(`\uFEFF${[HEAD, ...good()].join("\r\n")}`, "utf16le"), "read without a fault"],
  ["mark.csv", `\uFEFF${[HEAD, ...good()].join("\n")}`, "read without a fault"],
  [
    "mixed.csv",
    [HEAD, ...good(10)].join("\r\n") + "\n" + good(60).slice(10, 30).join("\r") + "\n" + good(60).slice(30).join("\n"),
    "read without a fault",
  ],
  ["twice.csv", [HEAD, ...good(30), ...good(30)].join("\n"), "30 rows joined with another of the same time"],
  ["backwards.csv", [HEAD, ...good(60).reverse()].join("\n"), "59 rows out of order, sorted"],
  [
    "summer-end.csv",
    [
      HEAD,
      ...["01:59:50", "02:00:00", "02:30:00", "02:59:50", "02:00:00", "02:30:00", "03:00:00"].map((t) =>
        row(`2026-10-25 ${t}`),
      ),
    ].join("\n"),
    "5 rows in the hour that clocks show twice",
  ],
  [
    "shifted.csv",
    [
      HEAD,
      ...good(30),
      ...good(60)
        .slice(30, 40)
        .map((l) => `${l},99`),
      ...good(60).slice(40),
    ].join("\n"),
    "10 rows left out",
  ],
  [
    "spring.csv",
    [
      HEAD,
      row("2026-03-29 01:59:50"),
      row("2026-03-29 02:10:00"),
      row("2026-03-29 03:00:00"),
      row("2026-03-29 03:00:10"),
    ].join("\n"),
    "1 rows left out",
  ],
];

for (const [name, content, words] of accepted) {
  test(`${name} is read and says what happened`, async ({ page }) => {
    await page.getByLabel("Choose log files").setInputFiles(file(name, content));
    await expect(page.getByRole("region", { name })).toBeVisible();
    await page.getByLabel("Name", { exact: true }).first().fill(`Try ${name}`);
    await importAnyway(page);
    await page.getByRole("link", { name: /^Run/ }).click();
    await expect(page.getByText(words)).toBeVisible();
  });
}

test("a wrong delimiter chosen by hand can be chosen back", async ({ page }) => {
  await page.getByLabel("Choose log files").setInputFiles(file("plain.csv", [HEAD, ...good()].join("\n")));
  const card = page.getByRole("region", { name: "plain.csv" });
  await card.getByRole("radio", { name: "semicolon" }).click();
  await expect(card.getByRole("alert")).toContainText("No columns were found");
  await card.getByRole("radio", { name: "comma" }).first().click();
  await expect(card.getByLabel("A in (C) stands for")).toHaveValue("inlet");
});

test("negative flow and efficiency above the optical limit never appear without their doubt", async ({ page }) => {
  const lines = Array.from({ length: 1080 }, (_, i) => {
    const t = new Date(Date.UTC(2026, 9, 6, 11, 30, i * 10)).toISOString().slice(0, 19).replace("T", " ");
    const inlet = 15 + 8 * Math.floor(i / 360) + 0.05 * Math.sin(i);
    const noise = 0.05 * Math.cos(i * 1.7);
    return `${t},${inlet.toFixed(2)},${(inlet + 60 - Math.floor(i / 360) + noise).toFixed(2)},${(3.2 + 0.01 * Math.sin(i * 2.3)).toFixed(2)},${inlet.toFixed(2)},${(inlet + 22 - Math.floor(i / 360) - noise).toFixed(2)},${(-3.2 + 0.01 * Math.sin(i * 2.1)).toFixed(2)},${(950 + Math.sin(i)).toFixed(0)},${(12 + 0.02 * Math.sin(i)).toFixed(2)}`;
  });
  await page
    .getByLabel("Choose log files")
    .setInputFiles(
      file(
        "odd.csv",
        [
          "time,A in (C),A out (C),A speed (m/s),B in (C),B out (C),B speed (m/s),Sun (W/m2),Outside (C)",
          ...lines,
        ].join("\n"),
      ),
    );
  await page.getByLabel("Name", { exact: true }).first().fill("Too good");
  const asked = await importAnyway(page);
  // A stays within what storage in a box may add for a while; its steady windows tell below.
  expect(asked).toContain("Flow of B runs backwards");
  expect(asked).toMatch(/B gives −\d+\s% in full sun/);
  await page.getByRole("link", { name: /^Judge/ }).click();
  await expect(page.getByText("A is above its optical limit")).toBeVisible();
  await expect(page.getByText("Flow of B runs backwards")).toBeVisible();
});

test("a log without seconds and with in and out exchanged is asked about; put right, it is imported", async ({
  page,
}) => {
  const lines = Array.from({ length: 1080 }, (_, i) => {
    const t = new Date(Date.UTC(2026, 9, 6, 9, 30, i * 10)).toISOString().slice(0, 16).replace("T", " ");
    const inlet = 15 + 0.05 * Math.sin(i);
    return `${t},${(inlet + 22 + 0.05 * Math.cos(i * 1.7)).toFixed(2)},${inlet.toFixed(2)},${(3.2 + 0.01 * Math.sin(i * 2.3)).toFixed(2)},${(950 + Math.sin(i)).toFixed(0)},${(12 + 0.02 * Math.sin(i)).toFixed(2)}`;
  });
  await page.getByLabel("Choose log files").setInputFiles(file("careless.csv", [HEAD, ...lines].join("\n")));
  await page.getByLabel("Name", { exact: true }).first().fill("Careless");
  await sayBench(page);
  const go = page.getByRole("button", { name: "Import as one run" });
  await go.click();
  const asks = page.getByRole("alert", { name: "Before it is imported" });
  await expect(asks).toContainText("have the time of another row");
  await asks.getByRole("radio", { name: /spread them evenly/ }).check();
  await go.click();
  await expect(asks).toContainText("In and out may be exchanged");
  // A reload in the middle loses neither files nor answers.
  await page.reload();
  await page.getByLabel("A in (C) stands for").selectOption("outlet");
  await page.getByLabel("A out (C) stands for").selectOption("inlet");
  await go.click();
  await page.waitForURL(/\/read/);
  await page.getByRole("link", { name: /^Run/ }).click();
  await expect(page.getByText("1,080").or(page.getByText("1 080")).first()).toBeVisible();
});
