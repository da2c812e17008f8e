import { randomBytes } from "node:crypto";
import type { Knex } from "knex";
import { hashToken } from "../device/devices";
import type { PersonRole } from "./people";

export interface SessionRow {
  id: number;
  personId: number | null;
  /** Null for the owner by the start passphrase. */
  name: string | null;
  role: PersonRole;
  device: string;
  address: string;
  createdAt: number;
  usedAt: number;
}

const live = (knex: Knex, nowMs: number) =>
  knex("session as s")
    .leftJoin("person as p", "p.id", "s.person_id")
    .whereNull("s.ended_at")
    .whereNull("p.left_at")
    .where("s.until_at", ">", nowMs);

const COLUMNS = {
  id: "s.id",
  personId: "s.person_id",
  name: "p.name",
  role: "p.role",
  device: "s.device",
  address: "s.address",
  createdAt: "s.created_at",
  usedAt: "s.used_at",
};
// No person: the passphrase Bravel was started with.
const read = (row: Omit<SessionRow, "role"> & { role: PersonRole | null }): SessionRow => ({
  ...row,
  role: row.role ?? "owner",
});

/** A new session; its token is in the answer and nowhere else. */
export async function insertSession(
  knex: Knex,
  session: { personId: number | null; device: string; address: string; untilAt: number },
): Promise<string> {
  const token = randomBytes(24).toString("base64url");
  const now = Date.now();
  await knex("session").insert({
    token_sha256: hashToken(token),
    person_id: session.personId,
    device: session.device.slice(0, 120),
    address: session.address.slice(0, 64),
    created_at: now,
    used_at: now,
    until_at: session.untilAt,
  });
  return token;
}

export async function sessionOf(knex: Knex, token: string, nowMs: number): Promise<SessionRow | undefined> {
  const row = await live(knex, nowMs)
    .where("s.token_sha256", hashToken(token))
    .first({ ...COLUMNS });
  return row && read(row);
}

export const touchSession = (knex: Knex, id: number, nowMs: number): Promise<number> =>
  knex("session").where({ id }).update({ used_at: nowMs });

export async function listSessions(knex: Knex, nowMs: number): Promise<SessionRow[]> {
  return (await live(knex, nowMs).orderBy("s.used_at", "desc").limit(200).select(COLUMNS)).map(read);
}

/** Ends one, or all of one person (null: the owner by the start passphrase). @returns how many */
export const endSessions = (knex: Knex, which: { id: number } | { personId: number | null }): Promise<number> =>
  knex("session")
    .where("id" in which ? { id: which.id } : { person_id: which.personId })
    .whereNull("ended_at")
    .update({ ended_at: Date.now() });
