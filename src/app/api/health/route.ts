import { database } from "@/services/connection";
import { health } from "@/services/health";

export const dynamic = "force-dynamic";

export async function GET(): Promise<Response> {
  const state = await health(database);
  return Response.json(state, { status: state.ok ? 200 : 503 });
}
