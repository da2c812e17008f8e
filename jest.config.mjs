import nextJest from "next/jest.js";

// Packages published as ES modules only; next/jest would leave them untransformed.
const esModules = ["suncalc", "@stdlib", "comlink", "@tanstack", "@hookform"];

const config = await nextJest({ dir: "./" })({
  testEnvironment: "node",
  roots: ["<rootDir>/src", "<rootDir>/demo", "<rootDir>/scripts"],
  moduleNameMapper: { "^@/(.*)$": "<rootDir>/src/$1", "^server-only$": "<rootDir>/scripts/testing/emptyModule.ts" },
  reporters: ["default"],
})();

const withEsModules = { ...config, transformIgnorePatterns: [`/node_modules/(?!(${esModules.join("|")})/)`] };

export default withEsModules;
