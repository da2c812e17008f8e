import { panelSpeed } from "./panel";

describe("a fan on its own panel", () => {
  test("runs at full speed where the panel gives what it takes, and never faster", () => {
    for (const tracked of [true, false]) {
      expect(panelSpeed(1, tracked)).toBe(1);
      expect(panelSpeed(0.9999, tracked)).toBeCloseTo(1, 3);
      expect(panelSpeed(3, tracked)).toBe(1);
      expect(panelSpeed(0.09, tracked)).toBe(0);
      expect(panelSpeed(NaN, tracked)).toBe(0);
    }
  });
  test("behind a converter power follows the light: the speed its cube root", () =>
    expect(panelSpeed(0.5, true) ** 3).toBeCloseTo(0.5, 12));
  test("straight on the panel it gives 6 to 10 % less in half the light, 19 to 23 % less in a fifth", () => {
    const less = (light: number) => 1 - panelSpeed(light, false) / panelSpeed(light, true);
    expect(less(0.5)).toBeGreaterThan(0.06);
    expect(less(0.5)).toBeLessThan(0.1);
    expect(less(0.2)).toBeGreaterThan(0.19);
    expect(less(0.2)).toBeLessThan(0.23);
  });
  test("what it takes lies on the panel's curve: never more than the panel can give at best", () => {
    for (let light = 0.1; light <= 1; light += 0.05) {
      const speed = panelSpeed(light, false);
      expect(speed ** 3).toBeLessThanOrEqual(light * 1.001);
      expect(speed).toBeLessThanOrEqual(panelSpeed(light, true) + 1e-9);
      if (light > 0.1) expect(speed).toBeGreaterThan(panelSpeed(light - 0.05, false));
    }
  });
});
