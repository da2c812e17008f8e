import { database } from "@/services/web/connection";
import { health } from "@/services/web/health";

export const dynamic = "force-dynamic";

export async function GET(): Promise<Response> {
  const state = await health(database);
  return Response.json(state, { status: state.ok ? 200 : 503 });
}
