import { database } from "@/services/connection";

/** For the launcher and for balancers: answers 200 when the database answers. */
export async function GET(): Promise<Response> {
  try {
    await database().raw("SELECT 1");
    return Response.json({ ok: true });
  } catch {
    return Response.json({ ok: false, error: "The database does not answer." }, { status: 503 });
  }
}
