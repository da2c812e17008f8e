/** What the button to each step says. */
export const GO_WORDS = {
  ask: "State the question",
  build: "Draw the variants",
  prove: "Check the instruments",
  plan: "Plan the test",
  run: "Begin a run",
  read: "See the readings",
  judge: "See the verdict",
  apply: "Work out the year",
} as const;

/** How far an experiment has come. */
export function doneWords(steps: readonly { name: string; state: "done" | "doubt" | "open" }[]): string {
  const done = steps.filter((s) => s.state === "done").length;
  const doubtful = steps.filter((s) => s.state === "doubt").length;
  if (done === steps.length) return "All steps are done.";
  const warned = doubtful ? `, ${doubtful} with warnings` : "";
  return `${done} of ${steps.length} steps done${warned}.`;
}
