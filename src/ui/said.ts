/** A fault whose message is a sentence for the person at the page: what happened, and the way out. */
export class SaidError extends Error {}

/**
 * What a person is told of a fault. A program's own text ("Cannot read properties of undefined") goes to the browser's log, never
 * onto the page; lint holds that no other place of the interface reads an error's message.
 * @param otherwise the sentence for a fault nobody foresaw
 */
export function saidOf(error: unknown, otherwise: string): string {
  if (error instanceof SaidError) return error.message;
  console.error(error);
  return otherwise;
}
