import { readFileSync, writeFileSync } from "node:fs";
import typescript from "eslint-config-next/typescript";
import { ESLint, type Linter } from "eslint";

/**
 * What asks for being divided: long functions and files, nested choices, components that fetch as well as draw. Each is
 * reported and counted; a count may only fall. `--keep` writes today's counts as the new ceilings.
 */
const CEILINGS = "scripts/limits.json";

const RULES: Linter.RulesRecord = {
  "max-lines-per-function": ["warn", { max: 60 }],
  "max-lines": ["warn", { max: 400 }],
  "no-nested-ternary": "warn",
};
/** A component draws what it is given: it asks no server and keeps no worker of its own. */
const DRAWS_ONLY: Linter.RulesRecord = {
  "no-restricted-syntax": [
    "warn",
    { selector: "CallExpression[callee.name='fetch']", message: "A component draws; let a hook or an action fetch." },
    { selector: "NewExpression[callee.name='Worker']", message: "A component draws; workers live in src/workers." },
  ],
};

const eslint = new ESLint({
  overrideConfigFile: true,
  overrideConfig: [
    ...(typescript as Linter.Config[]).map(({ plugins, languageOptions }) => ({
      files: ["**/*.ts", "**/*.tsx"],
      ...(plugins ? { plugins } : {}),
      ...(languageOptions ? { languageOptions } : {}),
    })),
    { files: ["src/**/*.ts", "src/**/*.tsx", "scripts/**/*.ts"], ignores: ["**/*.test.*"], rules: RULES },
    { files: ["src/features/**/*.tsx", "src/ui/**/*.tsx"], ignores: ["**/*.test.*"], rules: DRAWS_ONLY },
  ],
  allowInlineConfig: false,
});

const results = await eslint.lintFiles(["src", "scripts"]);
const found = results.flatMap((r) =>
  r.messages.map((m) => ({ rule: m.ruleId ?? "unreadable", where: `${r.filePath}:${m.line}`, message: m.message })),
);
const counts: Record<string, number> = Object.fromEntries(
  [...Object.keys(RULES), ...Object.keys(DRAWS_ONLY), "unreadable"].map((rule) => [
    rule,
    found.filter((f) => f.rule === rule).length,
  ]),
);

/** How many there may be, and why there are any. */
const ceilings = JSON.parse(readFileSync(CEILINGS, "utf8")) as Record<string, { most: number; why: string }>;
if (process.argv.includes("--keep")) {
  for (const [rule, most] of Object.entries(counts)) ceilings[rule] = { why: ceilings[rule]?.why ?? "", most };
  writeFileSync(CEILINGS, `${JSON.stringify(ceilings, null, 2)}\n`);
}
if (process.argv.includes("--list")) for (const f of found) console.log(`${f.where} ${f.message}`);

let over = 0;
for (const [rule, count] of Object.entries(counts)) {
  const { most: ceiling, why } = ceilings[rule] ?? { most: 0, why: "" };
  if (count > 0 && !why) {
    console.error(`${rule}: say in ${CEILINGS} why there are any.`);
    over++;
  }
  let beside = "";
  if (count > ceiling) beside = `, more than the ${ceiling} there were`;
  if (count < ceiling) beside = ` (were ${ceiling}; lower the ceiling)`;
  console.log(`${rule}: ${count}${beside}`);
  if (count > ceiling) over++;
}
if (results.length < 100) {
  console.error("Fewer than 100 files were looked at: the check itself is broken.");
  process.exit(1);
}
process.exit(over ? 1 : 0);
