import { tryPassphrase } from "@/services/network/network";
import { cookieHeader, OWNER_COOKIE, OWNER_MS, sealed } from "@/services/web/session";
import { answering } from "@/services/web/answering";

const back = (query: string): Response => new Response(null, { status: 303, headers: { location: `/login${query}` } });

/** Signs in by passphrase. The answer leads on to where the person wanted to go, on this site only. */
export const POST = answering(async (request: Request) => {
  const form = await request.formData().catch(() => null);
  const [passphrase, to] = [form?.get("passphrase"), form?.get("to")];
  const wanted = typeof to === "string" && /^\/(?![/\\])[\w/-]*$/.test(to) ? to : "/";
  const tried = tryPassphrase(typeof passphrase === "string" ? passphrase : "", Date.now());
  if (tried.waitS) return back(`?wait=${tried.waitS}&to=${encodeURIComponent(wanted)}`);
  if (!tried.ok) return back(`?wrong=1&to=${encodeURIComponent(wanted)}`);
  const secure = request.headers.get("x-forwarded-proto") === "https";
  const value = sealed("owner", Date.now() + OWNER_MS, process.env);
  return new Response(null, {
    status: 303,
    headers: { location: wanted, "set-cookie": cookieHeader(OWNER_COOKIE, value, OWNER_MS, secure) },
  });
});
