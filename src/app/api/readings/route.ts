import { gunzipSync } from "node:zlib";
import { database } from "@/services/web/connection";
import { ingest, LARGEST_MESSAGE } from "@/services/ingest/ingest";
import { answering } from "@/services/web/answering";

/** The body as text, unpacked where it is packed; null when it is too large or damaged. */
async function bodyOf(request: Request): Promise<string | null> {
  const bytes = Buffer.from(await request.arrayBuffer());
  if (bytes.length > LARGEST_MESSAGE) return null;
  if (request.headers.get("content-encoding") !== "gzip") return bytes.toString("utf8");
  try {
    return gunzipSync(bytes, { maxOutputLength: LARGEST_MESSAGE }).toString("utf8");
  } catch {
    return null;
  }
}

/** Readings of a device, by its token: JSON or line protocol. Answered when they are on disk. Described in /api/openapi.json. */
export const POST = answering(async (request: Request) => {
  const body = await bodyOf(request);
  if (body === null)
    return Response.json(
      { error: "The body is larger than 8 MB, or is no whole gzip. Send it in parts." },
      { status: 413 },
    );
  const { status, answer, waitMs } = await ingest(
    database(),
    {
      authorization: request.headers.get("authorization"),
      contentType: request.headers.get("content-type") ?? "",
      precision: new URL(request.url).searchParams.get("precision"),
      body,
      from: request.headers.get("x-forwarded-for") ?? "here",
    },
    Date.now(),
  );
  return Response.json(answer, {
    status,
    headers: { "cache-control": "no-store", ...(waitMs ? { "retry-after": String(Math.ceil(waitMs / 1000)) } : {}) },
  });
});
