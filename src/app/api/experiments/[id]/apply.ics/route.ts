import { applyCalendar } from "@/services/apply/calendar";
import { database } from "@/services/web/connection";
import { malformed, routeId } from "@/services/web/routeId";
import { answering } from "@/services/web/answering";

export const dynamic = "force-dynamic";

export const GET = answering(async (_: Request, { params }: { params: Promise<{ id: string }> }) => {
  const { id } = await params;
  const experimentId = routeId(id);
  if (experimentId === null) return malformed("An experiment");
  const calendar = await applyCalendar(database(), experimentId, Date.now());
  if (calendar === null) return new Response("This experiment is not there.", { status: 404 });
  return new Response(calendar, {
    headers: {
      "content-type": "text/calendar; charset=utf-8",
      "content-disposition": `attachment; filename="bravel-mirror-${id}.ics"`,
    },
  });
});
