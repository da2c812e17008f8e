import { database } from "@/services/web/connection";
import { rigOrders } from "@/services/rig/rig";
import { answering } from "@/services/web/answering";

/** What the simulated bench is to do, for the process that drives it, by its device's token. */
export const GET = answering(async (request: Request) => {
  const token = /^Bearer\s+(\S+)$/i.exec(request.headers.get("authorization") ?? "")?.[1] ?? "";
  const orders = await rigOrders(database(), token, Date.now());
  if (!orders) return Response.json({ error: "This token drives no rig." }, { status: 401 });
  return Response.json(orders, { headers: { "cache-control": "no-store" } });
});
