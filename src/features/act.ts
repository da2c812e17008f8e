import "server-only";
import { revalidatePath } from "next/cache";
import { invalid, refused, type ArgsOf, type Command, type Outcome, type Touched } from "@/services/command";
import { database } from "@/services/connection";
import { failureWords } from "@/services/failure";
import { log } from "@/services/log";

function refresh(touched: Touched): void {
  if (touched === "nothing") return;
  if (touched === "everything") return revalidatePath("/", "layout");
  revalidatePath(`/experiments/${touched.experiment}`, "layout");
  revalidatePath("/");
}

/**
 * Runs a command for a page: its arguments checked, its answer in one shape, what it touched shown anew. What goes wrong
 * inside is logged with its reason and told without it: nothing a person could do lies in a stack.
 */
export async function act<A extends unknown[], I extends unknown[], T extends object>(
  command: Command<A, I, T>,
  args: I,
): Promise<Outcome<T>> {
  const parsed = command.input.safeParse(args);
  if (!parsed.success) return invalid(parsed.error);
  const given = parsed.data;
  try {
    const outcome = await command.run(database(), ...given);
    if (outcome.ok) refresh(command.touches(...given));
    return outcome;
  } catch (error) {
    log.error({ err: error }, "a command failed");
    return refused(failureWords(error, "Bravel could not do this; nothing was changed."));
  }
}

export type { ArgsOf };
