import { trySignIn } from "@/services/network/signIn";
import { answering } from "@/services/web/answering";
import { database } from "@/services/web/connection";
import { clientAddress, isEncrypted } from "@/services/web/forwarded";
import { DEVICE_MS, sealedCookie, SESSION_MS, unsealed } from "@/services/web/session";

const MOST_BYTES = 4096;
const back = (query: Record<string, string>): Response =>
  new Response(null, { status: 303, headers: { location: `/login?${new URLSearchParams(query)}` } });

/** The form's fields; null for a body that is too large or no form. */
async function formOf(request: Request): Promise<FormData | null> {
  if (Number(request.headers.get("content-length") ?? Infinity) > MOST_BYTES) return null;
  return request.formData().catch(() => null);
}

/** Signs in by name and passphrase. The answer leads on to where the person wanted to go, on this site only. */
export const POST = answering(async (request: Request) => {
  const form = await formOf(request);
  const field = (name: string) => String(form?.get(name) ?? "").slice(0, 500);
  const to = /^\/(?![/\\])[\w/-]*$/.test(field("to")) ? field("to") : "/";
  const nowMs = Date.now();
  const tried = await trySignIn(
    database(),
    {
      name: field("name"),
      passphrase: field("passphrase"),
      address: clientAddress(request.headers),
      browser: request.headers.get("user-agent") ?? "",
      device: unsealed("device", request.headers.get("cookie"), nowMs, process.env),
    },
    nowMs,
  );
  if (tried.kind === "wait") return back({ wait: String(tried.seconds), to });
  if (tried.kind === "wrong") return back({ wrong: "1", to });
  const secure = isEncrypted(request.headers);
  const headers = new Headers({ location: to });
  headers.append("set-cookie", sealedCookie("session", tried.token, { nowMs, forMs: SESSION_MS, secure }, process.env));
  headers.append("set-cookie", sealedCookie("device", tried.device, { nowMs, forMs: DEVICE_MS, secure }, process.env));
  return new Response(null, { status: 303, headers });
});
