import { spawnSync } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

/** Captures the demo's pages once for all tests of screens; a folder already captured is used as it is. */
export default function setup() {
  if (process.env.BRAVEL_TEST_PAGES) return;
  const folder = mkdtempSync(join(tmpdir(), "bravel-pages-"));
  const done = spawnSync("npx", ["--no-install", "tsx", "scripts/testing/screens/capture.ts", folder], {
    stdio: "inherit",
  });
  if (done.status !== 0) throw new Error("the demo's pages could not be captured");
  process.env.BRAVEL_TEST_PAGES = folder;
  globalThis.bravelCaptured = folder;
}
