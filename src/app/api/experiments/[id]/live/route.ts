import { database } from "@/services/web/connection";
import { heavy } from "@/services/heavy/heavy";
import { liveFeed } from "@/services/live/feed";
import { malformed, routeId } from "@/services/web/routeId";
import { refusal } from "@/services/web/requestGuard";
import { answering } from "@/services/web/answering";

export const dynamic = "force-dynamic";

/** The live bench of an experiment as server-sent events; with `?once` the view alone, as JSON. */
export const GET = answering(async (request: Request, { params }: { params: Promise<{ id: string }> }) => {
  const experimentId = routeId((await params).id);
  if (experimentId === null) return malformed("An experiment");
  const knex = database();
  const make = () => heavy(knex).liveView(experimentId, Date.now());
  if (new URL(request.url).searchParams.has("once"))
    return Response.json(await make(), { headers: { "cache-control": "no-store" } });
  return new Response(
    liveFeed(knex, experimentId, make, request.signal, async () => !(await refusal(request))),
    {
      headers: {
        "content-type": "text/event-stream",
        "cache-control": "no-store, no-transform",
        "x-accel-buffering": "no",
      },
    },
  );
});
