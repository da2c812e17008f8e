import { as, type Actor } from "../../data/actor";
import { database } from "./connection";
import { rightTo } from "./doors";
import { allowedHosts } from "./settings";
import { whoAsks, type Asker, type Viewer } from "./who";

const LOCAL = /^(?:127\.0\.0\.1|localhost|\[::1\])(?::\d+)?$/;

export interface Refusal {
  status: number;
  text: string;
  /** Where a person who asked for a page is led instead. */
  instead?: string;
}

const UNKNOWN: Refusal = {
  status: 401,
  text: "Sign in first: this Bravel is open to its network by passphrase only. Nothing was changed.",
  instead: "/login",
};
const OTHERS: Refusal = {
  status: 403,
  text: "This link shows one experiment and changes nothing. Ask whoever sent it for more.",
};
const TAKES_NOTHING: Refusal = {
  status: 403,
  text: "This link shows the experiment; it does not hand it out as a package. Ask whoever sent it.",
};
const OWNERS: Refusal = {
  status: 403,
  text: "Only the owner of this Bravel does that; you are signed in as a bench hand. Nothing was changed.",
  instead: "/account?refused=1",
};

/** Who asks, by a request's cookies. @throws when the database is away */
export const askerOf = (headers: Headers): Promise<Asker | null> =>
  whoAsks(database, headers.get("cookie"), Date.now(), process.env);

/**
 * Why a request must not be served, or null: a foreign host name (rebinding), a change asked for by another site's page, or, where Bravel
 * is open to a network, somebody without the right that the door asks for.
 * @throws when who asks cannot be looked up because the database is away
 */
export async function refusal(request: Pick<Request, "method" | "headers" | "url">): Promise<Refusal | null> {
  const refused = foreign(request);
  if (refused) return refused;
  const { pathname } = new URL(request.url);
  const right = rightTo(request.method, pathname);
  if (right === "open") return null;
  const asker = await askerOf(request.headers);
  if (!asker) return UNKNOWN;
  if (asker.role === "viewer") return right === "viewer" ? viewed(asker, pathname) : OTHERS;
  return right === "owner" && asker.role !== "owner" ? OWNERS : null;
}

function viewed({ experimentId, takes }: Viewer, pathname: string): Refusal | null {
  const [, id, rest] = /^\/(?:api\/)?experiments\/(\d+)(\/.*)?$/.exec(pathname) ?? [];
  // Who did what is for those who work here.
  if (Number(id) !== experimentId || rest === "/history") return OTHERS;
  return rest === "/package" && !takes ? TAKES_NOTHING : null;
}

/**
 * Who runs an action, or why it must not run. A page that is open to everybody (the sign-in) holds the same actions as every other, so each
 * asks for itself.
 */
export async function actorFor(right: "hand" | "owner", headers: Headers): Promise<Actor | Refusal> {
  const refused = foreign({ method: "POST", headers });
  if (refused) return refused;
  const asker = await askerOf(headers);
  if (!asker) return UNKNOWN;
  if (asker.role === "viewer") return OTHERS;
  return right === "owner" && asker.role !== "owner" ? OWNERS : asker;
}

/**
 * Does what somebody asks for, under their name, or says why not. Who has no right to it has nothing looked at.
 * @throws when the database is away, or whatever the work throws
 */
export async function asAllowed<T>(
  right: "hand" | "owner",
  headers: Headers,
  work: () => Promise<T>,
): Promise<{ done: T } | { refusal: Refusal }> {
  const who = await actorFor(right, headers);
  return isRefusal(who) ? { refusal: who } : { done: await as(who, work) };
}

export const isRefusal = (answer: Actor | Refusal): answer is Refusal => "status" in answer;

function foreign(request: Pick<Request, "method" | "headers">): Refusal | null {
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
