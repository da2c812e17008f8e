import { X509Certificate } from "node:crypto";
import { mkdtempSync, readFileSync, rmSync, statSync, truncateSync, writeFileSync } from "node:fs";
import { createServer, request } from "node:https";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { certificateFor, type Certificate } from "./certificate";

let folder: string;
beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), "bravel-tls-"))));
afterEach(() => rmSync(folder, { recursive: true, force: true }));

const NAMES = ["192.0.2.7", "bench.local", "127.0.0.1"];
const DAY = 86_400_000;
const read = ({ cert }: Certificate) => new X509Certificate(cert);

test("names every address and host it is made for, and no other; a year at most", async () => {
  const own = read(await certificateFor(folder, NAMES));
  expect([own.checkIP("192.0.2.7"), own.checkIP("127.0.0.1"), own.checkHost("bench.local")]).toEqual([
    "192.0.2.7",
    "127.0.0.1",
    "bench.local",
  ]);
  expect([own.checkIP("192.0.2.8"), own.checkHost("elsewhere")]).toEqual([undefined, undefined]);
  expect(Date.parse(own.validTo) - Date.parse(own.validFrom)).toBeLessThan(398 * DAY);
  expect(statSync(join(folder, "server.key.pem")).mode & 0o777).toBe(0o600);
});

test("is trusted by whoever installed the authority, and by nobody else", async () => {
  const { key, cert, authority } = await certificateFor(folder, NAMES);
  const server = createServer({ key, cert }, (_, answer) => answer.end("seen"));
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  const { port } = server.address() as { port: number };
  const ask = (ca?: string) =>
    new Promise<string>((done, fail) => {
      const asked = request({ host: "127.0.0.1", port, ca, agent: false }, (answer) => {
        answer.on("data", (d: Buffer) => done(d.toString()));
      });
      asked.on("error", fail);
      asked.end();
    });
  await expect(ask(authority)).resolves.toBe("seen");
  await expect(ask()).rejects.toThrow(/certificate/);
  server.close();
});

test("stays while it fits; a new address or its end brings another by the same authority", async () => {
  const first = await certificateFor(folder, NAMES);
  expect(await certificateFor(folder, NAMES.slice(0, 2))).toEqual(first);
  const moved = await certificateFor(folder, [...NAMES, "198.51.100.3"]);
  expect(read(moved).checkIP("198.51.100.3")).toBe("198.51.100.3");
  expect(moved.authority).toBe(first.authority);
  const later = await certificateFor(folder, [...NAMES, "198.51.100.3"], Date.now() + 370 * DAY);
  expect(later.cert).not.toBe(moved.cert);
  expect(later.authority).toBe(first.authority);
});

test.each([
  ["cut short", (file: string) => truncateSync(file, 40)],
  ["empty", (file: string) => truncateSync(file, 0)],
  ["of something else", (file: string) => writeFileSync(file, "hello")],
])("a file of it %s is made anew, whichever it is", async (_, spoil) => {
  for (const name of ["server.key.pem", "server.cert.pem", "authority.key.pem", "authority.cert.pem"]) {
    await certificateFor(folder, NAMES);
    spoil(join(folder, name));
    const own = await certificateFor(folder, NAMES);
    expect(read(own).checkIP("192.0.2.7")).toBe("192.0.2.7");
    expect(read(own).verify(new X509Certificate(own.authority).publicKey)).toBe(true);
    expect(readFileSync(join(folder, name), "utf8")).toMatch(/^-----BEGIN/);
  }
});
