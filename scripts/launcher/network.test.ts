import { mkdtempSync, rmSync } from "node:fs";
import { createServer } from "node:http";
import { request } from "node:https";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { passphraseFits } from "../../src/services/web/session";
import { openingOf, startTls } from "./network";

const home = mkdtempSync(join(tmpdir(), "bravel-network-"));
afterAll(() => rmSync(home, { recursive: true, force: true }));
const LONG = "twelve letters or more";

test("without BRAVEL_LISTEN this computer alone is answered", () => {
  expect(openingOf(home, 4310, {})).toEqual({ host: "127.0.0.1", env: {}, addresses: [], tls: null });
});

test.each([
  [{ BRAVEL_LISTEN: "0.0.0.0" }, /BRAVEL_PASSPHRASE/],
  [{ BRAVEL_LISTEN: "0.0.0.0", BRAVEL_PASSPHRASE: "short" }, /at least 12/],
  [{ BRAVEL_LISTEN: "bench.example", BRAVEL_PASSPHRASE: LONG }, /must be an address/],
  [{ BRAVEL_LISTEN: "0.0.0.0", BRAVEL_PASSPHRASE: LONG, BRAVEL_PROXY: "balancer" }, /BRAVEL_PROXY holds "balancer"/],
])("%j is refused with the way out", (env, words) => expect(() => openingOf(home, 4310, env)).toThrow(words));

test("opened, the application gets a hash and the hosts it answers to, and never the words", async () => {
  const { host, env, addresses, tls } = openingOf(home, 4310, {
    BRAVEL_LISTEN: "192.0.2.7",
    BRAVEL_PASSPHRASE: LONG,
    BRAVEL_HOSTS: "loft.example",
  });
  expect({ host, addresses, tls }).toEqual({ host: "192.0.2.7", addresses: ["http://192.0.2.7:4310"], tls: null });
  expect(env.BRAVEL_HOSTS).toBe("loft.example,192.0.2.7:4310");
  expect(await passphraseFits(LONG, env.BRAVEL_GUARD)).toBe(true);
  expect(JSON.stringify(env)).not.toContain(LONG);
  // A restart signs nobody out.
  const again = openingOf(home, 4310, { BRAVEL_LISTEN: "192.0.2.7", BRAVEL_PASSPHRASE: LONG });
  expect(again.env.BRAVEL_SESSION_KEY).toBe(env.BRAVEL_SESSION_KEY);
  // A changed passphrase ends every session.
  const changed = openingOf(home, 4310, { BRAVEL_LISTEN: "192.0.2.7", BRAVEL_PASSPHRASE: `${LONG} changed` });
  expect(changed.env.BRAVEL_SESSION_KEY).not.toBe(env.BRAVEL_SESSION_KEY);
});

test("encrypted, the application itself stays on this computer and what comes is handed on", async () => {
  const seen: string[] = [];
  const plain = createServer((asked, answer) => {
    seen.push(`${asked.method} ${asked.url} ${String(asked.headers["x-forwarded-proto"])}`);
    asked.pipe(answer);
  });
  await new Promise<void>((done) => plain.listen(0, "127.0.0.1", done));
  const target = (plain.address() as { port: number }).port;
  const opening = openingOf(home, target, { BRAVEL_LISTEN: "127.0.0.1", BRAVEL_PASSPHRASE: LONG, BRAVEL_TLS: "1" });
  expect(opening.host).toBe("127.0.0.1");
  // Its own encrypted side is believed; nobody else on the way.
  expect(opening.env.BRAVEL_PROXY).toBe("127.0.0.1");
  const named = openingOf(home, 4310, {
    BRAVEL_LISTEN: "127.0.0.1",
    BRAVEL_PASSPHRASE: LONG,
    BRAVEL_TLS: "1",
    BRAVEL_HOSTS: "bench.local:4343, [2001:db8::7]:4343",
  });
  expect(named.tls!.names).toEqual(["bench.local", "2001:db8::7"]);
  expect(opening.addresses[0]).toMatch(/^https:/);
  jest.spyOn(console, "log").mockImplementation(() => undefined);
  const server = await startTls(opening.tls!);
  const answered = await new Promise<string>((done, fail) => {
    const asked = request(
      { host: "127.0.0.1", port: opening.tls!.port, path: "/api/readings", method: "POST", rejectUnauthorized: false },
      (answer) => {
        let text = "";
        answer.on("data", (d: Buffer) => (text += d.toString()));
        answer.on("end", () => done(text));
      },
    );
    asked.on("error", fail);
    asked.end("twenty readings");
  });
  expect(answered).toBe("twenty readings");
  expect(seen).toEqual(["POST /api/readings https"]);
  server.close();
  plain.close();
}, 30_000);
