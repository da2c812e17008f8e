import { database } from "@/services/web/connection";
import { experimentOfLink } from "@/services/network/network";
import { cookieHeader, sealed, VIEWER_COOKIE, VIEWER_MS } from "@/services/web/session";
import { answering } from "@/services/web/answering";

/** Opens a viewer's link: one experiment, for an hour; then by the link again, unless it was revoked. */
export const GET = answering(async (request: Request, { params }: { params: Promise<{ token: string }> }) => {
  const { token } = await params;
  const experimentId = /^[\w-]{20,60}$/.test(token) ? await experimentOfLink(database(), token) : undefined;
  if (experimentId === undefined)
    return new Response("This link was revoked, or never was. Ask whoever sent it for a new one.", { status: 404 });
  const secure = request.headers.get("x-forwarded-proto") === "https";
  const value = sealed(String(experimentId), Date.now() + VIEWER_MS, process.env);
  return new Response(null, {
    status: 303,
    headers: {
      location: `/experiments/${experimentId}/run`,
      "set-cookie": cookieHeader(VIEWER_COOKIE, value, VIEWER_MS, secure),
      "referrer-policy": "no-referrer",
    },
  });
});
