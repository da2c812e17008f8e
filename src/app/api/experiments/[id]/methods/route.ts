import { database } from "@/services/web/connection";
import { heavy } from "@/services/heavy/heavy";
import { malformed, routeId } from "@/services/web/routeId";
import { answering } from "@/services/web/answering";

/** What every method finds in an experiment's readings, as JSON. */
export const GET = answering(async (_: Request, { params }: { params: Promise<{ id: string }> }) => {
  const experimentId = routeId((await params).id);
  if (experimentId === null) return malformed("An experiment");
  const found = await heavy(database()).methodsView(experimentId);
  return found
    ? Response.json(found, { headers: { "cache-control": "no-store" } })
    : Response.json({ error: "There is no such experiment." }, { status: 404 });
});
