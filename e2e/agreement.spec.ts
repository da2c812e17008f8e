import { expect, test, type APIRequestContext, type Page } from "@playwright/test";
import { unzipSync } from "fflate";
import { quantityText } from "../src/core/quantity/format";
import type { QuantityId } from "../src/core/quantity/quantities";
import { chancePercent } from "../src/words/sources";
import { withFreshDemo } from "./demo";
import { watch } from "./watch";

/**
 * Every page of every experiment of the demo, its results, package and workings are read, and where two of them state one quantity
 * they state the same figure with the same ±.
 */
withFreshDemo();

interface Told {
  value: number;
  expanded95: number | null;
}
interface Results {
  experiment: string;
  verdict: { kind: string; difference?: { si: number; expanded: number | null } };
  ranking: { lane: string; heatWm2: Told; chanceBest: number }[];
  comparisons: { a: string; b: string; differenceWm2: Told; decision: string; identical: boolean }[];
  curves: { lane: string; coefficients: Record<string, Told> }[];
  points: number;
  doubts: { kind: string; dismissed: string | null }[];
  fingerprint: string;
}

/** Spaces of any width and line breaks are one space: what is compared is what is read. */
const plain = (text: string) => text.replace(/[\s\u2009\u202f]+/g, " ").trim();
const said = ({ value, expanded95 }: Told, quantity: QuantityId, signed = false) =>
  plain(quantityText(value, quantity, { expanded: expanded95 ?? undefined, signed }));

let compared = 0;
function states(place: string, text: string, what: string): void {
  compared++;
  expect(text, `${place} states “${what}”`).toContain(what);
}

/** A page once its figures stand. */
async function readPage(page: Page, address: string): Promise<string> {
  await page.goto(address);
  await expect(page.getByRole("heading", { level: 1 })).toBeVisible();
  await page.waitForLoadState("networkidle");
  return plain(await page.locator("main").innerText());
}

async function resultsOf(request: APIRequestContext, id: number): Promise<Results> {
  const response = await request.get(`/api/experiments/${id}/results`);
  expect(response.ok()).toBe(true);
  return (await response.json()) as Results;
}

async function working(request: APIRequestContext, id: number, figure: object) {
  const response = await request.get(
    `/api/experiments/${id}/working?figure=${encodeURIComponent(JSON.stringify(figure))}`,
  );
  return (await response.json()) as { figure: { si: number; expanded: number | null } } | null;
}

/** Two numbers that went different ways through the machine. */
function same(place: string, a: number | null | undefined, b: number | null | undefined): void {
  compared++;
  if (a === null || a === undefined || b === null || b === undefined) return expect(a ?? null, place).toBe(b ?? null);
  expect(Math.abs(a - b), place).toBeLessThanOrEqual(1e-9 * Math.max(1, Math.abs(b)));
}

/** Section of doubts as it stands on a page, without what can be done about them. */
const doubtsOn = async (page: Page) =>
  (await page.getByRole("region", { name: "Doubts" }).count())
    ? plain((await page.getByRole("region", { name: "Doubts" }).first().innerText()).replace(/Dismiss …/g, ""))
    : "";

/** Each comparison of two lanes as Judge prints it: the one with more first. */
function pairLine({ a, b, differenceWm2, identical }: Results["comparisons"][number]): string {
  const [more, less] = differenceWm2.value >= 0 ? [a, b] : [b, a];
  const size = { value: Math.abs(differenceWm2.value), expanded95: differenceWm2.expanded95 };
  return `${more} over ${less}${identical ? " identical pair" : ""} ${said(size, "heatFlux", true)}`;
}

