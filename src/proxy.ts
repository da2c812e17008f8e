import { NextResponse, type NextRequest } from "next/server";
import { NOTHING } from "./services/web/answering";
import { failureWords } from "./services/web/failure";
import { isEncrypted } from "./services/web/forwarded";
import { log } from "./services/web/log";
import { refusal } from "./services/web/requestGuard";

/** Guards every request, and sends a content policy that runs no script but the application's. */
export async function proxy(request: NextRequest): Promise<NextResponse> {
  try {
    const refused = await refusal(request);
    if (refused?.instead && request.headers.get("accept")?.includes("text/html")) return to(refused.instead, request);
    if (refused)
      return new NextResponse(refused.text, {
        status: refused.status,
        headers: { "content-security-policy": NOTHING },
      });
  } catch (error) {
    // Who asks stands in the database: while it is away nobody is let in, and everybody is told to come again.
    log.error({ err: error }, "who asks could not be looked up");
    return new NextResponse(failureWords(error, "Bravel could not answer this."), {
      status: 503,
      headers: { "retry-after": "5", "content-security-policy": NOTHING },
    });
  }
  // Routes say for themselves that their answers run nothing.
  return request.nextUrl.pathname.startsWith("/api/") ? NextResponse.next() : withPolicy(request);
}

function to(way: string, request: NextRequest): NextResponse {
  // By the name it was opened under, which the guard has just found to be one of ours.
  const from = `${isEncrypted(request.headers) ? "https" : "http"}://${request.headers.get("host")}`;
  const there = new URL(way, from);
  if (way === "/login") there.searchParams.set("to", request.nextUrl.pathname);
  return NextResponse.redirect(there, 303);
}

function withPolicy(request: NextRequest): NextResponse {
  const nonce = btoa(crypto.randomUUID());
  const policy = [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'self'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join("; ");
  const headers = new Headers(request.headers);
  headers.set("x-nonce", nonce);
  headers.set("content-security-policy", policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set("content-security-policy", policy);
  return response;
}

// Uploads go straight to their routes, which guard themselves: a proxied request's body is held in memory and cut at 10 MB. Kept
// photos carry a stricter policy of their own. Health and the live bench are asked most often and guard themselves too: one way less
// through the framework. Each is named whole, so that nothing beside it is left unguarded.
export const config = {
  matcher: [
    { source: "/((?!api/files$|api/packages$|api/photos/[0-9]+$|api/health$|api/experiments/[0-9]+/live$).*)" },
  ],
};
