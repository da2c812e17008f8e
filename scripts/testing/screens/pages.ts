import { readFileSync } from "node:fs";
import { join } from "node:path";
import type { BenchPage, ImportPageData, Places, SitePageData, StepPage } from "../../../src/services/page/pages";
import type { Material } from "../../../src/core/materials/material";
import type { Traces } from "../../../src/services/read/traces";
import type { Working } from "../../../src/services/working/workingParts";
import { decode } from "./codec";

/** The instant at which the captured pages were looked at: a clear autumn noon of the demo's world. */
export const NOW = Date.UTC(2026, 9, 20, 10);
export const STEPS = ["ask", "build", "plan", "prove", "run", "read", "judge", "report", "apply"] as const;

export interface Captured {
  experiments: { id: number; name: string }[];
  sites: number[];
}

const folder = () => {
  const path = process.env.BRAVEL_TEST_PAGES;
  if (!path) throw new Error("BRAVEL_TEST_PAGES is not set; run these through jest, whose setup captures the pages");
  return path;
};
const read = (name: string): unknown => decode(readFileSync(join(folder(), `${name}.json`), "utf8"));
const captured = () => read("captured") as Captured;

function idOf(experiment: string): number {
  const found = captured().experiments.find((e) => e.name === experiment);
  if (!found) throw new Error(`the demo has no experiment "${experiment}"`);
  return found.id;
}

/** A step of a demo experiment, as the server hands it over. @param experiment its name */
export const stepOf = (experiment: string, step: (typeof STEPS)[number]): StepPage =>
  read(`${idOf(experiment)}-${step}`) as StepPage;
export const tracesOf = (experiment: string): Traces => read(`${idOf(experiment)}-traces`) as Traces;
export const workingOf = (experiment: string): Working | null => read(`${idOf(experiment)}-working`) as Working | null;
export const bench = (): BenchPage => read("bench") as BenchPage;
export const importing = (): ImportPageData => read("import") as ImportPageData;
export const materials = (): Material[] => read("materials") as Material[];
export const placesOfDemo = (): Places => read("places") as Places;
export const site = (): SitePageData => read(`site-${captured().sites[0]}`) as SitePageData;
