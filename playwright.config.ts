import { defineConfig } from "@playwright/test";
import { server, SERVERS } from "./e2e/server";

export default defineConfig({
  testDir: "e2e",
  outputDir: "test-results",
  // Each row of files has a server and a database of its own: no test meets another's half-done work.
  workers: SERVERS.length,
  fullyParallel: false,
  // Waits are for states: these only bound a test that hangs, also on a machine half as fast that is doing other work.
  timeout: 240_000,
  expect: { timeout: 60_000 },
  reporter: [["list"], ["json"]],
  use: {
    baseURL: server.address,
    viewport: { width: 1280, height: 800 },
    trace: "off",
    // The demo's experiments lie open on the bench, whatever tests before have made.
    storageState: {
      cookies: [],
      origins: SERVERS.map(({ address }) => ({
        origin: address,
        localStorage: [{ name: "bravel-bench-demo", value: "open" }],
      })),
    },
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
