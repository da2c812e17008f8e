import { existsSync, readFileSync, rmSync } from "node:fs";
import { availableParallelism } from "node:os";
import { z } from "zod";
import { createDatabase } from "../../src/data/database";
import { migrate } from "../../src/data/migrate";
import { loadDemoWorld } from "../../demo/load";
import type { TestServer } from "../../e2e/server";
import { freshDatabase, ownUrl } from "../testing/database";
import { demoDatabase } from "../testing/demo";
import { ensureProgram } from "./packages";
import { step } from "./progress";
import { dropTables } from "./upgrade";
import { run, type Finished } from "./run";
import { dropRouteTypes, ensureBuild, startWeb, TEST_DIST } from "./web";

interface CheckTools {
  openDatabase(): Promise<string>;
  onStop(stop: () => Promise<void>): void;
  port(): Promise<number>;
}

interface Count {
  passed: number;
  failed: number;
}

/** The demo world, loaded once: tests that need it take a copy. */
const DEMO = "demo";
/** Browser test files side by side, each row with a server and a database of its own: half of the time a page waits. */
const ROWS = 2;

const npx = (...args: string[]) => run("npx", ["--no-install", ...args], { quiet: true });
const JEST_REPORT = ".bravel/test/jest.json";
const PLAYWRIGHT_REPORT = ".bravel/test/playwright.json";

/**
 * Everything `./bravel test` does, in order of cost, or only the test files named (a folder names all within). Prints
 * `N passed, N failed` last; true when nothing failed.
 */
export async function runChecks(tools: CheckTools, files: readonly string[] = []): Promise<boolean> {
  const counts: Count[] = [];
  if (!files.length) counts.push(...(await readings()));
  await testDatabase(await tools.openDatabase());
  const browser = files.filter((f) => /^(?:\.\/)?e2e\b/.test(f));
  const unit = files.filter((f) => !browser.includes(f));
  if (unit.length || !files.length) counts.push(await unitTests(unit));
  if (browser.length || !files.length) counts.push(...(await browserTests(tools, browser)));
  const sum = (of: keyof Count) => counts.reduce((n, c) => n + c[of], 0);
  console.log(`\n${sum("passed")} passed, ${sum("failed")} failed`);
  return sum("failed") === 0;
}

/** Advisories about what Bravel runs with; where no registry answers, that is said and nothing is counted. */
async function audit(): Promise<Count[]> {
  const { output } = await run("npm", ["audit", "--omit=dev", "--json"], { quiet: true });
  const found = z
    .object({ metadata: z.object({ vulnerabilities: z.record(z.string(), z.number()) }) })
    .safeParse(jsonIn(output));
  const { high = 0, critical = 0, total = 0 } = found.data?.metadata.vulnerabilities ?? {};
  console.log(
    `\n— audit\n${found.success ? `${total} advisories, ${high + critical} of them grave` : "the registry does not answer for advisories"}`,
  );
  return found.success ? [counted(high + critical === 0)] : [];
}

/** The object that a program printed among other lines; null where there is none. */
function jsonIn(output: string): unknown {
  try {
    return JSON.parse(output.slice(output.indexOf("{"), output.lastIndexOf("}") + 1));
  } catch {
    return null;
  }
}

const counted = (ok: boolean): Count => ({ passed: ok ? 1 : 0, failed: ok ? 0 : 1 });

/** What is read of the code; lint takes as long as all the others together. */
async function readings(): Promise<Count[]> {
  console.log("\n— format, lint, types, imports, limits");
  const counts: Count[] = [];
  const single = async (name: string, work: () => Promise<Finished>) => {
    const { code, output } = await work();
    console.log(`\n— ${name}\n${output}`.trimEnd());
    counts.push(counted(code === 0));
  };
  const [audited] = await Promise.all([
    audit(),
    single("lint", () => npx("eslint", ".", "--max-warnings", "0")),
    otherReadings(single),
  ]);
  return [...counts, ...audited];
}

