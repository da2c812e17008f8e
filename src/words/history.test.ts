import { historyWords } from "./history";

test.each([
  [
    "question",
    { after: { question: "which?", smallestDifference: 15 } },
    "changed the question: question, the difference that matters (W/m²)",
  ],
  ["event marked", { run: 2, kind: "swap" }, "marked an event in run 2: Swap"],
  ["rig set up", { letters: ["A", "B"], scenario: "clear" }, "put A, B on the simulated bench: clear"],
  ["exclude layer added", { id: 3 }, "added a layer over the readings: exclude"],
  ["layers removed", { layerIds: [3, 4] }, "took out layers 3, 4"],
  ["run ended", {}, "ended a run"],
  // What nobody has put into words is said as it was written, and a spoilt detail takes no line away.
  ["something new", null, "something new"],
  ["settings", "spoilt", "changed settings: "],
])("%s", (action, detail, said) => expect(historyWords(action, detail)).toBe(said));
