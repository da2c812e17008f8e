import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { answering } from "./answering";
import { log } from "./log";

const logged = jest.spyOn(log, "error").mockImplementation(() => undefined as never);
beforeEach(() => logged.mockClear());

const failing = (fault: object) => answering(() => Promise.reject(Object.assign(new Error("secret"), fault)))();

test.each([
  ["the database away", { code: "ECONNREFUSED" }],
  ["a connection cut", { code: "PROTOCOL_CONNECTION_LOST" }],
  ["the disk full", { code: "ENOSPC" }],
  ["no connection free", { name: "KnexTimeoutError" }],
  ["a statement stopped after a minute", { errno: 1969 }],
])("with %s a route answers 503, when to come again, and no reason of its own", async (_, fault) => {
  const answer = await failing(fault);
  expect(answer.status).toBe(503);
  expect(answer.headers.get("retry-after")).toBe("5");
  const text = await answer.text();
  expect((JSON.parse(text) as { error: string }).error.length).toBeGreaterThan(20);
  expect(text).not.toContain("secret");
  expect(logged).toHaveBeenCalledTimes(1);
});

test("a fault nobody foresaw is a 500 with the way out; Next's own words pass", async () => {
  const answer = await failing({});
  expect(answer.status).toBe(500);
  expect(answer.headers.get("retry-after")).toBeNull();
  expect(await answer.text()).toContain("Try again");
  const redirect = Object.assign(new Error("NEXT_REDIRECT"), { digest: "NEXT_REDIRECT;replace;/;303;" });
  await expect(answering(() => Promise.reject(redirect))()).rejects.toBe(redirect);
  expect((await answering(() => new Response("good"))()).status).toBe(200);
});

test("every method of every route goes through it", () => {
  const app = join(__dirname, "../../app");
  const routes = readdirSync(app, { recursive: true, encoding: "utf8" }).filter((f) => /(?:^|\/)route\.tsx?$/.test(f));
  expect(routes.length).toBeGreaterThan(20);
  for (const file of routes) {
    const source = readFileSync(join(app, file), "utf8");
    const exported = [...source.matchAll(/^export (?:async )?(?:function|const) ([A-Z]+)\b.*$/gm)];
    expect(exported.length).toBeGreaterThan(0);
    for (const [line] of exported) expect(`${file}: ${line}`).toMatch(/= answering\(/);
  }
});
