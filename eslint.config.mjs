import next from "eslint-config-next/core-web-vitals";
import typescript from "eslint-config-next/typescript";

const config = [
  {
    ignores: [".next*/**", "node_modules/**", ".bravel/**", "next-env.d.ts", "test-results/**", "playwright-report/**"],
  },
  ...next,
  ...typescript,
];

export default config;
