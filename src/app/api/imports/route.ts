import { z } from "zod";
import { database } from "@/services/connection";
import { importRun, madeByKey } from "@/services/imports";
import {
  ImportCancelled,
  importRequestSchema,
  ImportRefused,
  ImportUnsure,
  type ImportFailure,
  type ImportProgress,
} from "@/services/importRequest";

type Line = ImportProgress | { phase: "failed"; failure: ImportFailure } | { phase: "failed"; error: string };

const unsure = (run: number, keyed: boolean): string =>
  `The database went away at the very end, so it is not known whether run ${run} was kept. ${
    keyed
      ? "Import again in a while: if it was, Bravel finds it and does not take it twice."
      : "Look at the experiment's run list before importing again, so that it is not there twice."
  }`;

/** The run that the import with a key made: for who lost its answer. */
export async function GET(request: Request): Promise<Response> {
  const key = importRequestSchema.shape.key.safeParse(new URL(request.url).searchParams.get("key") ?? undefined);
  if (!key.success || !key.data) return Response.json({ error: "Name the import by its key." }, { status: 400 });
  return Response.json(
    { made: (await madeByKey(database(), key.data)) ?? null },
    { headers: { "cache-control": "no-store" } },
  );
}

/**
 * Imports files as a run. Answers with one JSON line a step; closing the connection cancels, and a cancelled or failed
 * import leaves nothing behind.
 */
export async function POST(request: Request): Promise<Response> {
  const parsed = importRequestSchema.safeParse(await request.json().catch(() => null));
  if (!parsed.success)
    return Response.json(
      {
        error: z.prettifyError(parsed.error),
        issues: parsed.error.issues.map((i) => ({ path: i.path.join("."), message: i.message })),
      },
      { status: 400 },
    );
  const abort = new AbortController();
  request.signal.addEventListener("abort", () => abort.abort());
  const encoder = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    async start(controller) {
      const send = (line: Line) => {
        if (!abort.signal.aborted) controller.enqueue(encoder.encode(`${JSON.stringify(line)}\n`));
      };
      try {
        await importRun(database(), parsed.data, send, abort.signal);
      } catch (error) {
        if (error instanceof ImportCancelled || abort.signal.aborted) return;
        if (error instanceof ImportRefused) send({ phase: "failed", failure: error.failure });
        else if (error instanceof ImportUnsure) {
          console.error("import's end unknown", error);
          send({ phase: "failed", error: unsure(error.run, parsed.data.key !== undefined) });
        } else {
          console.error("import failed", error);
          send({
            phase: "failed",
            error:
              "The import failed inside Bravel; nothing was kept. Try again; if it fails again, the terminal shows the reason.",
          });
        }
      } finally {
        if (!abort.signal.aborted) controller.close();
      }
    },
    cancel() {
      abort.abort();
    },
  });
  return new Response(stream, { headers: { "content-type": "application/x-ndjson", "cache-control": "no-store" } });
}
