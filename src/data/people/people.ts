import type { Knex } from "knex";

export type PersonRole = "owner" | "hand";

export interface Person {
  id: number;
  name: string;
  role: PersonRole;
  createdAt: number;
  leftAt: number | null;
}

const COLUMNS = { id: "id", name: "name", role: "role", createdAt: "created_at", leftAt: "left_at" };

export const listPeople = (knex: Knex): Promise<Person[]> => knex("person").orderBy("name").select(COLUMNS);

/** @throws when the name is taken */
export async function insertPerson(
  knex: Knex,
  person: { name: string; role: PersonRole; passphrase: string },
): Promise<number> {
  const [id] = await knex("person").insert({ ...person, created_at: Date.now() });
  return id;
}

export const personNamed = (
  knex: Knex,
  name: string,
): Promise<{ id: number; passphrase: string; leftAt: number | null } | undefined> =>
  knex("person").where({ name }).first({ id: "id", passphrase: "passphrase", leftAt: "left_at" });

export const passphraseOf = async (knex: Knex, id: number): Promise<string | undefined> =>
  (await knex("person").where({ id }).first("passphrase"))?.passphrase;

/** @param passphrase its hash */
export const changePassphrase = async (knex: Knex, id: number, passphrase: string): Promise<boolean> =>
  (await knex("person").where({ id }).update({ passphrase })) > 0;

/** Somebody who left keeps the name in what was done, and opens nothing. */
export const leave = async (knex: Knex, id: number, left: boolean): Promise<boolean> =>
  (await knex("person")
    .where({ id })
    .update({ left_at: left ? Date.now() : null })) > 0;
