import nextJest from "next/jest.js";

// Packages published as ES modules only; next/jest would leave them untransformed.
const esModules = ["suncalc", "@stdlib", "comlink", "@tanstack", "d3-", "internmap"];

const SLOW = ["\\.study\\.test\\.ts$", "\\.db\\.test\\.ts$"];
const SCREENS = "\\.screen\\.test\\.tsx$";
const names = { "^@/(.*)$": "<rootDir>/src/$1", "^server-only$": "<rootDir>/scripts/testing/emptyModule.ts" };
const screens = "<rootDir>/scripts/testing/screens";

/**
 * What the language itself brings and computing asks for all the time, handed to every module: in the sandbox of a test each look at `Math`
 * asks the sandbox first, which cost two fifths of such a test. Names that a package declares anew cannot be among them (`Set`, `Map`),
 * nor what a test may replace (dates, timers).
 */
const sandboxInjectedGlobals = [
  ...["Object", "Array", "Number", "Math"],
  ...["Float64Array", "Float32Array", "Int32Array", "Uint32Array", "Uint8Array"],
];

/** @param own what one project has of its own */
async function project(own) {
  const base = await nextJest({ dir: "./" })({
    testEnvironment: "node",
    roots: ["<rootDir>/src", "<rootDir>/demo", "<rootDir>/scripts"],
    moduleNameMapper: { ...own.before, ...names },
  })();
  const { before: _, ...rest } = own;
  return {
    ...base,
    transformIgnorePatterns: [`/node_modules/(?!(?:${esModules.join("|")}))`],
    ...rest,
    sandboxInjectedGlobals,
  };
}

const config = {
  reporters: ["default"],
  // A test that hangs ends; a slow machine is no fault.
  testTimeout: 60000,
  projects: [
    // Under a minute, without a database: to be run at every turn.
    await project({
      displayName: "fast",
      testPathIgnorePatterns: ["/node_modules/", "/\\.next", ...SLOW, SCREENS],
    }),
    // Seeded studies, and whatever needs the database.
    await project({ displayName: "slow", testRegex: SLOW }),
    // Components with the demo's own pages, captured once; server actions and workers stand in.
    await project({
      displayName: "screens",
      testRegex: [SCREENS],
      testEnvironment: "jsdom",
      globalSetup: `${screens}/globalSetup.mjs`,
      globalTeardown: `${screens}/globalTeardown.mjs`,
      setupFilesAfterEnv: [`${screens}/environment.ts`],
      before: {
        // By their ends: the compiler writes paths out before they are looked up.
        "/(actions|variantActions|startActions|loadWorking)$": `${screens}/serverActions.ts`,
        "^next/navigation$": `${screens}/navigation.ts`,
        "^comlink$": `${screens}/comlink.ts`,
        "/workers/(collector|sun)$": `${screens}/$1.ts`,
      },
    }),
  ],
};

export default config;
