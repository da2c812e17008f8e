import type { Knex } from "knex";
import { parseEpw, epwClimate, type EpwProblem, type EpwSetAside } from "../../core/site/epw";
import { readFileText } from "../../data/file/files";
import { findSite, insertClimate, updateSite } from "../../data/site/sites";

export type EpwAnswer =
  | {
      ok: true;
      id: number;
      name: string;
      hours: number;
      setAside: EpwSetAside;
      place: { latitude: number; longitude: number; altitudeM: number };
    }
  | { ok: false; problem: EpwProblem | { kind: "gone" } | { kind: "noLight" } };

/** Reads a typical-weather file that was stored whole, keeps its twelve months and the way back to its bytes. @param licence what its owner says may be done with it */
export async function importEpw(knex: Knex, fileId: number, licence: string): Promise<EpwAnswer> {
  const text = await readFileText(knex, fileId);
  if (text === null) return { ok: false, problem: { kind: "gone" } };
  const read = parseEpw(text);
  if (!read.ok) return read;
  const climate = epwClimate(read.file);
  if (!climate) return { ok: false, problem: { kind: "noLight" } };
  const { latitude, longitude, altitudeM, flags } = read.file;
  const place = { latitude, longitude, altitudeM, hours: flags.length };
  const id = await insertClimate(knex, {
    name: climate.name,
    kind: "epw",
    rawFileId: fileId,
    months: [...climate.months],
    source: climate.source,
    licence,
    place,
  });
  return { ok: true, id, name: climate.name, hours: flags.length, setAside: read.setAside, place };
}

/** Reads a typical-weather file and plans a site with it. */
export async function chooseEpw(knex: Knex, siteId: number, fileId: number, licence: string): Promise<EpwAnswer> {
  const answer = await importEpw(knex, fileId, licence);
  const site = await findSite(knex, siteId);
  if (answer.ok && site)
    await updateSite(
      knex,
      siteId,
      { ...site, detail: { ...site.detail, climate: { kind: "own", id: answer.id } } },
      site,
    );
  return answer;
}
