import { cruise, type ICruiseResult } from "dependency-cruiser";

/**
 * Imports run one way: app → features → services → data, and all may use core and ui. A check that cruised nothing would
 * pass silently, so that counts as a failure too.
 */
const LAYERS: Record<string, string[]> = {
  core: ["core"],
  ui: ["ui", "core"],
  data: ["data", "core"],
  workers: ["workers", "core"],
  services: ["services", "data", "core", "ui"],
  features: ["features", "workers", "services", "data", "ui", "core"],
  app: ["app", "features", "workers", "services", "data", "ui", "core"],
};
// What core may take from outside: mathematics and pure parsing, no interface, no platform.

const forbidden = Object.entries(LAYERS).map(([layer, allowed]) => ({
  name: `${layer} imports only ${allowed.join(", ")}`,
  severity: "error" as const,
  from: { path: `^src/${layer}/` },
  to: { path: "^src/", pathNot: `^src/(?:${allowed.join("|")})/` },
}));

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
            pathNot: `node_modules/(?:suncalc|ml-matrix|papaparse|@stdlib)/`,
          },
        },
        {
          name: "a feature keeps its insides",
          severity: "error",
          from: { path: "^src/features/([^/]+)/" },
          to: { path: "^src/features/", pathNot: ["^src/features/$1/", "^src/features/experiment/"] },
        },
        { name: "no circles", severity: "error", from: {}, to: { circular: true, dependencyTypesNot: ["type-only"] } },
      ],
    },
    validate: true,
    tsPreCompilationDeps: true,
    doNotFollow: { path: "node_modules" },
    exclude: { path: "\\.next" },
  },
  { conditionNames: ["import", "node", "default", "types"], extensions: [".ts", ".tsx", ".js"] },
  { tsConfig: await tsConfig() },
);

const { summary } = result.output as ICruiseResult;
for (const v of summary.violations) console.error(`${v.from} → ${v.to}: ${v.rule.name}`);
console.log(
  `${summary.totalCruised} modules, ${summary.totalDependenciesCruised} imports, ${summary.error} against the rules`,
);
if (summary.totalCruised < 50) {
  console.error("Fewer than 50 modules were looked at: the check itself is broken.");
  process.exit(1);
}
process.exit(summary.error > 0 ? 1 : 0);

async function tsConfig() {
  const extract = (await import("dependency-cruiser/config-utl/extract-ts-config")).default;
  return extract("tsconfig.json");
}
