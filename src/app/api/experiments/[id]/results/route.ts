import { database } from "@/services/web/connection";
import { heavy } from "@/services/heavy/heavy";
import { malformed, routeId } from "@/services/web/routeId";

/** Verdict, ranking, comparisons, curves with their covariance and doubts, as JSON. */
export async function GET(_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const experimentId = routeId((await params).id);
  if (experimentId === null) return malformed("An experiment");
  const results = await heavy(database()).experimentResults(experimentId);
  return results
    ? Response.json(results, { headers: { "cache-control": "no-store" } })
    : Response.json({ error: "There is no such experiment." }, { status: 404 });
}
