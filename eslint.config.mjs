import next from "eslint-config-next/core-web-vitals";
import typescript from "eslint-config-next/typescript";

const config = [
  {
    ignores: [".next*/**", "node_modules/**", ".bravel/**", "next-env.d.ts", "test-results/**", "playwright-report/**"],
  },
  ...next,
  ...typescript,
  {
    rules: {
      // A name that begins with _ is there to be left out.
      "@typescript-eslint/no-unused-vars": [
        "warn",
        { argsIgnorePattern: "^_", varsIgnorePattern: "^_", ignoreRestSiblings: true },
      ],
    },
  },
];

export default config;
