import { failureWords, isPassing } from "./failure";
import { log } from "./log";

/** Next speaks by throwing: a redirect or a page that is not there is no fault. */
const isNexts = (error: unknown): boolean =>
  typeof (error as { digest?: unknown })?.digest === "string" &&
  (error as { digest: string }).digest.startsWith("NEXT_");

/**
 * A route whose faults are answered: 503 where database, disk or load are at fault and the same may succeed later, else 500; in words, and
 * with the reason in the log alone. Every route goes through this; routes.test.ts walks them all.
 */
export const answering =
  <A extends unknown[]>(handler: (...args: A) => Response | Promise<Response>) =>
  async (...args: A): Promise<Response> => {
    try {
      return await handler(...args);
    } catch (error) {
      if (isNexts(error)) throw error;
      log.error({ err: error }, "a route failed");
      const passing = isPassing(error);
      return Response.json(
        { error: failureWords(error, "Bravel could not answer this.") },
        { status: passing ? 503 : 500, headers: passing ? { "retry-after": "5" } : {} },
      );
    }
  };
