import type { Knex } from "knex";
import { HERE, type Actor } from "../../data/actor";
import { sessionOf, touchSession } from "../../data/people/sessions";
import { viewerLink } from "../../data/viewer/viewers";
import { isGuarded, unsealed } from "./session";

export interface Viewer {
  role: "viewer";
  experimentId: number;
  /** May take the experiment along as a package. */
  takes: boolean;
}
export type Asker = (Actor & { sessionId: number | null }) | Viewer;

/** At the computer itself, where Bravel answers nobody else. */
const AT_HOME: Asker = { ...HERE, sessionId: null };
/** A session's last use is kept to the minute. */
const TOUCH_MS = 60_000;

/**
 * Who asks; null for nobody known. Sessions and links are looked up each time, so that what is ended or revoked ends at once, on every
 * instance.
 */
export async function whoAsks(
  knex: () => Knex,
  cookies: string | null,
  nowMs: number,
  env: Record<string, string | undefined>,
): Promise<Asker | null> {
  if (!isGuarded(env)) return AT_HOME;
  const token = unsealed("session", cookies, nowMs, env);
  const session = token === null ? undefined : await sessionOf(knex(), token, nowMs);
  if (session) {
    if (nowMs - session.usedAt > TOUCH_MS) await touchSession(knex(), session.id, nowMs);
    return { role: session.role, name: session.name, personId: session.personId, sessionId: session.id };
  }
  const link = Number(unsealed("viewer", cookies, nowMs, env) ?? NaN);
  if (!Number.isSafeInteger(link)) return null;
  const shown = await viewerLink(knex(), link);
  return shown ? { role: "viewer", ...shown } : null;
}
