/**
 * How the time to read a text grows with its length: ten times the text, as a ratio to the short one, for everything that reads what a stranger
 * wrote (scripts/testing/parsers.ts) and every text of the grammar. 10 is linear, 100 its square; 12 is allowed.
 * Run on a machine with nothing else to do: `npx tsx bench/parsing.ts [PARSER]`.
 */
import { spawnSync } from "node:child_process";
import { hostileTexts, PARSERS } from "../scripts/testing/parsers";

const SHORT = 20_000;
const MOST = 12;
/** Below this the clock and the machine say more than the parser. */
const LEAST_MS = 4;
/** Texts whose growth is looked at again. */
const LOOKED_AT = 4;
const only = process.argv[2];
const { gc } = globalThis as { gc?: () => void };

/** The best of several, each repeated until the clock can tell it; carefully: begun with an empty heap. */
function took(read: (text: string) => unknown, text: string, carefully = false): number {
  let best = Infinity;
  for (let i = 0; i < (carefully ? 5 : 2); i++) {
    if (carefully) gc!();
    const start = performance.now();
    let times = 0;
    do {
      read(text);
      times++;
    } while (performance.now() - start < LEAST_MS);
    best = Math.min(best, (performance.now() - start) / times);
  }
  return best;
}

console.warn = () => undefined;
const textsOf = (length: number) => new Map(hostileTexts(length));
const [short, long] = [textsOf(SHORT), textsOf(10 * SHORT)];

const DOUBLINGS = [0, 1, 2, 3, 4, 5].map((n) => 5 * SHORT * 2 ** n);
function textOf(name: string, length: number): string {
  for (const [known, text] of hostileTexts(length)) if (known === name) return text;
  throw new Error(`no text is called ${name}`);
}

/**
 * A short text says more of the machine than of the parser: what grows most is doubled five times, and the middle doubling counts, as growth for
 * ten times the text. Where what was read no longer fits the processor's memory one doubling costs more than two times; a parser that is
 * not linear costs more at each.
 */
function confirmed(read: (text: string) => unknown, names: readonly string[]): { ratio: number; name: string } {
  const ratios = names.map((name) => {
    const times = DOUBLINGS.map((length) => took(read, textOf(name, length), true));
    const doublings = times.slice(1).map((ms, i) => ms / times[i]);
    const [, , middle] = doublings.sort((a, b) => a - b);
    return { name, ratio: 10 ** Math.log2(middle) };
  });
  return ratios.reduce((a, b) => (b.ratio > a.ratio ? b : a));
}

let failed = false;
function look(): void {
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
}

// What is collected between two looks is the collector's time and not the parser's: it is asked for before each, and has room in between.
if (gc) look();
else
  process.exitCode =
    spawnSync(
      process.execPath,
      ["--expose-gc", "--max-semi-space-size=256", "--import", "tsx", ...process.argv.slice(1)],
      { stdio: "inherit" },
    ).status ?? 1;
