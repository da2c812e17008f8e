import { rateOnGrid } from "./counter";

const MINUTE = 60000;
const grid = { startMs: 0, stepMs: MINUTE, count: 60 };
/** A meter that passes `flow` L/min and shows whole `step`s, read each ten seconds. */
function counter(flow: (minute: number) => number, step: number) {
  const times: number[] = [];
  const values: number[] = [];
  let sum = 0.3 * step;
  for (let s = 0; s <= 3600; s += 10) {
    times.push(s * 1000);
    values.push(Math.floor(sum / step) * step);
    sum += flow(s / 60) / 6;
  }
  return { times, values };
}
const rate = ({ times, values }: ReturnType<typeof counter>) =>
  [...rateOnGrid(times, values, null, grid)].map((v) => 60 * v);

describe("how fast a counter counts", () => {
  test.each([0.1, 1, 5])("a steady flow is steady, whatever a click is (%s L)", (step) => {
    const known = rate(counter(() => 2, step)).filter((v) => !Number.isNaN(v));
    expect(known.length).toBeGreaterThan(50);
    for (const v of known.slice(2, -4)) expect(v).toBeCloseTo(2, step > 1 ? 0 : 1);
  });
  test("a pump that stops is a flow of nothing, not of its last", () => {
    const stopped = rate(counter((m) => (m < 30 ? 2 : 0), 0.1));
    expect(stopped[20]).toBeCloseTo(2, 1);
    expect(stopped[45]).toBe(0);
  });
  test("what was counted in all is kept", () => {
    const { times, values } = counter((m) => 2 + Math.sin(m / 7), 0.01);
    const got = rateOnGrid(times, values, null, grid);
    const sum = got.reduce((s, v) => s + (Number.isNaN(v) ? 0 : v * 60), 0);
    expect(sum).toBeGreaterThan(0.98 * (values[values.length - 1] - values[0]));
    expect(sum).toBeLessThan(1.02 * (values[values.length - 1] - values[0]));
  });
  test("a counter that was reset is unknown there, and no river backwards", () => {
    const { times, values } = counter(() => 2, 0.1);
    const reset = values.map((v, i) => (i > 180 ? v - values[181] : v));
    const got = rate({ times, values: reset });
    for (const v of got) expect(Number.isNaN(v) || v >= 0).toBe(true);
    expect(got[20]).toBeCloseTo(2, 1);
    expect(got[45]).toBeCloseTo(2, 1);
  });
  test("readings left out are bridged; nothing logged is nothing known", () => {
    const { times, values } = counter(() => 2, 0.1);
    const codes = Uint8Array.from(times, (_, i) => (i % 3 ? 1 : 0));
    expect(60 * rateOnGrid(times, values, codes, grid)[20]).toBeCloseTo(2, 1);
    expect(rateOnGrid([], [], null, grid).every(Number.isNaN)).toBe(true);
  });
});
