import type { Delimiter } from "@/core/log/sniff";
import { database } from "@/services/web/connection";
import { malformed, routeId } from "@/services/web/routeId";
import { heavy } from "@/services/heavy/heavy";
import { answering } from "@/services/web/answering";

const DELIMITERS: Record<string, Delimiter> = { comma: ",", semicolon: ";", tab: "\t", bar: "|", space: " " };

/** Looks at a kept file again, with another delimiter if one is named. */
export const GET = answering(async (request: Request, { params }: { params: Promise<{ id: string }> }) => {
  const { id } = await params;
  const delimiter = DELIMITERS[new URL(request.url).searchParams.get("delimiter") ?? ""];
  const fileId = routeId(id);
  if (fileId === null) return malformed("A file");
  const inspection = await heavy(database()).inspectFile(fileId, delimiter);
  return inspection
    ? Response.json(inspection)
    : Response.json({ error: "That file is no longer kept. Drop it again." }, { status: 404 });
});
