import { signOut } from "@/services/network/signIn";
import { answering } from "@/services/web/answering";
import { database } from "@/services/web/connection";
import { isEncrypted } from "@/services/web/forwarded";
import { askerOf } from "@/services/web/requestGuard";
import { noCookie } from "@/services/web/session";

/** Signs out here; with `?everywhere` on every device of who asks. */
export const POST = answering(async (request: Request) => {
  const asker = await askerOf(request.headers);
  if (asker && asker.role !== "viewer")
    await signOut(database(), asker, new URL(request.url).searchParams.has("everywhere"));
  return new Response(null, {
    status: 303,
    headers: { location: "/login", "set-cookie": noCookie("session", isEncrypted(request.headers)) },
  });
});
