import { defineConfig } from "@playwright/test";

const address = process.env.BRAVEL_TEST_ADDRESS;
if (!address) throw new Error("BRAVEL_TEST_ADDRESS is not set; run the browser tests through ./bravel test");

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
