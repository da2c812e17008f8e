import { accessOf, isGuarded, ownerAsks } from "./session";
import { allowedHosts } from "./settings";

const LOCAL = /^(?:127\.0\.0\.1|localhost|\[::1\])(?::\d+)?$/;

/**
 * Open without a sign-in where a network is listened to, as whole pairs of method and path: what has a token of its own, what leads
 * to the sign-in, and the parts pages are made of. Everything else is denied: whoever adds a route need not think of it.
 */
const OPEN: readonly { method: "GET" | "POST"; path: RegExp }[] = [
  { method: "GET", path: /^\/login$/ },
  { method: "POST", path: /^\/api\/login$/ },
  { method: "POST", path: /^\/api\/readings$/ },
  { method: "GET", path: /^\/api\/rig$/ },
  { method: "GET", path: /^\/api\/health$/ },
  { method: "GET", path: /^\/api\/openapi\.json$/ },
  { method: "GET", path: /^\/view\/[^/]+$/ },
  { method: "GET", path: /^\/(?:manifest\.webmanifest|sw\.js|icon\.svg)$/ },
  { method: "GET", path: /^\/_next\/static\/.+/ },
];

const isOpen = (method: string, pathname: string): boolean =>
  OPEN.some((o) => o.method === (method === "HEAD" ? "GET" : method) && o.path.test(pathname));

/**
 * Why a request must not be served, or null: a foreign host name (rebinding), a change asked for by another site's page, or, where Bravel
 * is open to a network, nobody known. A viewer may look at one experiment and change nothing.
 */
export function refusal(request: Pick<Request, "method" | "headers" | "url">): { status: number; text: string } | null {
  return foreign(request) ?? (isGuarded(process.env) ? unknown(request) : null);
}

function unknown({ method, headers, url }: Pick<Request, "method" | "headers" | "url">) {
  const { pathname } = new URL(url);
  if (isOpen(method, pathname)) return null;
  const access = accessOf(headers.get("cookie"), Date.now(), process.env);
  if (access?.kind === "owner") return null;
  if (!access) return { status: 401, text: "Sign in first: this Bravel is open to its network by passphrase only." };
  const own = new RegExp(`^/(?:api/)?experiments/${access.experimentId}(?:/|$)`).test(pathname);
  const reads = method === "GET" || method === "HEAD";
  return own && reads
    ? null
    : { status: 403, text: "This link shows one experiment and changes nothing. Ask whoever sent it for more." };
}

/**
 * Why an action must not run, or null. A page that is open to everybody (the sign-in) holds the same actions as every other, so each
 * asks for itself: only the owner acts, and where Bravel answers this computer alone everybody at it is the owner.
 */
export function actionRefusal(headers: Headers): string | null {
  const refused = foreign({ method: "POST", headers });
  if (refused) return refused.text;
  return ownerAsks(headers.get("cookie"), process.env)
    ? null
    : "Sign in first: only the owner of this Bravel changes anything. Nothing was changed.";
}

function foreign(request: Pick<Request, "method" | "headers">): { status: number; text: string } | null {
  const host = request.headers.get("host") ?? "";
  const allowed = allowedHosts(process.env);
  if (!LOCAL.test(host) && !allowed.includes(host)) {
    return {
      status: 421,
      text: `Bravel answers to this computer's own address only, not to "${host}". To open it under another name, list that name in BRAVEL_HOSTS.`,
    };
  }
  const origin = request.headers.get("origin");
  const changes = request.method !== "GET" && request.method !== "HEAD";
  if (changes && origin && hostOf(origin) !== host)
    return { status: 403, text: "This change came from another site's page and was refused." };
  return null;
}

function hostOf(origin: string): string | null {
  try {
    return new URL(origin).host;
  } catch {
    return null;
  }
}
