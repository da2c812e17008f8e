import { defineConfig } from "@playwright/test";

/** Set by ./bravel test, which starts what the browser tests need. */
const address = process.env.BRAVEL_TEST_ADDRESS ?? "http://bravel-test-address-is-not-set.invalid";

export default defineConfig({
  testDir: "e2e",
  outputDir: "test-results",
  // One server, one database: files in order, so that no test meets another's half-done work.
  workers: 1,
  fullyParallel: false,
  timeout: 90000,
  expect: { timeout: 20000 },
  reporter: [["list"], ["json"]],
  use: {
    baseURL: address,
    viewport: { width: 1280, height: 800 },
    trace: "off",
    launchOptions: {
      executablePath: process.env.BRAVEL_CHROMIUM ?? "/usr/bin/chromium",
      args: [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-dev-shm-usage",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--no-first-run",
      ],
    },
  },
});
