import { NextResponse, type NextRequest } from "next/server";

const LOCAL = /^(?:127\.0\.0\.1|localhost|\[::1\])(?::\d+)?$/;

/**
 * Guards every request: only this computer's own names as host (no rebinding of foreign names), changes only from its own
 * pages, and a content policy that runs no script but the application's.
 */
export function proxy(request: NextRequest): NextResponse {
  const host = request.headers.get("host") ?? "";
  const allowed = (process.env.BRAVEL_HOSTS ?? "").split(",").map((h) => h.trim()).filter(Boolean);
  if (!LOCAL.test(host) && !allowed.includes(host)) {
    return new NextResponse(`Bravel answers to this computer's own address only, not to "${host}". To open it under another name, list that name in BRAVEL_HOSTS.`, { status: 421 });
  }
  const origin = request.headers.get("origin");
  if (request.method !== "GET" && request.method !== "HEAD" && origin && new URL(origin).host !== host) {
    return new NextResponse("This change came from another site's page and was refused.", { status: 403 });
  }
  const nonce = btoa(crypto.randomUUID());
  const policy = [
    "default-src 'self'", `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`, "style-src 'self' 'unsafe-inline'", "img-src 'self' data: blob:", "font-src 'self'",
    "connect-src 'self'", "worker-src 'self' blob:", "object-src 'none'", "base-uri 'self'", "form-action 'self'", "frame-ancestors 'none'",
  ].join("; ");
  const headers = new Headers(request.headers);
  headers.set("x-nonce", nonce);
  headers.set("content-security-policy", policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set("content-security-policy", policy);
  response.headers.set("x-content-type-options", "nosniff");
  response.headers.set("referrer-policy", "same-origin");
  return response;
}

export const config = { matcher: [{ source: "/((?!_next/static|_next/image|icon.svg).*)" }] };
