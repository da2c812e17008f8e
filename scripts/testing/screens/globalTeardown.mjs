import { rmSync } from "node:fs";

export default function teardown() {
  if (globalThis.bravelCaptured) rmSync(globalThis.bravelCaptured, { recursive: true, force: true });
}
