import { createHmac, randomBytes, scrypt, scryptSync, timingSafeEqual } from "node:crypto";
import { promisify } from "node:util";

export const SESSION_COOKIE = "bravel-session";
export const VIEWER_COOKIE = "bravel-viewer";
/** Says that a device was signed in before, and nothing else. */
export const DEVICE_COOKIE = "bravel-device";
/** How long a sign-in lasts; a viewer comes back by its link, which may be revoked meanwhile. */
export const SESSION_MS = 30 * 86400_000;
export const VIEWER_MS = 3600_000;
export const DEVICE_MS = 365 * 86400_000;

/** Slow on purpose: a guess costs a tenth of a second. */
const COST = { N: 2 ** 15, r: 8, p: 1, maxmem: 64 * 1024 * 1024 };
const slowly = promisify<string, Buffer, number, typeof COST, Buffer>(scrypt);

type Environment = Record<string, string | undefined>;

/** Set by the launcher when a network is listened to. */
export const isGuarded = (env: Environment): boolean => Boolean(env.BRAVEL_GUARD);

export function passphraseHash(passphrase: string): string {
  const salt = randomBytes(16);
  return `${salt.toString("base64url")}.${scryptSync(passphrase.normalize("NFC"), salt, 32, COST).toString("base64url")}`;
}

/** Off the thread that answers requests: guesses hold nobody up. */
export async function passphraseFits(passphrase: string, hash: string): Promise<boolean> {
  const [salt, wanted] = hash.split(".").map((part) => Buffer.from(part, "base64url"));
  return timingSafeEqual(await slowly(passphrase.normalize("NFC"), salt, wanted.length, COST), wanted);
}

const keyOf = (env: Environment): string => env.BRAVEL_SESSION_KEY ?? "";
const mac = (text: string, key: string): string => createHmac("sha256", key).update(text).digest("base64url");

/** A cookie's value that only this server can have made. @param subject without full stops */
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

const SEALS = { session: SESSION_COOKIE, viewer: VIEWER_COOKIE, device: DEVICE_COOKIE } as const;
export type Seal = keyof typeof SEALS;

/** What a cookie of this kind holds: a session's token, a link's number, a device's name; null unless this server sealed it as that. */
export function unsealed(kind: Seal, cookies: string | null, nowMs: number, env: Environment): string | null {
  const subject = opened(cookie(cookies, SEALS[kind]), nowMs, env);
  return subject?.startsWith(`${kind}-`) ? subject.slice(kind.length + 1) : null;
}

/** Header that sets a sealed cookie. Strict: no other site's page can make use of it. */
export const sealedCookie = (
  kind: Seal,
  subject: string,
  until: { nowMs: number; forMs: number; secure: boolean },
  env: Environment,
): string =>
  cookieHeader(SEALS[kind], sealed(`${kind}-${subject}`, until.nowMs + until.forMs, env), until.forMs, until.secure);

/** Header that takes a cookie away. */
export const noCookie = (kind: Seal, secure: boolean): string => cookieHeader(SEALS[kind], "", 0, secure);

const cookieHeader = (name: string, value: string, maxAgeMs: number, secure: boolean): string =>
  `${name}=${value}; Path=/; Max-Age=${Math.round(maxAgeMs / 1000)}; HttpOnly; SameSite=Strict${secure ? "; Secure" : ""}`;
