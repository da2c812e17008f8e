import { createHmac, randomBytes, scryptSync, timingSafeEqual } from "node:crypto";

/** Who asks, where Bravel is open to a network. */
export type Access = { kind: "owner" } | { kind: "viewer"; experimentId: number };

export const OWNER_COOKIE = "bravel-session";
export const VIEWER_COOKIE = "bravel-viewer";
/** How long a sign-in lasts; a viewer comes back by its link, which may be revoked meanwhile. */
export const OWNER_MS = 30 * 86400_000;
export const VIEWER_MS = 3600_000;

/** Slow on purpose: a guess costs a tenth of a second. */
const COST = { N: 2 ** 15, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };

type Environment = Record<string, string | undefined>;

/** Set by the launcher when a network is listened to. */
export const isGuarded = (env: Environment): boolean => Boolean(env.BRAVEL_GUARD);

export function passphraseHash(passphrase: string): string {
  const salt = randomBytes(16);
  return `${salt.toString("base64url")}.${scryptSync(passphrase.normalize("NFC"), salt, 32, COST).toString("base64url")}`;
}

export function passphraseFits(passphrase: string, hash: string): boolean {
  const [salt, wanted] = hash.split(".").map((part) => Buffer.from(part, "base64url"));
  return timingSafeEqual(scryptSync(passphrase.normalize("NFC"), salt, wanted.length, COST), wanted);
}

const keyOf = (env: Environment): string => env.BRAVEL_SESSION_KEY ?? "";
const mac = (text: string, key: string): string => createHmac("sha256", key).update(text).digest("base64url");

/** A cookie's value that only this server can have made. @param subject `owner`, or a viewer's experiment */
export function sealed(subject: string, untilMs: number, env: Environment): string {
  const text = `${subject}.${untilMs}.${randomBytes(6).toString("base64url")}`;
  return `${text}.${mac(text, keyOf(env))}`;
}

function opened(value: string | undefined, nowMs: number, env: Environment): string | null {
  const parts = value?.split(".") ?? [];
  if (parts.length !== 4 || !keyOf(env)) return null;
  const text = parts.slice(0, 3).join(".");
  const [given, wanted] = [Buffer.from(parts[3]), Buffer.from(mac(text, keyOf(env)))];
  if (given.length !== wanted.length || !timingSafeEqual(given, wanted)) return null;
  return Number(parts[1]) > nowMs ? parts[0] : null;
}

const cookie = (header: string | null, name: string): string | undefined =>
  header
    ?.split(/;\s*/)
    .find((c) => c.startsWith(`${name}=`))
    ?.slice(name.length + 1);

/** Who the cookies of a request say asks; null for nobody known. */
export function accessOf(cookies: string | null, nowMs: number, env: Environment): Access | null {
  if (opened(cookie(cookies, OWNER_COOKIE), nowMs, env) === "owner") return { kind: "owner" };
  const experimentId = Number(opened(cookie(cookies, VIEWER_COOKIE), nowMs, env) ?? NaN);
  return Number.isInteger(experimentId) ? { kind: "viewer", experimentId } : null;
}

/** Whether the owner asks: where Bravel answers this computer alone, everybody at it is the owner. */
export const ownerAsks = (cookies: string | null, env: Environment): boolean =>
  !isGuarded(env) || accessOf(cookies, Date.now(), env)?.kind === "owner";

/** Header that sets a session's cookie. Strict: no other site's page can make use of it. */
export const cookieHeader = (name: string, value: string, maxAgeMs: number, secure: boolean): string =>
  `${name}=${value}; Path=/; Max-Age=${Math.round(maxAgeMs / 1000)}; HttpOnly; SameSite=Strict${secure ? "; Secure" : ""}`;
