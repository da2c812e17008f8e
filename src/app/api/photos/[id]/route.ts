import { findPhoto, photoHeaders } from "@/services/variant/photos";
import { database } from "@/services/web/connection";
import { malformed, routeId } from "@/services/web/routeId";
import { answering } from "@/services/web/answering";

export const GET = answering(async (_: Request, { params }: { params: Promise<{ id: string }> }) => {
  const { id } = await params;
  const photoId = routeId(id);
  if (photoId === null) return malformed("A photo");
  const photo = await findPhoto(database(), photoId);
  if (!photo)
    return new Response("This photo is no longer there.", {
      status: 404,
      headers: { "content-type": "text/plain; charset=utf-8" },
    });
  return new Response(new Uint8Array(photo.content), { headers: photoHeaders(photo.type) });
});
