import type { Knex } from "knex";
import { noteChange } from "../journal";
import type { OwnClimate } from "../../core/experiment/records";
import type { Site } from "../../core/experiment/types";
import { mergeChange } from "../../core/experiment/merge";
import { readable, sawUnreadable } from "../json";
import { unavailableSchema, type StoredUnavailable } from "../../core/experiment/schema/plan";
import { isZone } from "../../core/log/zone";
import { climateSchema, PLAIN_DETAIL, siteDetailSchema, siteSchema } from "../../core/experiment/schema/site";
import { transact } from "../transact";

const columns = {
  id: "id",
  name: "name",
  latitude: "latitude",
  longitude: "longitude",
  altitudeM: "altitude_m",
  zone: "zone",
  detail: "detail",
};

/** A site's zone and detail as far as they can be read: the rest is plain, named by `findBroken`, and mended on the site's page. */
export const siteAsRead = (zone: string, detail: unknown): Pick<Site, "zone" | "detail"> => ({
  zone: isZone(zone) ? zone : (sawUnreadable() ?? "UTC"),
  detail: readable(siteDetailSchema, detail) ?? PLAIN_DETAIL,
});

const toSite = (row: Omit<Site, "detail"> & { detail: unknown }): Site => ({
  ...row,
  ...siteAsRead(row.zone, row.detail),
});

export async function listSites(knex: Knex): Promise<Site[]> {
  return (await knex("site").orderBy("id").select(columns)).map(toSite);
}

export async function findSite(knex: Knex, id: number): Promise<Site | null> {
  const row = await knex("site").where({ id }).first(columns);
  return row ? toSite(row) : null;
}

/** Nothing is written that the pages could not read again: the same bounds as at every door. */
function toRow(site: Omit<Site, "id">) {
  const { name, latitude, longitude, altitudeM, zone, detail } = siteSchema.parse(site);
  return { name, latitude, longitude, altitude_m: altitudeM, zone, detail: JSON.stringify(detail) };
}

export async function insertSite(knex: Knex, site: Omit<Site, "id">): Promise<number> {
  const now = Date.now();
  const [id] = await knex("site").insert({ ...toRow(site), created_at: now, changed_at: now });
  return id;
}

/**
 * Writes what was changed of a site; what it was before stands in the journal.
 * @param shown what the change started from; without it the site is written whole
 * @returns false when it is not there
 */
export async function updateSite(
  knex: Knex,
  id: number,
  site: Omit<Site, "id">,
  shown?: Omit<Site, "id">,
): Promise<boolean> {
  return transact(knex, async (trx) => {
    const row = await trx("site").where({ id }).forUpdate().first(columns);
    if (!row) return false;
    const { id: _, ...before } = toSite(row);
    await trx("site")
      .where({ id })
      .update({ ...toRow(shown ? mergeChange(before, plain(shown), plain(site)) : site), changed_at: Date.now() });
    await noteChange(trx, null, "site", { id, before });
    return true;
  });
}

const plain = ({ name, latitude, longitude, altitudeM, zone, detail }: Omit<Site, "id">): Omit<Site, "id"> => ({
  name,
  latitude,
  longitude,
  altitudeM,
  zone,
  detail,
});

const toClimate = (r: {
  id: number;
  name: string;
  kind: OwnClimate["kind"];
  raw_file_id: number | null;
  detail: unknown;
}): OwnClimate[] => {
  const detail = readable(climateSchema, r.detail);
  const head = {
    id: r.id,
    name: r.name,
    kind: r.kind,
    rawFileId: r.raw_file_id,
  };
  return detail ? [{ ...head, ...detail }] : [];
};

export async function listClimates(knex: Knex): Promise<OwnClimate[]> {
  return (await knex("climate").whereNull("deleted_at").orderBy("id")).flatMap(toClimate);
}

export async function insertClimate(knex: Knex, climate: Omit<OwnClimate, "id">): Promise<number> {
  const { name, kind, rawFileId, ...detail } = climate;
  const [id] = await knex("climate").insert({
    name: name.slice(0, 160),
    kind,
    raw_file_id: rawFileId,
    detail: JSON.stringify(climateSchema.parse(detail)),
    created_at: Date.now(),
  });
  return id;
}

/** Only marks. @returns false when it is not there */
export async function markClimateDeleted(knex: Knex, id: number, deleted: boolean): Promise<boolean> {
  const marked = await knex("climate")
    .where({ id })
    .update({ deleted_at: deleted ? Date.now() : null });
  return marked > 0;
}

export async function listUnavailable(knex: Knex): Promise<(StoredUnavailable & { id: number })[]> {
  return (await knex("unavailable").whereNull("deleted_at").orderBy("id")).flatMap(
    (r: { id: number; detail: unknown }) => {
      const detail = readable(unavailableSchema, r.detail);
      return detail ? [{ id: r.id, ...detail }] : [];
    },
  );
}

export async function insertUnavailable(knex: Knex, detail: StoredUnavailable): Promise<number> {
  const [id] = await knex("unavailable").insert({
    detail: JSON.stringify(unavailableSchema.parse(detail)),
    created_at: Date.now(),
  });
  return id;
}

/** Only marks. @returns false when it is not there */
export async function markUnavailableDeleted(knex: Knex, id: number, deleted: boolean): Promise<boolean> {
  const marked = await knex("unavailable")
    .where({ id })
    .update({ deleted_at: deleted ? Date.now() : null });
  return marked > 0;
}
