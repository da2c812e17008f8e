import { database } from "@/services/web/connection";
import { failureWords } from "@/services/web/failure";
import { heavy } from "@/services/heavy/heavy";
import { madeByKey } from "@/services/import/imports";
import {
  importKeySchema,
  importRequestSchema,
  type ImportFailure,
  type ImportProgress,
} from "@/services/import/importRequest";
import { log } from "@/services/web/log";
import { issuesWords } from "@/words/refusal";
import { answering } from "@/services/web/answering";

type Line = ImportProgress | { phase: "failed"; failure: ImportFailure } | { phase: "failed"; error: string };

const unsure = (run: number, keyed: boolean): string =>
  `The database went away at the very end, so it is not known whether run ${run} was kept. ${
    keyed
      ? "Import again in a while: if it was, Bravel finds it and does not take it twice."
      : "Look at the experiment's run list before importing again, so that it is not there twice."
  }`;

/** The run that the import with a key made: for who lost its answer. */
export const GET = answering(async (request: Request) => {
  const key = importKeySchema.safeParse(new URL(request.url).searchParams.get("key") ?? undefined);
  if (!key.success || !key.data) return Response.json({ error: "Name the import by its key." }, { status: 400 });
  return Response.json(
    { made: (await madeByKey(database(), key.data)) ?? null },
    { headers: { "cache-control": "no-store" } },
  );
});

/**
 * Imports files as a run. Answers with one JSON line a step; closing the connection cancels, and a cancelled or failed
 * import leaves nothing behind.
 */
export const POST = answering(async (request: Request) => {
  const parsed = importRequestSchema.safeParse(await request.json().catch(() => null));
  if (!parsed.success)
    return Response.json(
      {
        error: `${issuesWords(parsed.error.issues)} Nothing was kept.`,
        issues: parsed.error.issues.map((i) => ({ path: i.path.join("."), message: i.message })),
      },
      { status: 400 },
    );
  const abort = new AbortController();
  request.signal.addEventListener("abort", () => abort.abort());
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    async start(controller) {
      let closed = false;
      const send = (line: Line) => {
        if (!abort.signal.aborted && !closed) controller.enqueue(encoder.encode(`${JSON.stringify(line)}\n`));
      };
      try {
        const end = await heavy(database()).importRun(parsed.data, send, abort.signal);
        if (end.kind === "done") send(end.done);
        if (end.kind === "refused") send({ phase: "failed", failure: end.failure });
        if (end.kind === "failed") send({ phase: "failed", error: end.words });
        if (end.kind === "unsure") send({ phase: "failed", error: unsure(end.run, parsed.data.key !== undefined) });
      } catch (error) {
        log.error({ err: error }, "an import ended");
        send({ phase: "failed", error: failureWords(error, "The import ended before it was done.") });
      } finally {
        closed = true;
        if (!abort.signal.aborted) controller.close();
      }
    },
    cancel() {
      abort.abort();
    },
  });
  return new Response(stream, { headers: { "content-type": "application/x-ndjson", "cache-control": "no-store" } });
});
