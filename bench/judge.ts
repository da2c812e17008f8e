/**
 * Does a verdict hold on the benches people really have? Seeded benches with hidden errors go through the whole chain, from the log to
 * the sentence: with equal boxes (a winner is false), with boxes apart by twice what matters ("equal" is false), and with slips of a
 * careless stranger (each must change nothing, be named, or stop the verdict). Run: `npx tsx bench/judge.ts [benches] [slips] [kind]`.
 */
import { performance } from "node:perf_hooks";
import type { Judgement } from "../src/core/judge/judge";
import { bench, MATTERS, type Kind } from "./judge/benches";
import { KINDS } from "./judge/kinds";
import { SLIPS } from "./judge/slips";

const BENCHES = Number(process.argv[2] ?? 200);
const SLIP_BENCHES = Number(process.argv[3] ?? 60);
/** Kinds of benches with this in their names; all where it is left out. */
const ONLY = process.argv[4];

/** Of a mirror that is turned, the lane turned up is "B": what may be better. */
function answer({ verdict }: Judgement): string {
  if (verdict.kind === "winner") return `${verdict.best.join("")} better`;
  if (verdict.kind === "turned") return verdict.decision === "more" ? "B better" : "A better";
  if (verdict.kind === "daylight") return verdict.decision === "tie" ? "tie" : `${verdict.best.join("")} better`;
  return verdict.kind;
}
const NAMING = new Set([
  "impossible",
  "aboveOpticalLimit",
  "negativeFlow",
  "unequalFlow",
  "cleaned",
  "scatterUnexplained",
  "swapUnlike",
  "methodsApart",
]);
const named = (j: Judgement) => j.doubts.some((d) => NAMING.has(d.kind));
/** Kinds on which slips are tried. */
const SLIPPED = [
  "the same, places exchanged",
  "the same with a sun sensor",
  "a proper bench: inlet steps, places exchanged",
];
const percent = (n: number, of: number) => `${((100 * n) / of).toFixed(1)} %`.padStart(7);

function count(kind: Kind, better: boolean, alarms: Map<string, number>): Map<string, number> {
  const out = new Map<string, number>();
  for (let i = 0; i < BENCHES; i++) {
    const j = bench(kind, 1000 + i, better);
    const [pair] = j.pairs;
    if (pair && !better) {
      out.set("pairs", (out.get("pairs") ?? 0) + 1);
      if (Math.abs(pair.difference.value) <= pair.expanded) out.set("held", (out.get("held") ?? 0) + 1);
    }
    for (const d of j.doubts) {
      const what = d.kind === "impossible" ? d.found.kind : d.kind;
      if (NAMING.has(d.kind)) alarms.set(what, (alarms.get(what) ?? 0) + 1);
    }
    const said = answer(j);
    out.set(said, (out.get(said) ?? 0) + 1);
  }
  return out;
}

const started = performance.now();
console.log(
  `${BENCHES} benches of a kind, ${MATTERS} W/m² matters; false: a winner among equals; "equal" or the wrong one among boxes apart\n`,
);
for (const kind of KINDS.filter((k) => !ONLY || k.name.includes(ONLY))) {
  const alarms = new Map<string, number>();
  const equal = count(kind, false, alarms);
  const apart = count(kind, true, alarms);
  const of = (m: Map<string, number>, ...keys: string[]) =>
    percent(
      keys.reduce((s, k) => s + (m.get(k) ?? 0), 0),
      BENCHES,
    );
  console.log(
    `${kind.name.padEnd(54)} equal boxes: false winner${of(equal, "A better", "B better")}, equal${of(equal, "tie")}, cannot tell${of(equal, "cannotTell")}, stopped${of(equal, "stopped", "none")}; nothing held in ${percent(equal.get("held") ?? 0, equal.get("pairs") ?? 1)}`,
  );
  console.log(
    `${"".padEnd(54)} boxes apart: false equal${of(apart, "tie")}, wrong one${of(apart, "A better")}, right one${of(apart, "B better")}, cannot tell${of(apart, "cannotTell")}, stopped${of(apart, "stopped", "none")}`,
  );
  console.log(
    `${"".padEnd(54)} named without cause: ${[...alarms].map(([k, n]) => `${k}${percent(n, 2 * BENCHES)}`).join(", ") || "nothing"}`,
  );
}
console.log(
  `\nslips on ${SLIP_BENCHES} benches each, boxes apart; silent: another answer than without the slip, and nothing said of it`,
);
for (const kind of SLIP_BENCHES ? KINDS.filter((k) => SLIPPED.includes(k.name)) : []) {
  console.log(kind.name);
  for (const slip of SLIPS) {
    let silent = 0;
    let stopping = 0;
    let told = 0;
    for (let i = 0; i < SLIP_BENCHES; i++) {
      const honest = answer(bench(kind, 5000 + i, true));
      const j = bench(kind, 5000 + i, true, slip);
      const said = answer(j);
      if (said === "stopped") stopping++;
      else if (named(j)) told++;
      // Saying less than before is no false answer.
      else if (said !== honest && said !== "cannotTell" && said !== "none") silent++;
    }
    console.log(
      `  ${slip.name.padEnd(48)} silent${percent(silent, SLIP_BENCHES)}, named${percent(told, SLIP_BENCHES)}, stopped${percent(stopping, SLIP_BENCHES)}`,
    );
  }
}
console.log(`\n${((performance.now() - started) / 1000).toFixed(0)} s`);
