import { promisify } from "node:util";
import { gunzip } from "node:zlib";
import { database } from "@/services/web/connection";
import { takeFrom, whoSends } from "@/services/ingest/ingest";
import { LARGEST_MESSAGE, type Ingested } from "@/services/ingest/take";
import { clientAddress } from "@/services/web/forwarded";
import { answering } from "@/services/web/answering";

const unpacked = promisify<Buffer, { maxOutputLength: number }, Buffer>(gunzip);

/** The body as text, unpacked where it is packed; null when it is too large or damaged. */
async function bodyOf(request: Request): Promise<string | null> {
  const bytes = Buffer.from(await request.arrayBuffer());
  if (bytes.length > LARGEST_MESSAGE) return null;
  if (request.headers.get("content-encoding") !== "gzip") return bytes.toString("utf8");
  try {
    return (await unpacked(bytes, { maxOutputLength: LARGEST_MESSAGE })).toString("utf8");
  } catch {
    return null;
  }
}

const answerOf = ({ status, answer, waitMs }: Ingested): Response =>
  Response.json(answer, {
    status,
    headers: { "cache-control": "no-store", ...(waitMs ? { "retry-after": String(Math.ceil(waitMs / 1000)) } : {}) },
  });

/**
 * Readings of a device, by its token: JSON or line protocol. Answered when they are on disk. Described in /api/openapi.json. Who sends is asked
 * before anything is unpacked or read.
 */
export const POST = answering(async (request: Request) => {
  const [knex, nowMs] = [database(), Date.now()];
  const authorization = request.headers.get("authorization");
  const device = await whoSends(knex, { authorization, from: clientAddress(request.headers) }, nowMs);
  if ("status" in device) return answerOf(device);
  const body = await bodyOf(request);
  if (body === null)
    return Response.json(
      { error: "The body is larger than 8 MB, or is no whole gzip. Send it in parts." },
      { status: 413 },
    );
  const contentType = request.headers.get("content-type") ?? "";
  const precision = new URL(request.url).searchParams.get("precision");
  return answerOf(await takeFrom(knex, device, { contentType, precision, body }, nowMs));
});
