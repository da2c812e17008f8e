import { database } from "@/services/web/connection";
import { places } from "@/services/page/pages";

/** Experiments with their lanes, and the user's own materials, by name: what the palette leads to. */
export async function GET(): Promise<Response> {
  return Response.json(await places(database()), { headers: { "cache-control": "no-store" } });
}
