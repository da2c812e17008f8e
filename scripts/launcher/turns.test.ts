import { opensStream, Turns } from "./turns";

test("only a stream of the live bench waits its turn", () => {
  expect(opensStream("/api/experiments/7/live")).toBe(true);
  expect(opensStream("/api/experiments/7/live?x=1")).toBe(true);
  expect(opensStream("/api/experiments/7/live?once")).toBe(false);
  expect(opensStream("/api/experiments/7/live?x=1&once=1")).toBe(false);
  expect(opensStream("/api/experiments/7/lively")).toBe(false);
  expect(opensStream("/api/health")).toBe(false);
});

describe("turns", () => {
  beforeEach(() => void jest.useFakeTimers());
  afterEach(() => void jest.useRealTimers());
  const stays = () => false;

  test("the first goes in at once, the others one by one and in order", () => {
    const turns = new Turns(10, 100);
    const done: number[] = [];
    for (let i = 0; i < 4; i++) turns.take(() => done.push(i), stays);
    expect(done).toEqual([0]);
    jest.advanceTimersByTime(10);
    expect(done).toEqual([0, 1]);
    jest.advanceTimersByTime(20);
    expect(done).toEqual([0, 1, 2, 3]);
    jest.advanceTimersByTime(100);
    turns.take(() => done.push(4), stays);
    expect(done).toEqual([0, 1, 2, 3, 4]);
  });

  test("who has left costs nobody a turn", () => {
    const turns = new Turns(10, 100);
    const done: string[] = [];
    turns.take(() => done.push("first"), stays);
    turns.take(
      () => done.push("left"),
      () => true,
    );
    turns.take(() => done.push("second"), stays);
    jest.advanceTimersByTime(10);
    expect(done).toEqual(["first", "second"]);
  });

  test("more than may wait are refused", () => {
    const turns = new Turns(10, 2);
    const taken = Array.from({ length: 4 }, () => turns.take(() => undefined, stays));
    expect(taken).toEqual([true, true, true, false]);
  });
});
