import { Pool, PoolFull, type PoolLimits } from "./pool";

interface Fake {
  no: number;
  end(): void;
  ended: Promise<never>;
}

const made: Fake[] = [];
const LIMITS: PoolLimits = { most: 2, longestMs: 10_000, patienceMs: 50, idleMs: 60, waiting: 8 };
const pool = (over: Partial<PoolLimits> = {}) =>
  new Pool<Fake>(
    (onEnd) => {
      let fail: (error: Error) => void;
      const ended = new Promise<never>((_, reject) => (fail = reject));
      ended.catch(() => undefined);
      const fake = { no: made.length, ended, end: () => (onEnd(), fail(new Error(`worker ${fake.no} ended`))) };
      made.push(fake);
      return fake;
    },
    { ...LIMITS, ...over },
  );
/** A task that lasts until it is let go. */
const held = () => {
  let go = () => {};
  const until = new Promise<void>((resolve) => (go = resolve));
  return { go, work: (w: Fake) => Promise.race([until.then(() => w.no), w.ended]) };
};
const quick = async (w: Fake) => w.no;
const settled = () => new Promise((resolve) => setTimeout(resolve, 5));
beforeEach(() => void made.splice(0));

test("a subject stays with the worker that knows it; another comes only when there is more to do", async () => {
  const p = pool();
  expect([await p.ask("1", quick), await p.ask("2", quick), await p.ask("1", quick)]).toEqual([0, 0, 0]);
  const long = held();
  const first = p.ask("1", long.work);
  expect(await p.ask("3", quick)).toBe(1);
  long.go();
  expect(await first).toBe(0);
  expect(made).toHaveLength(2);
});

test("a short wait is worth the worker that knows the subject; a long one is not", async () => {
  const p = pool();
  await p.ask("1", quick);
  const long = held();
  const first = p.ask("1", long.work);
  const second = p.ask("1", quick);
  await settled();
  expect(made).toHaveLength(1);
  expect(await second).toBe(1);
  long.go();
  expect(await first).toBe(0);
});

test("what takes too long is ended alone: who waits behind it is served by another", async () => {
  const p = pool({ longestMs: 30, most: 1 });
  const never = p.ask("1", held().work);
  const behind = p.ask("2", quick);
  await expect(never).rejects.toThrow("worker 0 ended");
  expect(await behind).toBe(1);
});

test("subjects take turns: one that asks a hundred times keeps nobody waiting for all of them", async () => {
  const p = pool({ most: 1, waiting: 200 });
  const order: string[] = [];
  const note = (key: string) => p.ask(key, async () => void order.push(key));
  const all = Array.from({ length: 100 }, () => note("busy"));
  await Promise.all([...all, note("page")]);
  expect(order.indexOf("page")).toBeLessThan(3);
});

test("more than can wait is refused at once, and what waits is done", async () => {
  const p = pool({ most: 1 });
  const long = held();
  const first = p.ask("1", long.work);
  const waiting = Array.from({ length: 8 }, () => p.ask("2", quick));
  await expect(p.ask("3", quick)).rejects.toThrow(PoolFull);
  long.go();
  expect(await Promise.all([first, ...waiting])).toEqual(Array(9).fill(0));
});

test("a further worker goes when it has nothing to do; the first stays", async () => {
  const p = pool();
  const long = held();
  const first = p.ask("1", long.work);
  await p.ask("2", quick);
  long.go();
  await first;
  await new Promise((resolve) => setTimeout(resolve, 120));
  await expect(made[1].ended).rejects.toThrow("worker 1 ended");
  expect(await p.ask("2", quick)).toBe(0);
  expect(made).toHaveLength(2);
});

test("a task that fails is told so, and the worker goes on", async () => {
  const p = pool();
  await expect(p.ask("1", () => Promise.reject(new Error("no such thing")))).rejects.toThrow("no such thing");
  expect(await p.ask("1", quick)).toBe(0);
});

test("where no worker can be made, the task says so", async () => {
  const p = new Pool<Fake>(() => {
    throw new Error("no memory");
  }, LIMITS);
  await expect(p.ask("1", quick)).rejects.toThrow("no memory");
});
