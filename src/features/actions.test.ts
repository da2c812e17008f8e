import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";

jest.mock("next/headers", () => ({ headers: async () => new Headers({ host: "127.0.0.1:4310" }) }));
const touched = jest.fn();
jest.mock("../services/web/connection", () => ({
  database: () => {
    touched();
    throw new Error("the database was asked");
  },
}));

const ACTIONS = (readdirSync("src", { recursive: true }) as string[]).filter(
  (f) => /\.tsx?$/.test(f) && /^"use server";/m.test(readFileSync(join("src", f), "utf8")),
);

beforeAll(() => void Object.assign(process.env, { BRAVEL_GUARD: "a.b", BRAVEL_SESSION_KEY: "key" }));
afterAll(() => {
  delete process.env.BRAVEL_GUARD;
  delete process.env.BRAVEL_SESSION_KEY;
});

test("there are actions to walk", () => expect(ACTIONS.length).toBeGreaterThan(12));

describe.each(ACTIONS)("%s", (file) => {
  test("every action it exports refuses whoever has not signed in, before it looks at anything", async () => {
    const exported = (await import(join(process.cwd(), "src", file))) as Record<
      string,
      (...args: unknown[]) => unknown
    >;
    const actions = Object.entries(exported).filter(([, value]) => typeof value === "function");
    expect(actions.length).toBeGreaterThan(0);
    for (const [, action] of actions) {
      const answer = await Promise.resolve(action(1, 1, 1)).catch((error: Error) => ({
        ok: false,
        error: error.message,
      }));
      expect(answer).toMatchObject({ ok: false, error: expect.stringMatching(/Sign in first/) });
    }
    expect(touched).not.toHaveBeenCalled();
  });
});
