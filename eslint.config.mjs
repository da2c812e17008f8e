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
  {
    // A program's own error text never becomes a sentence on a page: ui/said.ts tells which messages are sentences.
    files: ["src/features/**", "src/ui/**", "src/app/**"],
    // A form field's message is the schema's sentence.
    ignores: ["src/ui/said.ts", "src/ui/form/fields.tsx", "**/*.test.*"],
    rules: {
      "no-restricted-syntax": [
        "error",
        {
          selector:
            "MemberExpression[property.name='message']:matches([object.name=/^(e|err|error|cause|reason|failure)$/], [object.type='TSAsExpression'], [object.property.name='error'])",
          message: "Use saidOf of ui/said.ts: an error's own text is no sentence for a person.",
        },
        {
          selector: "CallExpression[callee.name='String'][arguments.0.name=/^(e|err|error|cause|reason)$/]",
          message: "Use saidOf of ui/said.ts: an error's own text is no sentence for a person.",
        },
      ],
    },
  },
  {
    files: ["src/services/**"],
    ignores: ["**/*.test.*"],
    rules: {
      "no-restricted-syntax": [
        "error",
        {
          selector:
            ":matches(CallExpression[callee.name=/^(knex|trx)$/][arguments.0.type='Literal'], CallExpression[callee.object.name=/^(knex|trx)$/][callee.property.name='raw'])",
          message: "Queries belong to src/data.",
        },
      ],
    },
  },
];

export default config;
