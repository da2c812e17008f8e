import { database } from "@/services/web/connection";
import { heavy } from "@/services/heavy/heavy";
import { malformed, routeId } from "@/services/web/routeId";
import { answering } from "@/services/web/answering";

/** Verdict, ranking, comparisons, curves with their covariance and doubts, as JSON. */
export const GET = answering(async (_: Request, { params }: { params: Promise<{ id: string }> }) => {
  const experimentId = routeId((await params).id);
  if (experimentId === null) return malformed("An experiment");
  const results = await heavy(database()).experimentResults(experimentId);
  return results
    ? Response.json(results, { headers: { "cache-control": "no-store" } })
    : Response.json({ error: "There is no such experiment." }, { status: 404 });
});
