import { openApi } from "@/services/ingest/openapi";
import { answering } from "@/services/web/answering";

/** How devices send, for machines and whoever programs them. */
export const GET = answering(async (request: Request) => {
  return Response.json(openApi(new URL(request.url).origin));
});
