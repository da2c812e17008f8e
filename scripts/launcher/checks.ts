import { readFileSync, rmSync } from "node:fs";
import { availableParallelism } from "node:os";
import type { Knex } from "knex";
import { createDatabase } from "../../src/data/database";
import { migrate } from "../../src/data/migrate";
import { loadDemoWorld } from "../../demo/load";
import { ensureProgram } from "./packages";
import { step } from "./progress";
import { dropTables, tablesOf } from "./upgrade";
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

const npx = (...args: string[]) => run("npx", ["--no-install", ...args], { quiet: true });
const JEST_REPORT = ".bravel/test/jest.json";
const PLAYWRIGHT_REPORT = ".bravel/test/playwright.json";

/** Everything `./bravel test` does, in order of cost. Prints `N passed, N failed` last; true when nothing failed. */
export async function runChecks(tools: CheckTools): Promise<boolean> {
  const count: Count = { passed: 0, failed: 0 };
  const add = (c: Count) => {
    count.passed += c.passed;
    count.failed += c.failed;
  };
  const single = async (name: string, work: () => Promise<Finished>) => {
    const { code, output } = await work();
    console.log(`\n— ${name}\n${output}`.trimEnd());
    add(code === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1 });
  };
  console.log("\n— format, lint, types, imports, limits");
  // Lint takes as long as all the others together.
  await Promise.all([single("lint", () => npx("eslint", ".", "--max-warnings", "0")), otherReadings(single)]);

  const databaseUrl = await tools.openDatabase();
  const knex = createDatabase(databaseUrl);
  try {
    await step("Test database: emptied", () => dropTables(knex));
    await step("Test database: tables", () => migrate(knex));
    console.log("\n— unit tests");
    add(await unitTests(databaseUrl));
    await step("Test database: demo world", async (note) => {
      await dropTables(knex);
      await migrate(knex);
      await loadDemoWorld(knex, note);
      await keepDemo(knex);
    });
  } finally {
    await knex.destroy();
  }

  console.log("\n— build and real browser");
  await ensureProgram("chromium", "chromium", "The browser tests");
  await ensureBuild(TEST_DIST);
  const web = await startWeb({ port: await tools.port(), databaseUrl, dist: TEST_DIST, quiet: true });
  tools.onStop(() => web.stop());
  add({ passed: 1, failed: 0 });
  rmSync(PLAYWRIGHT_REPORT, { force: true });
  const browser = await run("npx", ["--no-install", "playwright", "test"], {
    env: {
      ...process.env,
      BRAVEL_TEST_ADDRESS: web.address,
      BRAVEL_TEST_DATABASE_URL: databaseUrl,
      BRAVEL_TEST_DEMO: KEPT_DEMO,
      PLAYWRIGHT_JSON_OUTPUT_NAME: PLAYWRIGHT_REPORT,
    },
  });
  add(playwrightCount(browser.code));
  await web.stop();
  console.log(`\n${count.passed} passed, ${count.failed} failed`);
  return count.failed === 0;
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

async function unitTests(databaseUrl: string): Promise<Count> {
  rmSync(JEST_REPORT, { force: true });
  // A worker a core: jest itself would leave one idle, of two that is half the machine.
  const workers = `--maxWorkers=${availableParallelism()}`;
  const jest = await run("npx", ["--no-install", "jest", workers, "--json", `--outputFile=${JEST_REPORT}`], {
    env: { ...process.env, BRAVEL_TEST_DATABASE_URL: databaseUrl },
  });
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
    return { passed: stats.expected, failed: failed > 0 ? failed : code === 0 ? 0 : 1 };
  } catch {
    return { passed: 0, failed: 1 };
  }
}

/** A copy of the demo world beside the database of the browser tests: each file of them begins with it. */
const KEPT_DEMO = "bravel_demo";

async function keepDemo(knex: Knex): Promise<void> {
  await knex.raw("DROP DATABASE IF EXISTS ??", [KEPT_DEMO]);
  await knex.raw("CREATE DATABASE ??", [KEPT_DEMO]);
  for (const name of await tablesOf(knex)) {
    await knex.raw("CREATE TABLE ??.?? LIKE ??", [KEPT_DEMO, name, name]);
    await knex.raw("INSERT INTO ??.?? SELECT * FROM ??", [KEPT_DEMO, name, name]);
  }
}
