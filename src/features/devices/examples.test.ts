import { spawn, spawnSync, type ChildProcess } from "node:child_process";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { sendingExamples } from "./examples";

const PYTHON = spawnSync("python3", ["--version"]).status === 0;
const folder = mkdtempSync(join(tmpdir(), "bravel-example-"));

interface Frame {
  time: number;
  values: Record<string, number>;
}
type Mood = "well" | "away" | "refuses";
let mood: Mood = "well";
let server: Server;
let running: ChildProcess | null = null;
const taken: Frame[] = [];
let refused = 0;

beforeAll(async () => {
  server = createServer((request, response) => {
    if (mood === "away") return void request.socket.destroy();
    let body = "";
    request.on("data", (d: Buffer) => (body += d.toString()));
    request.on("end", () => {
      if (mood === "refuses") {
        refused++;
        response.writeHead(400).end('{"error":"no"}');
        return;
      }
      // As strict as Bravel: a NaN in it would throw here.
      taken.push(...(JSON.parse(body) as { frames: Frame[] }).frames);
      response.end('{"rejected":[]}');
    });
  });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
});
afterAll(() => {
  running?.kill("SIGKILL");
  server.close();
  rmSync(folder, { recursive: true, force: true });
});

/** The program as it is given out, its probes and its clock quickened: one of them is lost. */
function start(): void {
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const { text } = sendingExamples(address, "bravel_x").find((e) => e.name === "Python")!;
  const quick = text
    .replace("time.sleep(10)", "time.sleep(0.03)")
    .replace('"A in (°C)": 14.2', '"A in (°C)": float("nan")');
  expect(quick).not.toBe(text);
  writeFileSync(join(folder, "send.py"), quick);
  running = spawn("python3", ["send.py"], { cwd: folder, stdio: "ignore" });
}
async function stop(): Promise<void> {
  const ended = new Promise((done) => running!.once("exit", done));
  running!.kill("SIGKILL");
  await ended;
}
const until = async (so: () => boolean) => {
  for (let k = 0; k < 1000 && !so(); k++) await new Promise((r) => setTimeout(r, 20));
  expect(so()).toBe(true);
};

(PYTHON ? test : test.skip)(
  "the Python program leaves a lost probe out, loses nothing to an outage or a restart, and is not held up by a refusal",
  async () => {
    start();
    await until(() => taken.length >= 5);
    expect(Object.keys(taken[0].values)).toEqual(["A out (°C)", "A air (m/s)"]);
    mood = "away";
    const before = taken.length;
    await new Promise((r) => setTimeout(r, 600));
    // Ended in the middle of the outage, and begun again before it is over.
    await stop();
    const ended = Date.now();
    start();
    await new Promise((r) => setTimeout(r, 500));
    mood = "well";
    await until(() => taken.length > before + 12);
    const during = taken.slice(before).filter((f) => f.time < ended);
    expect(during.length).toBeGreaterThan(6);
    const times = taken.map((f) => f.time);
    expect(new Set(times).size).toBe(times.length);
    expect(times).toEqual([...times].sort((a, b) => a - b));
    mood = "refuses";
    await until(() => refused >= 2);
    mood = "well";
    const now = taken.length;
    await until(() => taken.length > now + 3);
    await stop();
  },
  60_000,
);

test("the microcontroller's program sends a field only where there is a reading", () => {
  const { text } = sendingExamples("http://bench.example", "bravel_x").find((e) => e.name.startsWith("C++"))!;
  expect(text).toContain('isfinite(value) ? String(",") + name + "=" + value : String("")');
});