/** The tests' database with its tables, and the demo world beside it: a test that needs either takes a copy. */
async function testDatabase(databaseUrl: string): Promise<void> {
  process.env.BRAVEL_TEST_DATABASE_URL = databaseUrl;
  process.env.BRAVEL_TEST_TEMPLATE = new URL(databaseUrl).pathname.slice(1);
  const knex = createDatabase(databaseUrl);
  try {
    await step("Test database: emptied", () => dropTables(knex));
    await step("Test database: tables", () => migrate(knex));
    await step("Test database: demo world", async (note) => {
      const demo = await freshDatabase(DEMO);
      await loadDemoWorld(demo, note).finally(() => demo.destroy());
      process.env.BRAVEL_TEST_DEMO = `bravel_${DEMO}`;
    });
  } finally {
    await knex.destroy();
  }
}

async function browserTests(tools: CheckTools, files: readonly string[]): Promise<Count[]> {
  console.log("\n— build and real browser");
  await ensureProgram("chromium", "chromium", "The browser tests");
  await ensureBuild(TEST_DIST);
  const servers: (TestServer & { log: string })[] = [];
  for (let row = 1; row <= ROWS; row++) {
    const name = `browser${row}`;
    await (await demoDatabase(name)).destroy();
    const url = ownUrl(name);
    const log = `.bravel/test/server${row}.log`;
    rmSync(log, { force: true });
    const web = await startWeb({ port: await tools.port(), databaseUrl: url, dist: TEST_DIST, quiet: true, log });
    tools.onStop(() => web.stop());
    servers.push({ address: web.address, databaseUrl: url, demo: process.env.BRAVEL_TEST_DEMO, log });
  }
  rmSync(PLAYWRIGHT_REPORT, { force: true });
  const browser = await run("npx", ["--no-install", "playwright", "test", ...files], {
    env: {
      ...process.env,
      BRAVEL_TEST_SERVERS: JSON.stringify(servers),
      PLAYWRIGHT_JSON_OUTPUT_NAME: PLAYWRIGHT_REPORT,
    },
  });
  if (browser.code !== 0) for (const { log } of servers) showFaults(log);
  return [counted(true), playwrightCount(browser.code)];
}

/** What a server of the tests said of faults: a page that failed there names only a number. */
function showFaults(log: string): void {
  if (!existsSync(log)) return;
  const lines = readFileSync(log, "utf8").split("\n");
  console.log(`\n— faults in ${log}\n${lines.slice(-200).join("\n")}`.trimEnd());
}

/** What is read of the code beside lint, one after the other. */
async function otherReadings(single: (name: string, work: () => Promise<Finished>) => Promise<void>): Promise<void> {
  await single("format", () => npx("prettier", "--check", "--log-level", "warn", "."));
  await single("types", async () => {
    dropRouteTypes();
    const routes = await npx("next", "typegen");
    return routes.code === 0 ? npx("tsc", "--noEmit") : routes;
  });
  await single("import directions", () => npx("tsx", "scripts/checkImports.ts"));
  await single("limits", () => npx("tsx", "scripts/checkLimits.ts"));
  await single("nothing unused", () => npx("knip", "--no-progress"));
  await single("nothing only tests use", () =>
    npx("knip", "--production", "--no-progress", "--include", "files,exports,types"),
  );
}

async function unitTests(files: readonly string[]): Promise<Count> {
  console.log("\n— unit tests");
  rmSync(JEST_REPORT, { force: true });
  // A worker a core: jest itself would leave one idle, of two that is half the machine.
  const workers = `--maxWorkers=${availableParallelism()}`;
  const jest = await run("npx", ["--no-install", "jest", workers, "--json", `--outputFile=${JEST_REPORT}`, ...files]);
  try {
    const report = JSON.parse(readFileSync(JEST_REPORT, "utf8")) as {
      numPassedTests: number;
      numFailedTests: number;
      numFailedTestSuites: number;
    };
    // A suite that cannot even start has failed although it counts no test.
    const failed = Math.max(report.numFailedTests, report.numFailedTestSuites > 0 ? 1 : 0);
    return { passed: report.numPassedTests, failed };
  } catch {
    return { passed: 0, failed: jest.code === 0 ? 0 : 1 };
  }
}

function playwrightCount(code: number): Count {
  try {
    const { stats } = JSON.parse(readFileSync(PLAYWRIGHT_REPORT, "utf8")) as {
      stats: { expected: number; unexpected: number; flaky: number };
    };
    const failed = stats.unexpected + stats.flaky;
    return { passed: stats.expected, failed: Math.max(failed, code === 0 ? 0 : 1) };
  } catch {
    return { passed: 0, failed: 1 };
  }
}
