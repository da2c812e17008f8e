import { database } from "@/services/web/connection";
import { health } from "@/services/web/health";
import { answering } from "@/services/web/answering";

export const dynamic = "force-dynamic";

export const GET = answering(async () => {
  const state = await health(database);
  return Response.json(state, { status: state.ok ? 200 : 503 });
});
