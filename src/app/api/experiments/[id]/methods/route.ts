import { database } from "@/services/web/connection";
import { heavy } from "@/services/heavy/heavy";
import { malformed, routeId } from "@/services/web/routeId";

/** What every method finds in an experiment's readings, as JSON. */
export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const experimentId = routeId((await params).id);
  if (experimentId === null) return malformed("An experiment");
  const found = await heavy(database()).methodsView(experimentId);
  return found
    ? Response.json(found, { headers: { "cache-control": "no-store" } })
    : Response.json({ error: "There is no such experiment." }, { status: 404 });
}
