import { database } from "@/services/web/connection";
import { experimentOfLink } from "@/services/network/network";
import { isEncrypted } from "@/services/web/forwarded";
import { sealedCookie, VIEWER_MS } from "@/services/web/session";
import { answering } from "@/services/web/answering";

/** Opens a viewer's link: one experiment, for an hour, or until it is revoked; then by the link again. */
export const GET = answering(async (request: Request, { params }: { params: Promise<{ token: string }> }) => {
  const { token } = await params;
  const link = /^[\w-]{20,60}$/.test(token) ? await experimentOfLink(database(), token) : undefined;
  if (!link)
    return new Response("This link was revoked, or never was. Ask whoever sent it for a new one.", { status: 404 });
  const until = { nowMs: Date.now(), forMs: VIEWER_MS, secure: isEncrypted(request.headers) };
  return new Response(null, {
    status: 303,
    headers: {
      location: `/experiments/${link.experimentId}/run`,
      "set-cookie": sealedCookie("viewer", String(link.id), until, process.env),
      "referrer-policy": "no-referrer",
    },
  });
});
