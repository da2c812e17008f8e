import { act } from "@/features/act";
import { markEvent } from "@/services/live/commands";
import type { Outcome } from "@/services/web/command";
import { malformed, routeId } from "@/services/web/routeId";
import { answering } from "@/services/web/answering";

/** Who asks, or the server, is at fault: a device keeps the event and sends it again. Else the event itself is refused. */
const STATUS = { signIn: 401, server: 503 } as const;
const statusOf = (outcome: Outcome): number => {
  if (outcome.ok) return 200;
  return outcome.later ? STATUS[outcome.later] : 409;
};

/** Takes an event that was pressed at the bench, now or while there was no link; sent again it is there once. */
export const POST = answering(
  async (request: Request, { params }: { params: Promise<{ id: string; run: string }> }) => {
    const { id, run } = await params;
    const [experimentId, runId] = [routeId(id), routeId(run)];
    if (experimentId === null || runId === null) return malformed("A run");
    const body = (await request.json().catch(() => null)) as never;
    const outcome = await act(markEvent, [experimentId, runId, body]);
    return Response.json(outcome, { status: statusOf(outcome) });
  },
);