async function oneExperiment(page: Page, id: number, card: string): Promise<void> {
  const { request } = page;
  const r = await resultsOf(request, id);
  const at = (place: string) => `${r.experiment}, ${place}`;
  const base = `/experiments/${id}`;
  const judge = await readPage(page, `${base}/judge`);
  const sentence = plain(await page.getByRole("heading", { level: 1 }).innerText());
  const doubts = await doubtsOn(page);
  const open = r.doubts.filter((d) => d.dismissed === null).length;

  states(at("Bench"), card, sentence);
  states(at("Bench"), card, `${open === 0 ? "no" : open} doubt`);
  // Where the readings cannot tell, the step says that instead.
  if (/ Judge \d+ doubt/.test(judge)) states(at("the steps"), judge, `Judge ${open} doubt`);
  const { difference } = r.verdict;
  if (difference) {
    const words = said({ value: difference.si, expanded95: difference.expanded }, "heatFlux");
    states(at("Judge"), sentence, words);
    const opened = await working(request, id, { figure: "verdict" });
    same(at("working of the verdict"), opened?.figure.si, difference.si);
    same(at("± of that working"), opened?.figure.expanded, difference.expanded);
    states(at("Prove"), await readPage(page, `${base}/prove`), `the difference is ${words}`);
  }
  const report = await readPage(page, `${base}/report`);
  states(at("Report"), report, sentence);
  states(at("Report"), report, r.fingerprint.slice(0, 16));
  compared++;
  expect(await doubtsOn(page), at("doubts of Report and Judge")).toBe(doubts);
  for (const [place, text] of [
    ["Judge", judge],
    ["Report", report],
  ] as const)
    for (const lane of r.ranking)
      states(
        at(place),
        text,
        `${lane.lane} ${said(lane.heatWm2, "heatFlux")} ${plain(chancePercent(lane.chanceBest))}`,
      );
  for (const { lane, heatWm2 } of r.ranking) {
    const opened = await working(request, id, { figure: "laneHeat", lane });
    same(at(`working of ${lane}'s heat`), opened?.figure.si, heatWm2.value);
    same(at(`± of ${lane}'s heat`), opened?.figure.expanded, heatWm2.expanded95);
  }
  for (const pair of r.comparisons) {
    states(at("Judge"), judge, pairLine(pair));
    const opened = await working(request, id, { figure: "difference", a: pair.a, b: pair.b });
    same(at(`working of ${pair.a} less ${pair.b}`), opened?.figure.si, pair.differenceWm2.value);
  }
  const read = await readPage(page, `${base}/read`);
  for (const { lane, coefficients } of r.curves) {
    const { eta0, a1 } = coefficients;
    states(at("Read"), read, `${lane} ${said(eta0, "fraction")} ${said(a1, "lossCoefficient")}`);
    states(at("Read's sentence"), read.slice(0, 1500), `${lane} ${said(eta0, "fraction")}`);
    states(at("Report"), report, said(eta0, "fraction"));
    for (const name of ["eta0", "a1"] as const) {
      const opened = await working(request, id, { figure: "coefficient", lane, name });
      same(at(`working of ${name} of ${lane}`), opened?.figure.si, coefficients[name].value);
    }
  }
  const windows = / (\d+) steady windows?,/.exec(card)?.[1];
  // Without windows the step names the shared hours.
  if (windows !== "0") states(at("the steps"), read, `Read ${windows} window`);
  const packed = await request.get(`/api/experiments/${id}/package`);
  const inside = JSON.parse(
    new TextDecoder().decode(unzipSync(new Uint8Array(await packed.body()))["results.json"]),
  ) as Results;
  compared++;
  expect(inside.fingerprint, at("package")).toBe(r.fingerprint);
}

test("two places that state one quantity state the same, over every experiment that has one", async ({ page }) => {
  test.setTimeout(600_000);
  const faults = watch(page);
  await page.goto("/");
  const cards = await page.getByRole("region", { name: "Experiments" }).getByRole("listitem").all();
  const list: { id: number; card: string }[] = [];
  for (const card of cards) {
    const href = await card.getByRole("link").first().getAttribute("href");
    list.push({ id: Number(/\d+/.exec(href!)![0]), card: plain(await card.innerText()) });
  }
  // Drawn only, there is no result; what is running moves on between two pages.
  const still = list.filter(({ card }) => !/none built yet|On the bench now/.test(card));
  expect(still.length).toBeGreaterThanOrEqual(8);
  for (const { id, card } of still) await oneExperiment(page, id, card);
  expect(compared).toBeGreaterThan(250);
  expect(faults).toEqual([]);
});
