import "server-only";
import type { Knex } from "knex";
import { revalidatePath } from "next/cache";
import { headers } from "next/headers";
import { invalid, refused, type ArgsOf, type Command, type Outcome, type Touched } from "@/services/web/command";
import { database } from "@/services/web/connection";
import { failureWords, isPassing } from "@/services/web/failure";
import { log } from "@/services/web/log";
import { asAllowed } from "@/services/web/requestGuard";

function refresh(touched: Touched): void {
  if (touched === "nothing") return;
  if (touched === "everything") return revalidatePath("/", "layout");
  revalidatePath(`/experiments/${touched.experiment}`, "layout");
  revalidatePath("/");
}

/**
 * Asks a question for a page, by whoever works here. Every exported action goes through this or `act`; actions.test.ts walks
 * them all.
 * @throws Error for somebody without the right, before anything was looked at
 */
export async function answerTo<T>(question: (knex: Knex) => Promise<T>, right: "hand" | "owner" = "hand"): Promise<T> {
  const answer = await asAllowed(right, await headers(), () => question(database()));
  if ("refusal" in answer) throw new Error(answer.refusal.text);
  return answer.done;
}

/**
 * Runs a command for a page: the right to it and its arguments checked, its answer in one shape, what it touched shown anew. What goes wrong
 * inside is logged with its reason and told without it: nothing a person could do lies in a stack.
 */
export async function act<A extends unknown[], I extends unknown[], T extends object>(
  command: Command<A, I, T>,
  args: I,
): Promise<Outcome<T>> {
  try {
    const answer = await asAllowed(command.right ?? "owner", await headers(), () => parsedAndRun(command, args));
    return "refusal" in answer ? refused(answer.refusal.text, "signIn") : answer.done;
  } catch (error) {
    log.error({ err: error }, "a command failed");
    const words = failureWords(error, "Bravel could not do this; nothing was changed.");
    return refused(words, isPassing(error) ? "server" : undefined);
  }
}

async function parsedAndRun<A extends unknown[], I extends unknown[], T extends object>(
  command: Command<A, I, T>,
  args: I,
): Promise<Outcome<T>> {
  const parsed = command.input.safeParse(args);
  if (!parsed.success) return invalid(parsed.error);
  const outcome = await command.run(database(), ...parsed.data);
  if (outcome.ok) refresh(command.touches(...parsed.data));
  return outcome;
}

export type { ArgsOf };
