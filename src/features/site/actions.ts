"use server";

import { revalidatePath } from "next/cache";
import { parseClimateCsv } from "@/core/site/climate";
import { obstacleProblems } from "@/core/site/shade";
import { climateSchema, PLAIN_DETAIL, siteSchema } from "@/core/experiment/schema/site";
import { findSite, insertClimate, insertSite, markClimateDeleted, updateSite } from "@/data/site/sites";
import { type Site } from "@/core/experiment/types";
import { importEpw, type EpwAnswer } from "@/services/climates";
import { database } from "@/services/connection";
import { climateWords, obstacleWords } from "@/words/plan";

type Done<T = object> = ({ ok: true } & T) | { ok: false; error: string };

/** Keeps a site whole. Obstacles that cannot stand are refused; two in one place are only warned of. */
export async function keepSite(id: number, site: Omit<Site, "id">): Promise<Done> {
  const parsed = siteSchema.safeParse(site);
  if (!parsed.success) return { ok: false, error: parsed.error.issues.map((i) => i.message).join("; ") };
  const bad = obstacleProblems(parsed.data.detail.obstacles).find((p) => p.kind !== "overlap");
  if (bad) return { ok: false, error: obstacleWords(bad) };
  if (!(await updateSite(database(), id, parsed.data))) return { ok: false, error: "This site is no longer there." };
  revalidatePath("/", "layout");
  return { ok: true };
}

export async function startSite(site: Omit<Site, "id" | "detail">): Promise<Done<{ id: number }>> {
  const parsed = siteSchema.safeParse({ ...site, detail: PLAIN_DETAIL });
  if (!parsed.success) return { ok: false, error: parsed.error.issues.map((i) => i.message).join("; ") };
  const id = await insertSite(database(), parsed.data);
  revalidatePath("/", "layout");
  return { ok: true, id };
}

/** A monthly climate from CSV, checked against the site's clear sky, and chosen for it. */
export async function keepClimateCsv(siteId: number, name: string, text: string): Promise<Done<{ id: number }>> {
  const site = await findSite(database(), siteId);
  if (!site) return { ok: false, error: "This site is no longer there." };
  const read = parseClimateCsv(text, name.trim() || "Own climate", { place: site, turbidity: site.detail.turbidity });
  if (!read.ok) return { ok: false, error: climateWords(read.problem) };
  const detail = climateSchema.parse({
    months: read.climate.months,
    source: read.climate.source,
    licence: "",
    place: null,
  });
  const id = await insertClimate(database(), { name: read.climate.name, kind: "csv", rawFileId: null, ...detail });
  await updateSite(database(), siteId, { ...site, detail: { ...site.detail, climate: { kind: "own", id } } });
  revalidatePath("/", "layout");
  return { ok: true, id };
}

/** A typical-weather file, already uploaded, read whole and chosen for the site. */
export async function keepEpw(siteId: number, fileId: number, licence: string): Promise<EpwAnswer> {
  const answer = await importEpw(database(), fileId, licence.slice(0, 300));
  const site = await findSite(database(), siteId);
  if (answer.ok && site)
    await updateSite(database(), siteId, {
      ...site,
      detail: { ...site.detail, climate: { kind: "own", id: answer.id } },
    });
  revalidatePath("/", "layout");
  return answer;
}

export async function removeClimate(id: number, deleted: boolean): Promise<Done> {
  await markClimateDeleted(database(), id, deleted);
  revalidatePath("/", "layout");
  return { ok: true };
}
