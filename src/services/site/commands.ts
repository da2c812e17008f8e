import { z } from "zod";
import { climateSchema, PLAIN_DETAIL, siteSchema } from "../../core/experiment/schema/site";
import { parseClimateCsv } from "../../core/site/climate";
import { obstacleProblems } from "../../core/site/shade";
import { findSite, insertClimate, insertSite, markClimateDeleted, updateSite } from "../../data/site/sites";
import { climateWords, obstacleWords } from "../../words/plan";
import { command, done, refused } from "../web/command";
import { lineSchema } from "../../core/text/line";

const id = z.number().int().positive();
const SITE_GONE = refused("This site is no longer there.");
const everything = () => "everything" as const;

/**
 * Keeps what a page changed of a site; the rest stays as it is stored. Obstacles that cannot stand are refused; two in one
 * place are only warned of.
 * @param before what the page showed
 */
export const keepSite = command({
  input: z.tuple([id, siteSchema, siteSchema]),
  async run(knex, siteId, site, before) {
    const bad = obstacleProblems(site.detail.obstacles).find((p) => p.kind !== "overlap");
    if (bad) return refused(obstacleWords(bad));
    return (await updateSite(knex, siteId, site, before)) ? done() : SITE_GONE;
  },
  touches: everything,
});

export const startSite = command({
  input: z.tuple([siteSchema.omit({ detail: true })]),
  run: async (knex, site) => done({ id: await insertSite(knex, { ...site, detail: PLAIN_DETAIL }) }),
  touches: everything,
});

/** A monthly climate from CSV, checked against the site's clear sky, and chosen for it. */
export const keepClimateCsv = command({
  input: z.tuple([id, lineSchema().max(160), z.string().max(4_000_000)]),
  async run(knex, siteId, name, text) {
    const site = await findSite(knex, siteId);
    if (!site) return SITE_GONE;
    const read = parseClimateCsv(text, name || "Own climate", { place: site, turbidity: site.detail.turbidity });
    if (!read.ok) return refused(climateWords(read.problem));
    const { months, source, name: called } = read.climate;
    const detail = climateSchema.parse({ months, source, licence: "", place: null });
    const made = await insertClimate(knex, { name: called, kind: "csv", rawFileId: null, ...detail });
    await updateSite(knex, siteId, { ...site, detail: { ...site.detail, climate: { kind: "own", id: made } } }, site);
    return done({ id: made });
  },
  touches: everything,
});

export const removeClimate = command({
  input: z.tuple([id, z.boolean()]),
  run: async (knex, climateId, deleted) =>
    (await markClimateDeleted(knex, climateId, deleted)) ? done() : refused("This climate is no longer there."),
  touches: everything,
});
