import { readFileSync } from "node:fs";
import { cruise, type ICruiseResult } from "dependency-cruiser";

/**
 * Imports run one way: app → features → services → data, and all may use core and ui. A check that cruised nothing would
 * pass silently, so that counts as a failure too.
 */
const LAYERS: Record<string, string[]> = {
  core: ["core"],
  words: ["words", "core"],
  ui: ["ui", "words", "core"],
  data: ["data", "core"],
  workers: ["workers", "core"],
  services: ["services", "data", "words", "core"],
  features: ["features", "workers", "services", "ui", "words", "core"],
  app: ["app", "features", "workers", "services", "ui", "words", "core"],
};
// What core may take from outside: mathematics and pure parsing, no interface, no platform.

const forbidden = Object.entries(LAYERS).map(([layer, allowed]) => ({
  name: `${layer} imports only ${allowed.join(", ")}`,
  severity: "error" as const,
  // A test beside the code may hold it against any other floor.
  from: { path: `^src/${layer}/`, pathNot: "\\.test\\.tsx?$" },
  to: { path: "^src/", pathNot: `^src/(?:${allowed.join("|")})/` },
}));

/** The picture of the floors says what the rules say. */
function drawnOtherwise(): string[] {
  const drawn = new Map(
    [...readFileSync("docs/architecture.md", "utf8").matchAll(/^ {2}(\w+) --> ([\w &]+)$/gm)].map(([, from, to]) => [
      from,
      to.split(" & ").sort().join(),
    ]),
  );
  return Object.entries(LAYERS)
    .map(([layer, may]): [string, string] => [
      layer,
      may
        .filter((l) => l !== layer)
        .sort()
        .join(),
    ])
    .filter(([layer, may]) => (drawn.get(layer) ?? "") !== may)
    .map(
      ([layer, may]) => `docs/architecture.md draws ${layer} → ${drawn.get(layer) ?? "nothing"}; the rule is ${may}`,
    );
}

const result = await cruise(
  ["src", "demo"],
  {
    ruleSet: {
      forbidden: [
        ...forbidden,
        {
          name: "core is pure",
          severity: "error",
          from: { path: "^src/core/", pathNot: "\\.test\\.ts$" },
          to: {
            dependencyTypes: ["npm", "npm-dev", "core"],
            pathNot: `node_modules/(?:suncalc|ml-matrix|papaparse|@stdlib|zod)/`,
          },
        },
        {
          name: "a feature keeps its insides",
          severity: "error",
          from: { path: "^src/features/([^/]+)/" },
          to: {
            path: "^src/features/",
            pathNot: ["^src/features/$1/", "^src/features/experiment/", "^src/features/act\\.ts$"],
          },
        },
        { name: "no circles", severity: "error", from: {}, to: { circular: true, dependencyTypesNot: ["type-only"] } },
      ],
    },
    validate: true,
    tsPreCompilationDeps: true,
    // Else what is imported by its alias (@/) is not followed, and nothing against the rules is found in it.
    tsConfig: { fileName: "tsconfig.json" },
    doNotFollow: { path: "node_modules" },
    exclude: { path: "\\.next" },
  },
  { conditionNames: ["import", "node", "default", "types"], extensions: [".ts", ".tsx", ".js"] },
  { tsConfig: await tsConfig() },
);

// Tests may look anywhere in core; what ships may not go in circles, not even by way of several folders.
const folders = await cruise(
  ["src/core"],
  {
    ruleSet: {
      forbidden: [
        {
          name: "no circle between the folders of core",
          severity: "error",
          scope: "folder",
          from: { path: "^src/core/[^/]+$" },
          to: { circular: true },
        },
      ],
    },
    validate: true,
    metrics: true,
    tsPreCompilationDeps: true,
    // Else what is imported by its alias (@/) is not followed, and nothing against the rules is found in it.
    tsConfig: { fileName: "tsconfig.json" },
    exclude: { path: "\\.test\\.ts$|node_modules|^scripts" },
  },
  { conditionNames: ["import", "node", "default", "types"], extensions: [".ts", ".js"] },
  { tsConfig: await tsConfig() },
);

const found = [result, folders].map((r) => (r.output as ICruiseResult).summary);
for (const v of found.flatMap((s) => s.violations)) console.error(`${v.from} → ${v.to}: ${v.rule.name}`);
const drawn = drawnOtherwise();
for (const line of drawn) console.error(line);
const errors = found.reduce((s, f) => s + f.error, drawn.length);
console.log(
  `${found[0].totalCruised} modules, ${found[0].totalDependenciesCruised} imports, ${errors} against the rules`,
);
const blind = (result.output as ICruiseResult).modules
  .flatMap((m) => m.dependencies)
  .filter((d) => d.couldNotResolve && /^(?:@\/|\.)/.test(d.module));
if (blind.length) {
  console.error(
    `${blind[0].module} and ${blind.length - 1} more imports were not followed: the check itself is broken.`,
  );
  process.exit(1);
}
if (found[0].totalCruised < 300 || found[1].totalCruised < 60) {
  console.error("Too few modules were looked at: the check itself is broken.");
  process.exit(1);
}
process.exit(errors > 0 ? 1 : 0);

async function tsConfig() {
  const extract = (await import("dependency-cruiser/config-utl/extract-ts-config")).default;
  return extract("tsconfig.json");
}
