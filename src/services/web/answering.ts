import { as } from "../../data/actor";
import { failureWords, isPassing } from "./failure";
import { log } from "./log";
import { askerOf, refusal } from "./requestGuard";

const POLICY = "content-security-policy";
/** What is no page runs nothing, loads nothing and is framed by nobody. */
export const NOTHING = "default-src 'none'; frame-ancestors 'none'; sandbox";

/** Next speaks by throwing: a redirect or a page that is not there is no fault. */
const isNexts = (error: unknown): boolean =>
  typeof (error as { digest?: unknown })?.digest === "string" &&
  (error as { digest: string }).digest.startsWith("NEXT_");

/** Answers whoever has the right to the door, under the name of who asks. */
async function guarded(request: Request | undefined, answer: () => Response | Promise<Response>): Promise<Response> {
  if (!request) return answer();
  const refused = await refusal(request);
  if (refused) return Response.json({ error: refused.text }, { status: refused.status });
  if (request.method === "GET" || request.method === "HEAD") return answer();
  const asker = await askerOf(request.headers);
  return asker && asker.role !== "viewer" ? as(asker, answer) : answer();
}

/**
 * A route that asks for the right to its door itself, wherever it was reached from, and whose faults are answered: 503 where database, disk
 * or load are at fault and the same may succeed later, else 500; in words, and with the reason in the log alone. Every route goes through
 * this; routes.test.ts walks them all.
 */
export const answering =
  <A extends unknown[]>(handler: (...args: A) => Response | Promise<Response>) =>
  async (...args: A): Promise<Response> => {
    const answer = await answered(handler, args);
    if (!answer.headers.has(POLICY)) answer.headers.set(POLICY, NOTHING);
    return answer;
  };

async function answered<A extends unknown[]>(
  handler: (...args: A) => Response | Promise<Response>,
  args: A,
): Promise<Response> {
  try {
    return await guarded(args[0] as Request | undefined, async () => handler(...args));
  } catch (error) {
    if (isNexts(error)) throw error;
    log.error({ err: error }, "a route failed");
    const passing = isPassing(error);
    return Response.json(
      { error: failureWords(error, "Bravel could not answer this.") },
      { status: passing ? 503 : 500, headers: passing ? { "retry-after": "5" } : {} },
    );
  }
}
