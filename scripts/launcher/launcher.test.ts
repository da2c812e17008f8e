import { createServer, type Server } from "node:net";
import { freePort, portFree } from "./database";
import { LaunchError, step } from "./progress";
import { run, which } from "./run";

const listen = () =>
  new Promise<[Server, number]>((done) => {
    const server = createServer();
    server.listen(0, "127.0.0.1", () => done([server, (server.address() as { port: number }).port]));
  });

describe("ports", () => {
  test("a port in use is seen, and the next free one found", async () => {
    const [server, port] = await listen();
    expect(await portFree(port)).toBe(false);
    expect(await freePort(port)).toBeGreaterThan(port);
    await new Promise((done) => server.close(done));
    expect(await portFree(port)).toBe(true);
  });
});

describe("commands", () => {
  test("output and code come back", async () => {
    expect(await run("sh", ["-c", "echo out; echo err >&2; exit 3"], { quiet: true })).toEqual({
      code: 3,
      output: expect.stringMatching(/out[\s\S]*err|err[\s\S]*out/),
    });
  });
  test("a program that is not there is not found", async () => {
    expect(await which("sh")).toMatch(/sh$/);
    expect(await which("no-such-program-here")).toBeNull();
  });
});

describe("steps", () => {
  test("say when they begin and end, with their last note", async () => {
    const said: string[] = [];
    const log = jest.spyOn(console, "log").mockImplementation((text: string) => {
      said.push(text);
    });
    await expect(
      step("Making tea", async (note) => {
        note("two cups");
        return 7;
      }),
    ).resolves.toBe(7);
    await expect(
      step("Spilling it", async () => {
        throw new LaunchError("The cup is broken. Take another.");
      }),
    ).rejects.toThrow("Take another");
    log.mockRestore();
    expect(said.join("\n")).toContain("Making tea: done, two cups");
    expect(said.join("\n")).not.toContain("Spilling it: done");
  });
});
