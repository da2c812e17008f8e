import { database } from "@/services/web/connection";
import { heavy } from "@/services/heavy/heavy";
import { malformed, routeId } from "@/services/web/routeId";
import { figureRefSchema } from "@/services/page/views";
import { answering } from "@/services/web/answering";

/** The working of a figure, named by `?figure=` in JSON. Read by asking, so that a viewer may open it too. */
export const GET = answering(async (request: Request, { params }: { params: Promise<{ id: string }> }) => {
  const experimentId = routeId((await params).id);
  if (experimentId === null) return malformed("An experiment");
  const named = figureRefSchema.safeParse(parsed(new URL(request.url).searchParams.get("figure")));
  if (!named.success)
    return Response.json(
      { error: `“figure” must name a figure, as in ?figure={"figure":"verdict"}.` },
      { status: 400 },
    );
  const working = await heavy(database()).openWorking(experimentId, named.data);
  return Response.json(working, { headers: { "cache-control": "no-store" } });
});

function parsed(text: string | null): unknown {
  try {
    return JSON.parse(text ?? "");
  } catch {
    return undefined;
  }
}
