import { createServer, type Server } from "node:http";
import { presetDesign } from "../../src/core/collector/presets";
import type { RigSettings } from "../../src/core/experiment/schema/rig";
import { usualFlow } from "../../src/core/rig/liveRig";
import { rigSettings } from "../testing/rig";
import { RigDriver } from "./drive";

const design = presetDesign("corrugated");
const settings = (faults: RigSettings["faults"] = []): RigSettings =>
  rigSettings({
    faults,
    speed: 600,
    lanes: [
      {
        letter: "A",
        design,
        station: 1,
        massFlowKgPerS: usualFlow(design),
        loop: { kind: "outside" },
        thermostat: null,
      },
    ],
  });

/** A Bravel that only notes what it is sent, and may be away. */
class Noted {
  readonly times: number[] = [];
  away = false;
  orders = { running: true, version: 1, epoch: 1, settings: settings(), newestMs: null as number | null };
  private constructor(
    private readonly server: Server,
    readonly address: string,
  ) {}

  static async start(): Promise<Noted> {
    let noted: Noted | null = null;
    const server = createServer((asked, answer) => {
      if (noted!.away) return asked.socket.destroy();
      if (asked.url === "/api/rig") return answer.end(JSON.stringify(noted!.orders));
      let text = "";
      asked.on("data", (d: Buffer) => (text += d.toString()));
      asked.on("end", () => {
        const { frames } = JSON.parse(text) as { frames: { time: number }[] };
        noted!.times.push(...frames.map((f) => f.time));
        answer.end("{}");
      });
    });
    await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
    noted = new Noted(server, `http://127.0.0.1:${(server.address() as { port: number }).port}`);
    return noted;
  }

  stop = () => new Promise((done) => (this.server.closeAllConnections(), this.server.close(done)));
  until = async (met: () => boolean) => {
    for (let waited = 0; !met(); waited += 50) {
      if (waited > 20_000) throw new Error("it did not come");
      await new Promise((r) => setTimeout(r, 50));
    }
  };
}

async function driven(during: (noted: Noted) => Promise<void>): Promise<Noted> {
  const noted = await Noted.start();
  const abort = new AbortController();
  const driver = new RigDriver({ address: noted.address, token: "t", signal: abort.signal });
  const over = driver.run();
  await during(noted);
  abort.abort();
  await over;
  await noted.stop();
  return noted;
}
/** Every ten seconds, each once. */
const unbroken = (times: readonly number[]) => expect(times).toEqual(times.map((_, i) => times[0] + i * 10_000));

test("ten minutes of its time without a network: everything comes afterwards, in order, once", async () => {
  const { times } = await driven(async (noted) => {
    await noted.until(() => noted.times.length > 60);
    noted.away = true;
    // At 600 times the sun's pace ten minutes are one second.
    await new Promise((r) => setTimeout(r, 1500));
    const before = noted.times.length;
    noted.away = false;
    await noted.until(() => noted.times.length > before + 90);
  });
  unbroken(times);
}, 40_000);

test("its logger off keeps its readings; its clock slow stamps them late; messages come twice", async () => {
  const { times } = await driven(async (noted) => {
    const faults = (kinds: RigSettings["faults"][number]["kind"][]) => {
      noted.orders = {
        ...noted.orders,
        version: noted.orders.version + 1,
        settings: settings(kinds.map((kind) => ({ kind, lane: null, share: 1 }))),
      };
    };
    await noted.until(() => noted.times.length > 30);
    faults(["loggerOff"]);
    await new Promise((r) => setTimeout(r, 1200));
    const quiet = noted.times.length;
    await new Promise((r) => setTimeout(r, 600));
    expect(noted.times.length).toBe(quiet);
    faults([]);
    await noted.until(() => noted.times.length > quiet + 60);
    unbroken(noted.times);
    faults(["resends"]);
    await noted.until(() => new Set(noted.times).size < noted.times.length);
  });
  expect(times.length).toBeGreaterThan(100);
}, 40_000);

test("a driver that begins goes on where the last frame was; a bench set up anew begins at its start", async () => {
  const { times, orders } = await driven(async (noted) => {
    noted.orders.newestMs = settings().startMs + 3600_000;
    await noted.until(() => noted.times.length > 5);
    expect(noted.times[0]).toBe(settings().startMs + 3610_000);
    noted.orders = { ...noted.orders, version: 2, epoch: 2 };
    await noted.until(() => Math.min(...noted.times) === settings().startMs + 10_000);
  });
  expect(times.length).toBeGreaterThan(5);
  expect(orders.epoch).toBe(2);
}, 40_000);
