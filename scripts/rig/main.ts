import { appendFileSync } from "node:fs";
import { RigDriver, RigLetGo } from "./drive";

/** The rig as a process of its own: address and token by the environment, because a command line is everybody's to read. */
const { BRAVEL_RIG_ADDRESS: address, BRAVEL_RIG_TOKEN: token, BRAVEL_RIG_TRUTH: truth } = process.env;
if (!address || !token) {
  console.error("bravel: the rig needs BRAVEL_RIG_ADDRESS and BRAVEL_RIG_TOKEN.");
  process.exit(2);
}
const abort = new AbortController();
for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"] as const) process.on(signal, () => abort.abort());
// Started by the launcher, it ends with it even where the launcher was killed.
const parent = process.ppid;
setInterval(() => process.ppid !== parent && abort.abort(), 2000).unref();
const driver = new RigDriver({
  address,
  token,
  signal: abort.signal,
  say: (text) => console.error(`bravel: ${text}`),
  onTruth: truth
    ? (frame) => appendFileSync(truth, `${JSON.stringify({ atMs: frame.atMs, ...frame.truth })}\n`)
    : undefined,
});
driver.run().then(
  () => process.exit(0),
  (error: Error) => {
    console.error(error instanceof RigLetGo ? `bravel: ${error.message}.` : error);
    process.exit(error instanceof RigLetGo ? 0 : 1);
  },
);
