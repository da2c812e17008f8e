import { database } from "@/services/web/connection";
import { places } from "@/services/page/pages";
import { answering } from "@/services/web/answering";

/** Experiments with their lanes, and the user's own materials, by name: what the palette leads to. */
export const GET = answering(async () => {
  return Response.json(await places(database()), { headers: { "cache-control": "no-store" } });
});
