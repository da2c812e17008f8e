import { database } from "@/services/web/connection";
import { heavy } from "@/services/heavy/heavy";
import { LARGEST_FILE, STALL_MS, StalledUpload, storeFile } from "@/services/import/imports";
import { answering } from "@/services/web/answering";

/** Takes a package as the request's body and opens it as a new experiment: all of it, or nothing and why. */
export const POST = answering(async (request: Request) => {
  if (!request.body) return Response.json({ error: "The package is empty." }, { status: 400 });
  const knex = database();
  try {
    const limits = { bytes: LARGEST_FILE, stallMs: STALL_MS };
    const file = await storeFile(knex, "package.zip", request.body as unknown as AsyncIterable<Uint8Array>, limits);
    const opened = await heavy(knex).openPackage(file.id);
    return Response.json(opened, { status: opened.ok ? 201 : 422 });
  } catch (error) {
    if (error instanceof StalledUpload)
      return Response.json(
        { error: `The package stopped arriving: nothing came for ${error.seconds} s.` },
        { status: 408 },
      );
    if (error instanceof RangeError)
      return Response.json({ error: `The package is larger than ${LARGEST_FILE / 1048576} MB.` }, { status: 413 });
    throw error;
  }
});
