import { findPhoto } from "@/services/photos";
import { database } from "@/services/connection";
import { refusal } from "@/services/requestGuard";
import { photoHeaders } from "@/services/photos";

export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const refused = refusal(request);
  if (refused) return new Response(refused.text, { status: refused.status });
  const { id } = await params;
  const photo = /^\d{1,9}$/.test(id) ? await findPhoto(database(), Number(id)) : null;
  if (!photo)
    return new Response("This photo is no longer there.", {
      status: 404,
      headers: { "content-type": "text/plain; charset=utf-8" },
    });
  return new Response(new Uint8Array(photo.content), { headers: photoHeaders(photo.type) });
}
