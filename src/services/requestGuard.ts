import { allowedHosts } from "./settings";

const LOCAL = /^(?:127\.0\.0\.1|localhost|\[::1\])(?::\d+)?$/;

/** Why a request must not be served, or null: a foreign host name (rebinding), or a change asked for by another site's page. */
export function refusal(request: Pick<Request, "method" | "headers">): { status: number; text: string } | null {
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
