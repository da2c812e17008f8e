import { readFileSync, writeFileSync } from "node:fs";
import { z } from "zod";
import { entryProblem } from "./limits";
import { packageSchema, withStreams } from "./schema";

/** What docs/package.schema.json must hold. To renew it: BRAVEL_WRITE=1 npx jest src/core/package. */
const schema = () => z.toJSONSchema(packageSchema, { unrepresentable: "any", io: "input" });

test("the JSON Schema in docs is the one the reader goes by", () => {
  const text = `${JSON.stringify(schema(), null, 2)}\n`;
  const path = "docs/package.schema.json";
  if (process.env.BRAVEL_WRITE) writeFileSync(path, text);
  expect(JSON.parse(readFileSync(path, "utf8"))).toEqual(JSON.parse(text));
});

test.each([
  "../x",
  "data/../../x",
  "/etc/passwd",
  "C:\\x",
  "data\\x",
  "data/",
  "x.sh",
  "data/a/b.csv",
  "raw/\u0000",
  "./experiment.json",
  "data/..",
  `raw/${"x".repeat(300)}`,
])("an entry named %j is refused", (name) => expect(entryProblem(name)).not.toBeNull());
test.each(["experiment.json", "data/run-1-log-1.csv", "raw/run-1-log-1-lanes (2).csv", "results.json"])(
  "%j may be read",
  (name) => expect(entryProblem(name)).toBeNull(),
);

test("streams of layers are renamed and nothing else is", () => {
  const mount = { streamId: 7, channelNo: 1, instrument: "p1", station: 1, fromMs: null, untilMs: null };
  expect(withStreams("assignment", { mounts: [mount], stands: [] }, (id) => id - 6)).toEqual({
    mounts: [{ ...mount, streamId: 1 }],
    stands: [],
  });
  expect(withStreams("clock", { streamId: 7, offsetMs: 5 }, () => 2)).toEqual({ streamId: 2, offsetMs: 5 });
  const aside = { lane: null, fromMs: 1, toMs: 2 };
  expect(withStreams("exclusion", aside, () => 2)).toBe(aside);
});
