import { climateText } from "@/services/apply/applyView";
import { database } from "@/services/web/connection";
import { malformed, routeId } from "@/services/web/routeId";
import { answering } from "@/services/web/answering";

export const dynamic = "force-dynamic";

/** The typical-weather file of a climate: the season is run from its hours in the browser. */
export const GET = answering(async (_: Request, { params }: { params: Promise<{ id: string }> }) => {
  const climateId = routeId((await params).id);
  if (climateId === null) return malformed("A climate");
  const text = await climateText(database(), climateId);
  if (text === null) return new Response("This climate has no hours, or is no longer kept.", { status: 404 });
  return new Response(text, { headers: { "content-type": "text/plain; charset=utf-8" } });
});
