import { expect, test } from "@playwright/test";
import { laneLogCsv, weatherLogCsv } from "../demo/logFiles";
import { DEMO, SITE, type DemoExperiment } from "../demo/tansyRidge";
import { simulateBench, type BenchRun } from "../src/core/rig/bench";
import { withFreshDemo } from "./demo";
import { FORM_WORDS } from "../src/words/forms";
import { importAnyway } from "./importAnyway";
import { file } from "./logs";
import { watch } from "./watch";

withFreshDemo();

/** Heat of each lane while the sun shone, W/m²: what nobody at the bench knows. */
function truth({ log }: BenchRun): Map<string, number> {
  const sunny = [...log.truth.irradiance].flatMap((g, i) => (g > 250 ? [i] : []));
  return new Map(
    [...log.truth.heat].map(([lane, heat]) => [lane, sunny.reduce((s, i) => s + heat[i], 0) / sunny.length]),
  );
}

async function logsOf(demo: DemoExperiment, run: BenchRun) {
  const lanes = laneLogCsv(run.log, SITE.zone, demo.plan.fluid ? "liquid" : "air");
  return [
    file(`${demo.key}-lanes.csv`, lanes),
    ...(demo.lanesOnly ? [] : [file(`${demo.key}-weather.csv`, weatherLogCsv(run.log))]),
  ];
}

test.describe("from a raw log to a printed report", () => {
  for (const demo of DEMO)
    test(demo.name, async ({ page }) => {
      const faults = watch(page);
      const [run] = simulateBench({ ...demo.plan, stepS: 60 });
      await page.goto("/import");
      await page.getByLabel("Choose log files").setInputFiles(await logsOf(demo, run));
      await page.getByLabel("Name", { exact: true }).first().fill(`Anew: ${demo.key}`);
      // A new lane is a sheet that warms air until somebody says what it is.
      if (demo.plan.fluid)
        for (const field of await page.getByLabel("Absorber", { exact: true }).all())
          await field.selectOption({ label: FORM_WORDS.hose });
      await importAnyway(page);
      await page.getByRole("link", { name: /^Judge/ }).click();
      const sentence = page.getByRole("heading", { level: 1 });
      await expect(sentence).toContainText(/gives|Cannot tell|no difference that matters|No verdict/);
      const said = (await sentence.textContent())!;
      await page.getByRole("link", { name: "Report" }).click();
      await page.waitForURL(/\/report/);
      await expect(page.getByRole("heading", { level: 1 })).toContainText(said.slice(0, 40));
      const printed = await page.pdf({ format: "A4" });
      expect(printed.subarray(0, 5).toString()).toBe("%PDF-");
      expect(printed.length).toBeGreaterThan(20_000);
      // A winner that is named is one.
      const named = /^Cannot tell/.test(said) ? null : /\(([A-H](?:(?:, | and )[A-H])*)\) gives/.exec(said);
      const winner = named?.[1].match(/[A-H]/g);
      if (winner) {
        const real = [...truth(run)].sort((a, b) => b[1] - a[1]);
        expect(winner).toContain(real[0][0]);
      }
      expect(faults).toEqual([]);
    });
});
