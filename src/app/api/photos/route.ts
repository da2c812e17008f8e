import { createHash } from "node:crypto";
import { cleanPhoto } from "@/services/variant/cleanPhoto";
import { insertPhoto, LARGEST_PHOTO } from "@/services/variant/photos";
import { database } from "@/services/web/connection";
import { answering } from "@/services/web/answering";

const id = (text: string | null): number => (/^\d{1,9}$/.test(text ?? "") ? Number(text) : 0);

/** Takes one photo as the request's body for a checklist item (?experiment, ?variant, ?item). Its type is read from its bytes. */
export const POST = answering(async (request: Request) => {
  const query = new URL(request.url).searchParams;
  const item = (query.get("item") ?? "").slice(0, 120);
  const content = await readAtMost(request, LARGEST_PHOTO);
  if (!content)
    return Response.json(
      { error: `This photo is larger than ${LARGEST_PHOTO / 1048576} MB even after shrinking. Crop it and try again.` },
      { status: 413 },
    );
  const photo = await cleanPhoto(content);
  if (!photo || !item)
    return Response.json(
      { error: "This is not a photo Bravel keeps: it takes whole JPEG, PNG and WebP pictures of up to 50 megapixels." },
      { status: 415 },
    );
  const kept = await insertPhoto(database(), {
    experimentId: id(query.get("experiment")),
    variantId: id(query.get("variant")),
    item,
    type: photo.type,
    sha256: createHash("sha256").update(photo.content).digest("hex"),
    content: photo.content,
  });
  if (kept === null)
    return Response.json({ error: "This variant is no longer there. Reload the page." }, { status: 404 });
  return Response.json({ id: kept });
});

/** The body, or null as soon as it grows beyond the limit. */
async function readAtMost(request: Request, limit: number): Promise<Buffer | null> {
  const parts: Uint8Array[] = [];
  let size = 0;
  if (!request.body) return Buffer.alloc(0);
  for await (const part of request.body as unknown as AsyncIterable<Uint8Array>) {
    size += part.length;
    if (size > limit) return null;
    parts.push(part);
  }
  return Buffer.concat(parts);
}
