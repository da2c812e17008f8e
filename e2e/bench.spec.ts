import { expect, test, type Page } from "@playwright/test";
import { laneLogCsv, weatherLogCsv } from "../demo/logFiles";
import { CORRUGATED, simulateBench, type BenchPlan } from "../src/core/rig/bench";
import { withFreshDemo } from "./demo";
import { sayBench } from "./sayBench";

withFreshDemo();

/** The benches people really have, from the file to what can be said of it. */
const plan = (over: Partial<BenchPlan>): BenchPlan => ({
  seed: 31,
  stepS: 30,
  hours: [9, 17],
  accuracy: { probeK: 0.2, speedShare: 0.02, profileLimit: 0.02, sunShare: 0.03, ambientK: 0.3, stationShare: 0.004 },
  specimens: [
    { lane: "A", variant: "a", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.04 },
    { lane: "B", variant: "b", collector: { ...CORRUGATED, streamTransfer: 70 }, areaM2: 2, massFlowKgPerS: 0.04 },
  ],
  inletProgram: [{ fromHour: 0, aboveAmbientK: 0 }],
  runs: [
    {
      run: "1",
      stations: { A: 1, B: 2 },
      days: [6, 7].map((d) => ({ dateMs: Date.UTC(2026, 9, d, 10), cloudiness: 0.1, meanAmbientC: 9, meanWind: 1.5 })),
    },
  ],
  ...over,
});
const file = (name: string, text: string) => ({ name, mimeType: "text/csv", buffer: Buffer.from(text) });

async function drop(page: Page, name: string, files: ReturnType<typeof file>[]): Promise<void> {
  await page.goto("/import");
  await page.getByLabel("Choose log files").setInputFiles(files);
  await page.getByLabel("Name", { exact: true }).first().fill(name);
  await sayBench(page);
}
const importIt = (page: Page) => page.getByRole("button", { name: "Import as one run" }).click();

test("a shared inlet at outside air, no sun sensor: from the log to a verdict as tested", async ({ page }) => {
  const { log } = simulateBench(plan({}))[0];
  const shared = laneLogCsv(log, "Europe/Zurich")
    .split("\r\n")
    .map((line, i) => {
      const c = line.split(";");
      // One probe hangs in the air both boxes draw.
      if (c.length < 7) return line;
      return [c[0], i ? c[1] : "inlet (°C)", c[2], c[3], c[5], c[6]].join(";");
    })
    .join("\r\n");
  await page.goto("/import");
  await page.getByLabel("Choose log files").setInputFiles(file("shared.csv", shared));
  // The one inlet that no box names serves both.
  await expect(page.getByLabel("inlet (°C), lane")).toHaveValue("*");
  await page.getByLabel("Name", { exact: true }).first().fill("Shared inlet");
  await sayBench(page);
  await importIt(page);
  await page.waitForURL(/\/read/);
  await page.goto(page.url().replace("read", "judge"));
  await expect(page.locator("h1")).toContainText(
    // With nothing said of its instruments they are taken widely, and the answer with them.
    /Cannot tell( yet)? whether Collector B \(B\) or Collector A \(A\) gives more heat as tested: \d+ ± \d+/,
  );
});

test("boxes swapped at noon of the second day: typed, they are read as two arrangements", async ({ page }) => {
  const { log } = simulateBench(plan({ seed: 32 }))[0];
  const noon = Date.UTC(2026, 9, 7, 10, 30);
  const text = laneLogCsv(log, "Europe/Zurich")
    .split("\r\n")
    .map((line, i) => {
      const c = line.split(";");
      return i > 0 && c.length === 7 && log.times[i - 1] >= noon
        ? [c[0], ...c.slice(4), ...c.slice(1, 4)].join(";")
        : line;
    })
    .join("\r\n");
  await drop(page, "Swapped at noon", [file("places.csv", text)]);
  await page.getByRole("button", { name: "Boxes changed places" }).click();
  await page.getByLabel("Swap 1: day").fill("2026-10-07");
  await page.getByLabel("Swap 1: time").fill("12:30");
  await importIt(page);
  await page.waitForURL(/\/read/);
  await page.goto(page.url().replace("read", "run"));
  await expect(page.getByText(/from 7 Oct.* 12:30/).first()).toBeVisible();
  await expect(page.getByText("place 1: B")).toBeVisible();
  await page.goto(page.url().replace(/run$/, "judge"));
  await expect(page.locator("h1")).toContainText(/Collector B \(B\) (gives|or)/);
});

test("two loggers whose clocks disagree: named with how much, moved as a layer, imported", async ({ page }) => {
  const cloudy = [{ dateMs: Date.UTC(2026, 9, 6, 10), cloudiness: 0.4, meanAmbientC: 9, meanWind: 1.5 }];
  const { log } = simulateBench(plan({ seed: 33, runs: [{ run: "1", stations: { A: 1, B: 2 }, days: cloudy }] }))[0];
  const late = { ...log, times: log.times.map((t) => t - 480_000) };
  await drop(page, "Two clocks", [
    file("lanes.csv", laneLogCsv(log, "Europe/Zurich")),
    file("weather.csv", weatherLogCsv(late)),
  ]);
  await importIt(page);
  const asked = page.getByRole("alert", { name: "Before it is imported" });
  await expect(asked).toContainText(/Two loggers’ clocks disagree by \d+ min/);
  await asked.getByRole("button", { name: "Move the second logger’s clock" }).click();
  await expect(page.getByRole("region", { name: "weather.csv" })).toContainText(/clock taken as \d+ min .*slow/);
  await importIt(page);
  await page.waitForURL(/\/read/);
  await page.goto(page.url().replace("read", "run"));
  await page.getByText(/Layers over the readings/).click();
  await expect(page.getByRole("list", { name: "Layers of run 1" })).toContainText(
    /weather\.csv was \d+ min .*slow, ± \d+ s/,
  );
});

test("a sample log is tried with one press, and what a log needs is said", async ({ page }) => {
  await page.goto("/import");
  await expect(page.getByRole("region", { name: "What a log needs" })).toContainText("a sun sensor makes it better");
  await page.getByRole("button", { name: "Try: With sun, in °F and ft/min" }).click();
  await expect(page.locator("h1")).toContainText("1 file with 2 lanes");
  await page.getByLabel("Name", { exact: true }).first().fill("A sample");
  await sayBench(page);
  await importIt(page);
  await page.waitForURL(/\/read/);
});
