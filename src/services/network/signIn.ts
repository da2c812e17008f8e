import { randomBytes } from "node:crypto";
import type { Knex } from "knex";
import { personNamed } from "../../data/people/people";
import { endingAtOnce } from "../live/feed";
import { endSessions, insertSession } from "../../data/people/sessions";
import { passphraseFits, passphraseHash, SESSION_MS } from "../web/session";
import { Guessing } from "./guessing";

const holder = globalThis as { bravelGuessing?: Guessing };
/** What a name that is not there is held against, so that the time tells nothing. */
const nobody = passphraseHash(randomBytes(16).toString("hex"));
const LONGEST = 500;

export interface Try {
  /** Empty for the owner by the passphrase Bravel was started with. */
  name: string;
  passphrase: string;
  address: string;
  /** What the browser calls itself. */
  browser: string;
  /** Its name from an earlier sign-in. */
  device: string | null;
}

export type Tried =
  { kind: "in"; token: string; device: string } | { kind: "wrong" } | { kind: "wait"; seconds: number };

/** Whether a passphrase opens Bravel for a name, or how long to wait. */
export async function trySignIn(knex: Knex, tried: Try, nowMs: number): Promise<Tried> {
  const name = tried.name.trim();
  holder.bravelGuessing ??= new Guessing(nowMs);
  const waitMs = holder.bravelGuessing.wait({ ...tried, name }, nowMs);
  if (waitMs) return { kind: "wait", seconds: Math.ceil(waitMs / 1000) };
  const person = name ? await personNamed(knex, name) : null;
  const own = person?.leftAt === null ? person.passphrase : undefined;
  const hash = name ? own : process.env.BRAVEL_GUARD;
  const fits = await passphraseFits(tried.passphrase.slice(0, LONGEST), hash ?? nobody);
  if (!fits || !hash) return { kind: "wrong" };
  const token = await insertSession(knex, {
    personId: person?.id ?? null,
    device: deviceName(tried.browser),
    address: tried.address,
    untilAt: nowMs + SESSION_MS,
  });
  return { kind: "in", token, device: tried.device ?? randomBytes(9).toString("base64url") };
}

/** Ends the session that asks, or all of who asks. */
export async function signOut(
  knex: Knex,
  who: { sessionId: number | null; personId: number | null },
  everywhere: boolean,
): Promise<void> {
  if (who.sessionId === null) return;
  await endingAtOnce(endSessions(knex, everywhere ? { personId: who.personId } : { id: who.sessionId }));
}

const SYSTEMS: readonly [RegExp, string][] = [
  [/iPhone|iPad/, "iPhone or iPad"],
  [/Android/, "Android"],
  [/Windows/, "Windows"],
  [/Mac OS/, "Mac"],
  [/CrOS/, "Chromebook"],
  [/Linux/, "Linux"],
];
const BROWSERS: readonly [RegExp, string][] = [
  [/Edg\//, "Edge"],
  [/Firefox\//, "Firefox"],
  [/Chrom(?:e|ium)\//, "Chromium"],
  [/Safari\//, "Safari"],
];

/** What a person would call the device that a browser's own description is of. */
export function deviceName(browser: string): string {
  const of = (known: readonly [RegExp, string][]) => known.find(([mark]) => mark.test(browser))?.[1];
  const [system, program] = [of(SYSTEMS), of(BROWSERS)];
  if (!system && !program) return "another program";
  return [program, system].filter(Boolean).join(" on ");
}
