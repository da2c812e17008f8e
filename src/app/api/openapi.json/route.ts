import { openApi } from "@/services/ingest/openapi";

/** How devices send, for machines and whoever programs them. */
export function GET(request: Request): Response {
  return Response.json(openApi(new URL(request.url).origin));
}
