/**
 * How the time to read a text grows with its length: ten times the text, as a ratio to the short one, for everything that reads what a stranger
 * wrote (scripts/testing/parsers.ts) and every text of the grammar. 10 is linear, 100 its square; 12 is allowed.
 * Run: `npx tsx bench/parsing.ts [PARSER]`.
 */
import { hostileTexts, PARSERS } from "../scripts/testing/parsers";

const SHORT = 20_000;
const MOST = 12;
/** Below this the clock and the machine say more than the parser. */
const LEAST_MS = 4;
/** Texts whose growth is looked at again. */
const LOOKED_AT = 2;
const only = process.argv[2];

function took(read: (text: string) => unknown, text: string): number {
  let best = Infinity;
  for (let i = 0; i < (best > 300 ? 1 : 3); i++) {
    const start = performance.now();
    read(text);
    best = Math.min(best, performance.now() - start);
  }
  return best;
}

console.warn = () => undefined;
const textsOf = (length: number) => new Map(hostileTexts(length));
const [short, long] = [textsOf(SHORT), textsOf(10 * SHORT)];

/** A short text says more of the machine than of the parser: what grows most is looked at ten times longer, one by one. */
function confirmed(read: (text: string) => unknown, names: readonly string[]): { ratio: number; name: string } {
  const ratios = names.map((name) => {
    const longest = [...hostileTexts(100 * SHORT)].find(([n]) => n === name)![1];
    return { name, ratio: took(read, longest) / took(read, long.get(name)!) };
  });
  return ratios.reduce((a, b) => (b.ratio > a.ratio ? b : a));
}

let failed = false;
for (const [parser, read] of Object.entries(PARSERS)) {
  if (only && parser !== only) continue;
  const grown: { name: string; ratio: number }[] = [];
  let slowest = { ms: 0, name: "none" };
  for (const [name, text] of long) {
    const ms = took(read, text);
    if (ms > slowest.ms) slowest = { ms, name };
    if (ms > LEAST_MS) grown.push({ name, ratio: ms / Math.max(LEAST_MS / 10, took(read, short.get(name)!)) });
  }
  grown.sort((a, b) => b.ratio - a.ratio);
  const suspects = grown
    .filter((g) => g.ratio > MOST)
    .slice(0, LOOKED_AT)
    .map((g) => g.name);
  const worst = suspects.length ? confirmed(read, suspects) : (grown[0] ?? { ratio: 0, name: "none takes long" });
  const isBad = worst.ratio > MOST;
  failed ||= isBad;
  console.log(
    `${isBad ? "!!" : "  "} ${parser.padEnd(18)} ratio ${worst.ratio.toFixed(1).padStart(5)} (${worst.name}); slowest of ${10 * SHORT} characters ${slowest.ms.toFixed(0)} ms (${slowest.name})`,
  );
}
process.exitCode = failed ? 1 : 0;
