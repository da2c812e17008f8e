import { spawn } from "node:child_process";
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { rotate } from "./database";
import { HomeLock } from "./lock";
import { describe as described, end, isAlive, type Owned } from "./owned";
import { untilFree } from "./packages";
import { isDiskFull, LaunchError } from "./progress";
import { Restarts } from "./restarts";
import { isDamagedBuild } from "./web";

const homes: string[] = [];
const home = () => {
  homes.push(mkdtempSync(join(tmpdir(), "bravel-lock-")));
  return homes[homes.length - 1];
};
const sleeper = () => spawn(process.execPath, ["-e", "setTimeout(() => {}, 60000)"], { stdio: "ignore" });
const known = (pid: number | undefined): Owned => described(pid!)!;
let log: jest.SpyInstance;
beforeEach(() => void (log = jest.spyOn(console, "log").mockImplementation(() => undefined)));
afterEach(() => log.mockRestore());
afterAll(() => homes.forEach((h) => rmSync(h, { recursive: true, force: true })));

describe("a process", () => {
  test("is known by when it began, not by its number", async () => {
    const child = sleeper();
    const owned = known(child.pid);
    expect(isAlive(owned)).toBe(true);
    // The same number, begun at another time: somebody else's.
    const stranger = { ...owned, began: `${owned.began}9` };
    await end(stranger, 200);
    expect(isAlive(owned)).toBe(true);
    await end(owned);
    expect(isAlive(owned)).toBe(false);
    expect(described(process.pid)!.command).toMatch(/jest/);
  });

  test("that does not go is ended by force", async () => {
    const child = spawn(process.execPath, [
      "-e",
      "process.on('SIGTERM', () => {}); console.log('up'); setTimeout(() => {}, 60000)",
    ]);
    await new Promise((done) => child.stdout.once("data", done));
    const owned = known(child.pid);
    await end(owned, 200);
    expect(isAlive(owned)).toBe(false);
  });
});

describe("a home's lock", () => {
  const write = (at: string, kept: unknown) => writeFileSync(join(at, "running.json"), JSON.stringify(kept));

  test("is refused while its Bravel lives, and says where it answers", async () => {
    const at = home();
    const other = sleeper();
    write(at, { self: known(other.pid), started: [], address: "http://127.0.0.1:4310" });
    await expect(HomeLock.take(at)).rejects.toThrow(/already runs .* at http:\/\/127\.0\.0\.1:4310 \(process \d+\)/);
    other.kill("SIGKILL");
  });

  test("of a killed one is taken over, and what it left running is ended", async () => {
    const at = home();
    const orphan = sleeper();
    const owned = known(orphan.pid);
    write(at, { self: { pid: 1, began: "another boot", command: "" }, started: [owned] });
    const lock = await HomeLock.take(at);
    expect(isAlive(owned)).toBe(false);
    lock.release();
    expect(existsSync(join(at, "running.json"))).toBe(false);
  });

  test.each(["", "{", "[]", '{"pid":1,"webPid":1}', "null"])(
    "a file of %j blocks nothing and ends nobody",
    async (text) => {
      const at = home();
      writeFileSync(join(at, "running.json"), text);
      const lock = await HomeLock.take(at);
      lock.started(process.pid, "http://127.0.0.1:1");
      expect(JSON.parse(readFileSync(join(at, "running.json"), "utf8"))).toMatchObject({
        pid: process.pid,
        address: "http://127.0.0.1:1",
        started: [{ pid: process.pid }],
      });
      lock.release();
    },
  );
});

describe("starting again", () => {
  test("a few times within a while, after growing pauses; then no more, until the while is over", async () => {
    let now = 0;
    const pauses: number[] = [];
    const restarts = new Restarts(
      3,
      60_000,
      () => now,
      async (ms) => void pauses.push(ms),
    );
    const tried: boolean[] = [];
    for (let i = 0; i < 4; i++) tried.push(await restarts.next());
    expect(tried).toEqual([true, true, true, false]);
    expect(pauses).toEqual([1000, 2000, 4000]);
    now = 61_000;
    expect(await restarts.next()).toBe(true);
  });
});

describe("other programs and disks", () => {
  test("an installer that is busy is waited for, saying so; another failure is not", async () => {
    const said: string[] = [];
    const answers = [
      { code: 100, output: "E: Could not get lock /var/lib/dpkg/lock-frontend. It is held by process 12 (apt)" },
      { code: 0, output: "" },
    ];
    const note = (text: string) => void said.push(text);
    expect(
      await untilFree(
        async () => answers.shift()!,
        note,
        async () => undefined,
      ),
    ).toMatchObject({ code: 0 });
    expect(said).toEqual(["waiting: another program is installing packages"]);
    const broken = { code: 100, output: "E: Unable to locate package" };
    expect(
      await untilFree(
        async () => broken,
        note,
        async () => undefined,
      ),
    ).toBe(broken);
    expect(said).toHaveLength(1);
  });

  test.each([
    [Object.assign(new Error("write"), { code: "ENOSPC" }), true],
    [new LaunchError("building failed: ENOSPC: no space left on device, write"), true],
    [new Error("InnoDB: Error number 28 means 'No space left on device'"), true],
    [new Error("connect ECONNREFUSED"), false],
    [null, false],
  ])("%s is a full disk: %s", (error, full) => expect(isDiskFull(error)).toBe(full));

  test.each([
    ["the application ended while starting:\nError: Cannot find module './chunks/1.js'", true],
    ["the application did not answer at http://127.0.0.1:4310 within two minutes.", true],
    ["port 4310 is taken", false],
  ])("%j is a damaged build: %s", (message, damaged) => expect(isDamagedBuild(new Error(message))).toBe(damaged));

  test("a log that has grown begins anew, and the one before is kept", () => {
    const file = join(home(), "mariadb.log");
    writeFileSync(file, "x".repeat(100));
    rotate(file);
    expect(existsSync(`${file}.1`)).toBe(false);
    writeFileSync(file, "x".repeat(6 * 1024 * 1024));
    rotate(file);
    expect([existsSync(file), existsSync(`${file}.1`)]).toEqual([false, true]);
    rotate(join(file, "nowhere"));
  });
});
