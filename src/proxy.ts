import { NextResponse, type NextRequest } from "next/server";
import { refusal } from "./services/web/requestGuard";

/** Guards every request, and sends a content policy that runs no script but the application's. */
export function proxy(request: NextRequest): NextResponse {
  const refused = refusal(request);
  if (refused?.status === 401 && request.headers.get("accept")?.includes("text/html")) {
    // By the name it was opened under, which the guard has just found to be one of ours.
    const from = `${request.headers.get("x-forwarded-proto") ?? "http"}://${request.headers.get("host")}`;
    const login = new URL("/login", from);
    login.searchParams.set("to", request.nextUrl.pathname);
    return NextResponse.redirect(login, 303);
  }
  if (refused) return new NextResponse(refused.text, { status: refused.status });
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
  response.headers.set("x-content-type-options", "nosniff");
  response.headers.set("referrer-policy", "same-origin");
  return response;
}

// Uploads go straight to their routes, which guard themselves: a proxied request's body is held in memory and cut at 10 MB. Kept
// photos carry a stricter policy of their own. Each is named whole, so that nothing beside it is left unguarded.
export const config = {
  matcher: [{ source: "/((?!api/files$|api/packages$|api/photos/[0-9]+$).*)" }],
};
