import { readdirSync, readFileSync } from "node:fs";
import { join, relative } from "node:path";

/** What stands in a docstring as `@example call // answer` is called, and must answer so. */
interface Example {
  file: string;
  call: string;
  answer: string;
}

const ROOT = __dirname;
const files = readdirSync(ROOT, { recursive: true, encoding: "utf8" })
  .filter((f) => f.endsWith(".ts") && !/\.test\.ts$/.test(f))
  .map((f) => join(ROOT, f));

const EXAMPLES: Example[] = files.flatMap((file) =>
  [...readFileSync(file, "utf8").matchAll(/@example ([^\n]+?) \/\/ ([^\n]+?)(?: \*\/)?$/gm)].map(
    ([, call, answer]) => ({
      file: relative(ROOT, file),
      call,
      // What stands in brackets behind the answer is its source.
      answer: answer.replace(/ \((?=[A-Z\d])[^()]*\)$/, ""),
    }),
  ),
);

/** A number as written: half a step of its last digit is right. */
class Written {
  constructor(readonly text: string) {}
  matches(found: unknown): boolean {
    const [, decimals = "", power = "0"] = /^-?\d*\.?(\d*)(?:e([+-]?\d+))?$/.exec(this.text) ?? [];
    return (
      typeof found === "number" &&
      Math.abs(found - Number(this.text)) <= 0.501 * 10 ** (Number(power) - decimals.length)
    );
  }
}

const evaluated = (text: string, scope: Record<string, unknown>): unknown =>
  (new Function(...Object.keys(scope), `return (${text});`) as (...values: unknown[]) => unknown)(
    ...Object.values(scope),
  );

/** The answer with its numbers as written; `…` leaves fields out. */
const NUMBER_OR_TEXT = /"[^"]*"|-?\b\d+(?:\.\d+)?(?:e[+-]?\d+)?\b/g;
const expectedOf = (answer: string): unknown =>
  evaluated(
    answer.replace(/,?\s*…/g, "").replace(NUMBER_OR_TEXT, (part) => (part.startsWith('"') ? part : `W("${part}")`)),
    { W: (n: string) => new Written(n) },
  );

function agree(found: unknown, expected: unknown, at: string): void {
  if (expected instanceof Written) {
    if (!expected.matches(found)) throw new Error(`${at}: ${String(found)} is not ${expected.text}`);
    return;
  }
  if (typeof expected !== "object" || expected === null) return expect(found).toEqual(expected);
  for (const [key, value] of Object.entries(expected))
    agree((found as Record<string, unknown>)[key], value, `${at}.${key}`);
}

test.each(EXAMPLES)("$file: $call", async ({ file, call, answer }) => {
  const exported = (await import(join(ROOT, file))) as Record<string, unknown>;
  agree(await evaluated(call, exported), expectedOf(answer), call);
});

test("a wrong answer is noticed", () => {
  expect(() => agree(9.31, expectedOf("9.3"), "x")).not.toThrow();
  expect(() => agree(9.36, expectedOf("9.3"), "x")).toThrow("9.36 is not 9.3");
  expect(() => agree([1, 2.4], expectedOf("[1, 2]"), "x")).not.toThrow();
  expect(() => agree([1, 2.6], expectedOf("[1, 2]"), "x")).toThrow("2.6 is not 2");
  expect(() => agree({ ok: false }, expectedOf("{ ok: true, … }"), "x")).toThrow();
});

test("the functions that a newcomer calls first have one", () => {
  const named = new Set(EXAMPLES.map(({ call }) => call.split("(")[0]));
  const FIRST = [
    ...["parseQuantity", "formatQuantity", "airDensity", "waterDensity", "standardPressure"],
    ...["coverageFactor", "zoneOffset", "localDay", "bucketFlow", "bagFillFlow", "roundTraversePoints"],
    ...["sunPosition", "incidenceAngle", "coverOptics", "presetDesign", "sniffLog", "parseCoordinates"],
  ];
  expect(FIRST.filter((f) => !named.has(f))).toEqual([]);
});
