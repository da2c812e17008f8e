import { z } from "zod";
import type { Command } from "@/services/web/command";
import { act } from "./act";

const refreshed = jest.fn();
jest.mock("next/headers", () => ({ headers: async () => new Headers({ host: "127.0.0.1:4310" }) }));
jest.mock("next/cache", () => ({ revalidatePath: (...path: unknown[]) => refreshed(...path) }));
jest.mock("@/services/web/connection", () => ({ database: () => "the pool" }));
jest.mock("@/services/web/log", () => ({ log: { error: (...said: unknown[]) => logged(...said) } }));
const logged = jest.fn();

const command = (over: Partial<Command<[number], [number], { twice: number }>> = {}) =>
  ({
    input: z.tuple([z.number().int().positive()]),
    run: async (_: unknown, n: number) => ({ ok: true, twice: 2 * n }),
    touches: (n: number) => ({ experiment: n }),
    ...over,
  }) as Command<[number], [number], { twice: number }>;
beforeEach(() => jest.clearAllMocks());

describe("a command run for a page", () => {
  test("is given the pool and its arguments; what it touched is shown anew", async () => {
    expect(await act(command(), [21])).toEqual({ ok: true, twice: 42 });
    expect(refreshed.mock.calls.map(([path]) => path)).toEqual(["/experiments/21", "/"]);
  });

  test.each([
    ["nothing", []],
    ["everything", ["/"]],
  ] as const)("that touches %s", async (touched, paths) => {
    await act(command({ touches: () => touched }), [1]);
    expect(refreshed.mock.calls.map(([path]) => path)).toEqual(paths);
  });

  test.each([[["seven"]], [[-1]], [[]], [[1.5]], [null]])("with %j is answered in words and not run", async (sent) => {
    const run = jest.fn();
    const answer = await act(command({ run }), sent as unknown as [number]);
    expect(answer).toMatchObject({ ok: false, error: expect.stringMatching(/\S{3,}/) });
    expect(run).not.toHaveBeenCalled();
    expect(refreshed).not.toHaveBeenCalled();
  });

  test("that refuses shows nothing anew", async () => {
    const answer = await act(command({ run: async () => ({ ok: false, error: "it is gone" }) }), [1]);
    expect(answer).toEqual({ ok: false, error: "it is gone" });
    expect(refreshed).not.toHaveBeenCalled();
  });

  test("that breaks inside is logged with its reason, and told without it", async () => {
    const broken = new Error("secret table name");
    const answer = await act(
      command({
        run: async () => {
          throw broken;
        },
      }),
      [1],
    );
    expect(answer.ok).toBe(false);
    expect(JSON.stringify(answer)).not.toContain("secret");
    expect(logged.mock.calls[0][0]).toEqual({ err: broken });
    expect(answer).not.toHaveProperty("later");
  });

  test.each([
    ["the database away", { code: "ECONNREFUSED" }],
    ["the disk full", { code: "ENOSPC" }],
    ["all connections in use", { name: "KnexTimeoutError" }],
  ])("with %s says that the same may succeed later", async (_, fault) => {
    const run = () => Promise.reject(Object.assign(new Error("away"), fault));
    expect(await act(command({ run }), [1])).toMatchObject({ ok: false, later: "server" });
  });
});
