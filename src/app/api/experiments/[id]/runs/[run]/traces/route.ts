import { database } from "@/services/web/connection";
import { instantSchema } from "@/core/experiment/schema/bounds";
import { malformed, routeId } from "@/services/web/routeId";
import { heavy } from "@/services/heavy/heavy";
import { answering } from "@/services/web/answering";

/**
 * Traces for drawing, as binary: a JSON head of known length, then for each trace its means and its left-out counts as
 * little-endian float32.
 */
export const GET = answering(async (request: Request, { params }: { params: Promise<{ id: string; run: string }> }) => {
  const { id, run } = await params;
  const query = new URL(request.url).searchParams;
  const number = (name: string) =>
    query.has(name) && Number.isFinite(Number(query.get(name))) ? Number(query.get(name)) : undefined;
  const [experimentId, runId] = [routeId(id), routeId(run)];
  if (experimentId === null || runId === null) return malformed("A run");
  const instant = (name: string) => instantSchema.optional().catch(undefined).parse(number(name));
  const traces = await heavy(database()).runTraces(experimentId, runId, {
    fromMs: instant("from"),
    toMs: instant("to"),
    buckets: number("buckets") ?? 1200,
  });
  if (!traces)
    return Response.json(
      { error: "There is no such run. It may have been deleted; go back to the experiment." },
      { status: 404 },
    );
  const head = JSON.stringify({
    ...traces,
    traces: traces.traces.map(({ name, kind, lane, correction }) => ({ name, kind, lane, correction })),
  });
  const padded = head.padEnd(Math.ceil(head.length / 4) * 4, " ");
  const text = new TextEncoder().encode(padded);
  // Names may hold characters of several bytes, so the length that counts is that of the bytes.
  const filled = Math.ceil(text.length / 4) * 4;
  const body = new Uint8Array(4 + filled + traces.traces.length * traces.buckets * 8);
  new DataView(body.buffer).setUint32(0, filled, true);
  body.set(text, 4);
  body.fill(32, 4 + text.length, 4 + filled);
  let at = 4 + filled;
  for (const { mean, out } of traces.traces) {
    for (const array of [mean, out]) {
      body.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), at);
      at += array.byteLength;
    }
  }
  return new Response(body, { headers: { "content-type": "application/octet-stream", "cache-control": "no-store" } });
});
