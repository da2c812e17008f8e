import type { Knex } from "knex";
import { z } from "zod";
import { lineSchema } from "../../core/text/line";
import { actor } from "../../data/actor";
import { noteChange } from "../../data/journal";
import { changePassphrase, insertPerson, leave, listPeople, passphraseOf, type Person } from "../../data/people/people";
import { endingAtOnce } from "../live/feed";
import { endSessions, listSessions, type SessionRow } from "../../data/people/sessions";
import { transact } from "../../data/transact";
import { command, done, refused } from "../web/command";
import { passphraseFits, passphraseHash } from "../web/session";

export type { SessionRow };

const id = z.number().int().positive();
const passphrase = z
  .string()
  .min(12, "needs twelve characters or more: four words that do not belong together are good")
  .max(200);
const GONE = refused("This person is no longer there. Reload the page.");
/** MariaDB's code for a value that must be there once. */
const TAKEN = 1062;

export interface People {
  people: Person[];
  sessions: SessionRow[];
}

/** Who may sign in, and where somebody is signed in now. */
export async function people(knex: Knex, nowMs: number): Promise<People> {
  const [all, sessions] = await Promise.all([listPeople(knex), listSessions(knex, nowMs)]);
  return { people: all.filter((p) => p.leftAt === null), sessions };
}

/** Where one person is signed in. @param personId null for the owner by the start passphrase */
export const sessionsOf = async (knex: Knex, personId: number | null, nowMs: number): Promise<SessionRow[]> =>
  (await listSessions(knex, nowMs)).filter((s) => s.personId === personId);

export const addPerson = command({
  input: z.tuple([
    z.object({ name: lineSchema().min(1, "give a name").max(60), role: z.enum(["owner", "hand"]), passphrase }),
  ]),
  async run(knex, { name, role, passphrase: words }) {
    try {
      await transact(knex, async (trx) => {
        const made = await insertPerson(trx, { name: name.trim(), role, passphrase: passphraseHash(words) });
        await noteChange(trx, null, "person added", { id: made, name, role });
      });
      return done();
    } catch (error) {
      if ((error as { errno?: number }).errno !== TAKEN) throw error;
      return refused(`There is, or was, somebody called ${name}. What each did stands under the name: take another.`);
    }
  },
  touches: () => "everything",
});

/** A passphrase set by the owner; it ends every session of the person. */
export const setPassphrase = command({
  input: z.tuple([id, passphrase]),
  async run(knex, personId, words) {
    if (!(await changePassphrase(knex, personId, passphraseHash(words)))) return GONE;
    await endingAtOnce(endSessions(knex, { personId }));
    await noteChange(knex, null, "passphrase set", { id: personId });
    return done();
  },
  touches: () => "everything",
});

/** One's own, by the old one. Other devices are signed out; this one as well, so that the new one is tried at once. */
export const changeOwnPassphrase = command({
  right: "hand",
  input: z.tuple([z.string().max(500), passphrase]),
  async run(knex, old, words) {
    const { personId } = actor();
    if (personId === null)
      return refused("The passphrase Bravel was started with is changed where it is started: BRAVEL_PASSPHRASE.");
    const known = await passphraseOf(knex, personId);
    if (!known || !(await passphraseFits(old, known)))
      return refused("The old passphrase is another one. Nothing was changed.");
    await changePassphrase(knex, personId, passphraseHash(words));
    await endingAtOnce(endSessions(knex, { personId }));
    await noteChange(knex, null, "passphrase changed", { id: personId });
    return done();
  },
  touches: () => "nothing",
});

/** Somebody leaves, and is signed out at once; or comes back. */
export const removePerson = command({
  input: z.tuple([id, z.boolean()]),
  async run(knex, personId, left) {
    if (!(await leave(knex, personId, left))) return GONE;
    if (left) await endingAtOnce(endSessions(knex, { personId }));
    await noteChange(knex, null, left ? "person removed" : "person restored", { id: personId });
    return done();
  },
  touches: () => "everything",
});

export const endSession = command({
  input: z.tuple([id]),
  run: async (knex, sessionId) =>
    (await endingAtOnce(endSessions(knex, { id: sessionId }))) ? done() : refused("This session had ended already."),
  touches: () => "everything",
});
