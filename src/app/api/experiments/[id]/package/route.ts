import { database } from "@/services/web/connection";
import { heavy } from "@/services/heavy/heavy";
import { writePackage } from "@/services/package/write";
import { malformed, routeId } from "@/services/web/routeId";
import { answering } from "@/services/web/answering";

export const dynamic = "force-dynamic";

/** An experiment as a zipped Data Package: description, plain tables, raw bytes, results. */
export const GET = answering(async (_: Request, { params }: { params: Promise<{ id: string }> }) => {
  const experimentId = routeId((await params).id);
  if (experimentId === null) return malformed("An experiment");
  const knex = database();
  const pieces = await writePackage(knex, experimentId, await heavy(knex).experimentResults(experimentId));
  if (!pieces) return Response.json({ error: "There is no such experiment." }, { status: 404 });
  return new Response(
    new ReadableStream<Uint8Array>({
      async pull(controller) {
        const { done, value } = await pieces.next();
        if (done) controller.close();
        else controller.enqueue(value);
      },
      cancel: () => void pieces.return(undefined),
    }),
    {
      headers: {
        "content-type": "application/zip",
        "content-disposition": `attachment; filename="experiment-${experimentId}.zip"`,
        "cache-control": "no-store",
      },
    },
  );
});
