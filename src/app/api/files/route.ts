import { database } from "@/services/web/connection";
import { heavy } from "@/services/heavy/heavy";
import { LARGEST_FILE, removeFile, STALL_MS, StalledUpload, storeFile } from "@/services/import/imports";
import { answering } from "@/services/web/answering";

/** Takes one file as the request's body (name in x-file-name, URI-encoded), keeps its bytes, and says how it seems to be written. */
export const POST = answering(async (request: Request) => {
  const knex = database();
  const name = decodeName(request.headers.get("x-file-name"));
  if (!request.body)
    return Response.json(
      { error: `${name} is empty: it holds not a single byte. Export the log again.` },
      { status: 400 },
    );
  try {
    const file = await storeFile(knex, name, request.body as unknown as AsyncIterable<Uint8Array>, {
      bytes: LARGEST_FILE,
      stallMs: STALL_MS,
    });
    const sent = Number(request.headers.get("content-length") ?? file.bytes);
    if (sent !== file.bytes) {
      await removeFile(knex, file.id);
      return Response.json(
        { error: `${name} arrived incomplete: ${file.bytes} of ${sent} bytes. Drop it again.` },
        { status: 400 },
      );
    }
    return Response.json(await heavy(knex).inspectFile(file.id));
  } catch (error) {
    if (error instanceof StalledUpload)
      return Response.json(
        {
          error: `${name} stopped arriving: nothing came for ${error.seconds} s. Look at the network, then drop it again.`,
        },
        { status: 408 },
      );
    if (error instanceof RangeError)
      return Response.json(
        {
          error: `${name} is larger than ${LARGEST_FILE / 1048576} MB. Split it by day or week and import the parts together.`,
        },
        { status: 413 },
      );
    throw error;
  }
});

/** Names come from outside: only the last part, no control characters, and never used as a path. */
function decodeName(header: string | null): string {
  let name = header ?? "log.csv";
  try {
    name = decodeURIComponent(name);
  } catch {
    // A broken escape is kept as it was written.
  }
  return (name.split(/[\\/]/).pop() ?? "").replace(/[\u0000-\u001f\u007f]/g, "").slice(0, 200) || "log.csv";
}
