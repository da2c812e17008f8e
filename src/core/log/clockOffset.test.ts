import { seededRandom } from "../random/seededRandom";
import { clockOffsetOf, type Signal } from "./clockOffset";

/** A sun with clouds that come and go over minutes, and what two loggers make of it. */
function cloudy(seed: number, hours = 6) {
  const random = seededRandom(seed);
  const light: number[] = [];
  let cloud = 0;
  for (let s = 0; s < hours * 3600; s += 5) {
    cloud += -cloud / 60 + 0.13 * random.normal();
    light.push(700 + 150 * Math.sin(s / 7000) - 300 * Math.max(0, cloud));
  }
  const at = (seconds: number) => light[Math.max(0, Math.min(light.length - 1, Math.round(seconds / 5)))];
  return (stepS: number, slowS: number, noise: number): Signal => {
    const n = Math.floor((hours * 3600) / stepS);
    const times = Float64Array.from({ length: n }, (_, i) => (i * stepS - slowS) * 1000);
    return { times, values: Float64Array.from({ length: n }, (_, i) => at(i * stepS) + noise * random.normal()) };
  };
}

test.each([0, 47, 210, -1830, 3600])("a clock that is slow by %d s is found, within its ±", (slow) => {
  const see = cloudy(11);
  const found = clockOffsetOf(see(10, 0, 5), see(10, slow, 5))!;
  expect(found.correlation).toBeGreaterThan(0.8);
  expect(Math.abs(found.offsetMs / 1000 - slow)).toBeLessThan(3 * (found.standardMs / 1000));
  expect(found.standardMs).toBeLessThan(20000);
});

test("loggers of different pace agree to a part of the slower one's step", () => {
  const see = cloudy(12);
  const found = clockOffsetOf(see(10, 0, 5), see(60, 300, 5))!;
  expect(Math.abs(found.offsetMs / 1000 - 300)).toBeLessThan(3 * (found.standardMs / 1000));
  expect(found.standardMs).toBeLessThan(60000);
});

test("its ± holds what it promises", () => {
  let held = 0;
  for (let seed = 0; seed < 40; seed++) {
    const see = cloudy(seed + 100, 4);
    const slow = 20 * seed - 400;
    const found = clockOffsetOf(see(10, 0, 40), see(20, slow, 40));
    if (!found || Math.abs(found.offsetMs / 1000 - slow) < 2.2 * (found.standardMs / 1000)) held++;
  }
  expect(held).toBeGreaterThanOrEqual(37);
});

test("signals with nothing in common, a cloudless day or a few readings tell nothing", () => {
  const noise = (seed: number): Signal => {
    const random = seededRandom(seed);
    return {
      times: Float64Array.from({ length: 2000 }, (_, i) => i * 10000),
      values: Float64Array.from({ length: 2000 }, () => random.normal()),
    };
  };
  expect(clockOffsetOf(noise(1), noise(2))).toBeNull();
  const smooth = (phase: number): Signal => ({
    times: Float64Array.from({ length: 2000 }, (_, i) => i * 10000),
    values: Float64Array.from({ length: 2000 }, (_, i) => Math.sin(i / 900 + phase)),
  });
  expect(clockOffsetOf(smooth(0), smooth(0.1))).toBeNull();
  expect(clockOffsetOf({ times: [0, 1], values: [1, 2] }, noise(1))).toBeNull();
});
