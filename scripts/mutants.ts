import { spawnSync } from "node:child_process";
import { mkdirSync, readFileSync, rmSync, symlinkSync, writeFileSync, cpSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";
import { seededRandom } from "../src/core/random/seededRandom";

/**
 * Do the tests of what decides notice when it is changed? One small change at a time (a sign, a limit, a condition) is made in a copy,
 * and its tests must fail. `npx tsx scripts/mutants.ts` tries a seeded draw of each file's changes; BRAVEL_LONG=1 tries all. Survivors that
 * were looked at stand in `scripts/mutants.json` with their reason. Ends with 1 below LEAST.
 */
const LEAST = 0.85;
const DRAWN = 14;
/** What notices most, in seconds: tried before the rest. */
const QUICK = ["src/core/judge/kept.test.ts", "src/core/uncertainty", "src/core/log/log.test.ts"];
const JUDGE = ["src/core/judge", "src/core/analysis/handReading.test.ts"];
const LOG = ["src/core/log", "src/core/parsers.test.ts", "src/core/strictReader.test.ts"];
const PARTS: Record<string, string[]> = {
  "src/core/judge/decide.ts": JUDGE,
  "src/core/judge/judge.ts": JUDGE,
  "src/core/judge/pairs.ts": JUDGE,
  "src/core/judge/ranking.ts": JUDGE,
  "src/core/judge/evidence.ts": JUDGE,
  "src/core/uncertainty/uncertain.ts": ["src/core/uncertainty", "src/core/analysis/textbook.test.ts", ...JUDGE],
  "src/core/uncertainty/coverage.ts": ["src/core/uncertainty", ...JUDGE],
  "src/core/uncertainty/typeA.ts": ["src/core/uncertainty", "src/core/analysis/points.test.ts"],
  "src/core/log/timestamp.ts": LOG,
  "src/core/log/cell.ts": LOG,
};

interface Mutant {
  file: string;
  from: number;
  to: number;
  by: string;
}

const SWAPPED: Partial<Record<ts.SyntaxKind, string>> = {
  [ts.SyntaxKind.LessThanToken]: "<=",
  [ts.SyntaxKind.LessThanEqualsToken]: "<",
  [ts.SyntaxKind.GreaterThanToken]: ">=",
  [ts.SyntaxKind.GreaterThanEqualsToken]: ">",
  [ts.SyntaxKind.EqualsEqualsEqualsToken]: "!==",
  [ts.SyntaxKind.ExclamationEqualsEqualsToken]: "===",
  [ts.SyntaxKind.AmpersandAmpersandToken]: "||",
  [ts.SyntaxKind.BarBarToken]: "&&",
  [ts.SyntaxKind.PlusToken]: "-",
  [ts.SyntaxKind.MinusToken]: "+",
  [ts.SyntaxKind.AsteriskToken]: "/",
  [ts.SyntaxKind.SlashToken]: "*",
};

/** Every small change of a file: operators, numbers, truths, conditions. */
function mutantsOf(file: string, source: string): Mutant[] {
  const found: Mutant[] = [];
  const add = (node: ts.Node, by: string) => found.push({ file, from: node.getStart(), to: node.getEnd(), by });
  const visit = (node: ts.Node): void => {
    if (ts.isTypeNode(node) || ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node)) return;
    if (ts.isBinaryExpression(node)) {
      const by = SWAPPED[node.operatorToken.kind];
      if (by) add(node.operatorToken, by);
    }
    if (ts.isNumericLiteral(node) && !ts.isPropertyAssignment(node.parent)) add(node, `(${node.text} + 1)`);
    if (node.kind === ts.SyntaxKind.TrueKeyword) add(node, "false");
    if (node.kind === ts.SyntaxKind.FalseKeyword) add(node, "true");
    if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken)
      add(node, node.operand.getText());
    if (ts.isConditionalExpression(node)) add(node.condition, `!(${node.condition.getText()})`);
    if (ts.isIfStatement(node)) add(node.expression, `!(${node.expression.getText()})`);
    ts.forEachChild(node, visit);
  };
  visit(ts.createSourceFile(file, source, ts.ScriptTarget.Latest, true));
  return found;
}

/** What a change is called: where it stands by its line's text, so that other lines may come and go. */
function nameOf({ file, from, to, by }: Mutant, source: string): string {
  const start = source.lastIndexOf("\n", from) + 1;
  const line = source.slice(start, source.indexOf("\n", from)).trim();
  return `${file}: ${line} | ${source.slice(from, to)} → ${by}`;
}

function drawn(all: Mutant[], seed: number): Mutant[] {
  if (process.env.BRAVEL_LONG) return all;
  const random = seededRandom(seed);
  const left = [...all];
  return Array.from(
    { length: Math.min(DRAWN, left.length) },
    () => left.splice(Math.floor(random.uniform() * left.length), 1)[0],
  );
}

/** A copy of what the tests need, in which one file at a time is changed. */
function scratch(): string {
  const home = join(".bravel", "mutants");
  rmSync(home, { recursive: true, force: true });
  mkdirSync(home, { recursive: true });
  for (const part of [
    "src",
    "scripts",
    "demo",
    "bench",
    "package.json",
    "tsconfig.json",
    "jest.config.mjs",
    "next.config.ts",
  ])
    cpSync(part, join(home, part), { recursive: true });
  symlinkSync(join(process.cwd(), "node_modules"), join(home, "node_modules"));
  return home;
}

const passes = (tests: readonly string[]): boolean => passed(QUICK) && passed(tests);

const passed = (tests: readonly string[]): boolean =>
  spawnSync("npx", ["--no-install", "jest", "--selectProjects", "fast", "--bail", "--silent", ...tests], {
    cwd: home,
    encoding: "utf8",
    timeout: 240_000,
  }).status === 0;

const reasons = JSON.parse(readFileSync("scripts/mutants.json", "utf8")) as Record<string, string>;
const home = scratch();
const only = process.argv[2];
let [killed, tried, seed] = [0, 0, 1];
for (const [file, tests] of Object.entries(PARTS)) {
  seed++;
  if (only && !file.includes(only)) continue;
  const source = readFileSync(file, "utf8");
  if (!passes(tests)) throw new Error(`The tests of ${file} fail before anything is changed: nothing can be learned.`);
  let [ownKilled, ownTried] = [0, 0];
  for (const mutant of drawn(mutantsOf(file, source), seed)) {
    writeFileSync(join(home, file), source.slice(0, mutant.from) + mutant.by + source.slice(mutant.to));
    const name = nameOf(mutant, source);
    ownTried++;
    if (!passes(tests)) ownKilled++;
    else if (reasons[name]) {
      ownTried--;
      console.log(`  equal   ${name}: ${reasons[name]}`);
    } else console.log(`  survived ${name}`);
  }
  writeFileSync(join(home, file), source);
  console.log(`${file}: ${ownKilled} of ${ownTried} noticed`);
  killed += ownKilled;
  tried += ownTried;
}
rmSync(home, { recursive: true, force: true });
console.log(`${killed} of ${tried} changes noticed, ${((100 * killed) / Math.max(1, tried)).toFixed(0)} %`);
process.exit(killed >= LEAST * tried ? 0 : 1);
