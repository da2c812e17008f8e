import { readFileSync, rmSync } from "node:fs";
import { availableParallelism } from "node:os";
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
  console.log("\n— unit tests");
  add(await unitTests());

  console.log("\n— build and real browser");
  await ensureProgram("chromium", "chromium", "The browser tests");
  await ensureBuild(TEST_DIST);
  const servers: TestServer[] = [];
  for (let row = 1; row <= ROWS; row++) {
    const name = `browser${row}`;
    await (await demoDatabase(name)).destroy();
    const url = ownUrl(name);
    const web = await startWeb({ port: await tools.port(), databaseUrl: url, dist: TEST_DIST, quiet: true });
    tools.onStop(() => web.stop());
    servers.push({ address: web.address, databaseUrl: url, demo: process.env.BRAVEL_TEST_DEMO });
  }
  add({ passed: 1, failed: 0 });
  rmSync(PLAYWRIGHT_REPORT, { force: true });
  const browser = await run("npx", ["--no-install", "playwright", "test"], {
    env: {
      ...process.env,
      BRAVEL_TEST_SERVERS: JSON.stringify(servers),
      PLAYWRIGHT_JSON_OUTPUT_NAME: PLAYWRIGHT_REPORT,
    },
  });
  add(playwrightCount(browser.code));
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

async function unitTests(): Promise<Count> {
  rmSync(JEST_REPORT, { force: true });
  // A worker a core: jest itself would leave one idle, of two that is half the machine.
  const workers = `--maxWorkers=${availableParallelism()}`;
  const jest = await run("npx", ["--no-install", "jest", workers, "--json", `--outputFile=${JEST_REPORT}`]);
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
