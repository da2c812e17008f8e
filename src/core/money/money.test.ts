import fc from "fast-check";
import { moneyBand, presentWorth, worthOf, type Investment } from "./money";

const PLAIN: Investment = {
  first: 1000,
  renewals: [],
  usefulKwh: 1000,
  usefulSd: 0,
  fanKwh: 0,
  fuelPrice: 0.2,
  electricityPrice: 0.3,
  fuelEfficiency: 1,
  upkeep: 0,
  lifeYears: 20,
  interest: 0.05,
  priceRise: 0,
};
const CERTAIN = { price: 0, cost: 0, life: 0, use: 0 };

describe("present worth", () => {
  test("is the annuity's closed form, with rising payments too", () => {
    expect(presentWorth(20, 0.05)).toBeCloseTo((1 - 1.05 ** -20) / 0.05, 12);
    let sum = 0;
    for (let y = 1; y <= 12; y++) sum += 1.03 ** (y - 1) / 1.07 ** y;
    expect(presentWorth(12, 0.07, 0.03)).toBeCloseTo(sum, 12);
    expect(presentWorth(10, 0)).toBe(10);
    expect(presentWorth(10, 0.04, 0.04)).toBeCloseTo(10 / 1.04, 12);
  });
});

describe("what it is worth", () => {
  test("by hand: payback, net present value, cost of a kilowatt-hour", () => {
    const w = worthOf(PLAIN);
    const annuity = presentWorth(20, 0.05);
    expect(w.saving).toBeCloseTo(200, 9);
    expect(w.payback).toBeCloseTo(5, 9);
    expect(w.netPresentValue).toBeCloseTo(200 * annuity - 1000, 6);
    expect(w.costPerKwh).toBeCloseTo(1000 / (1000 * annuity), 9);
  });
  test("discounted payback lies where the sums meet", () => {
    const w = worthOf(PLAIN);
    const n = w.discountedPayback!;
    expect(n).toBeGreaterThan(5);
    const whole = Math.floor(n);
    const upTo = (years: number) => 200 * presentWorth(years, 0.05);
    expect(upTo(whole)).toBeLessThanOrEqual(1000);
    expect(upTo(whole + 1)).toBeGreaterThan(1000);
    expect(worthOf({ ...PLAIN, fuelPrice: 0.01 }).discountedPayback).toBeNull();
  });
  test("renewals fall due within the life and not at its end", () => {
    const w = worthOf({ ...PLAIN, interest: 0, renewals: [{ cost: 100, everyYears: 5 }] });
    expect(w.netPresentValue).toBeCloseTo(200 * 20 - 1000 - 300, 9);
  });
  test("payback counts what falls due: what is worth less than nothing pays at no time", () => {
    const often = { ...PLAIN, interest: 0, renewals: [{ cost: 950, everyYears: 5 }] };
    // 200 a year never catches up with 950 every five years after the first thousand.
    expect(worthOf(often).netPresentValue).toBeCloseTo(4000 - 1000 - 2850, 9);
    expect(worthOf(often).payback).toBeCloseTo(19.25, 9);
    expect(worthOf({ ...often, renewals: [{ cost: 1100, everyYears: 5 }] }).payback).toBeNull();
    // Renewals between whole years count when they fall due.
    const half = worthOf({
      ...PLAIN,
      interest: 0,
      first: 100,
      lifeYears: 3,
      renewals: [{ cost: 150, everyYears: 0.5 }],
    });
    expect(half.payback).toBeNull();
    expect(half.netPresentValue).toBeCloseTo(600 - 100 - 750, 9);
  });
  test("discounted payback is there exactly where the worth is above nothing, whatever falls due", () =>
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 5000, noNaN: true }),
        fc.double({ min: 0.3, max: 30, noNaN: true }),
        fc.integer({ min: 1, max: 40 }),
        fc.double({ min: 0, max: 0.12, noNaN: true }),
        fc.double({ min: 0, max: 0.06, noNaN: true }),
        (first, everyYears, lifeYears, interest, priceRise) => {
          const i = { ...PLAIN, first, lifeYears, interest, priceRise, renewals: [{ cost: 180, everyYears }] };
          const w = worthOf(i);
          if (Math.abs(w.netPresentValue) < 1e-6) return;
          if (interest > 0) expect(w.discountedPayback !== null).toBe(w.netPresentValue > 0);
          if (w.discountedPayback !== null) expect(w.discountedPayback).toBeLessThanOrEqual(lifeYears);
        },
      ),
    ));
  test("fuel's efficiency, fan and upkeep count", () => {
    const w = worthOf({ ...PLAIN, fuelEfficiency: 0.8, fanKwh: 50, upkeep: 20 });
    expect(w.saving).toBeCloseTo((1000 / 0.8) * 0.2 - 15 - 20, 9);
    expect(worthOf({ ...PLAIN, usefulKwh: 10, upkeep: 50 }).payback).toBeNull();
    expect(worthOf({ ...PLAIN, usefulKwh: 0 }).costPerKwh).toBeNull();
  });
  test("what cannot be is refused", () => {
    expect(() => worthOf({ ...PLAIN, fuelPrice: -0.1 })).toThrow(/negative/);
    expect(() => worthOf({ ...PLAIN, lifeYears: 0 })).toThrow(/life/);
    expect(() => worthOf({ ...PLAIN, fuelEfficiency: 0 })).toThrow(/efficiency/);
  });
  test("dearer fuel is never worth less, a dearer box never more", () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 2, noNaN: true }),
        fc.double({ min: 1, max: 1e5, noNaN: true }),
        (price, first) => {
          const at = (p: number, f: number) => worthOf({ ...PLAIN, fuelPrice: p, first: f }).netPresentValue;
          expect(at(price * 1.1, first)).toBeGreaterThan(at(price, first));
          expect(at(price, first * 1.1)).toBeLessThan(at(price, first));
        },
      ),
    );
  });
});

describe("the band", () => {
  test("without doubt it is a line", () => {
    const band = moneyBand(PLAIN, CERTAIN, 200);
    expect(band.payback).toEqual([5, 5, 5].map((v) => expect.closeTo(v, 9)));
    expect(band.pays).toBe(1);
  });
  test("useful heat's ± goes through: payback's quantiles are those of first over saving", () => {
    const band = moneyBand({ ...PLAIN, usefulSd: 100 }, CERTAIN, 20000);
    expect(band.payback[0]!).toBeCloseTo(1000 / (0.2 * (1000 + 196)), 1);
    expect(band.payback[2]!).toBeCloseTo(1000 / (0.2 * (1000 - 196)), 1);
    expect(band.netPresentValue[1]).toBeCloseTo(worthOf(PLAIN).netPresentValue, -2);
  });
  test("the same seed draws the same; some may never pay", () => {
    const doubt = { price: 0.3, cost: 0.2, life: 0.2, use: 0.3 };
    expect(moneyBand(PLAIN, doubt, 500, 4)).toEqual(moneyBand(PLAIN, doubt, 500, 4));
    const poor = moneyBand({ ...PLAIN, usefulKwh: 100, usefulSd: 30, upkeep: 18 }, doubt, 2000);
    expect(poor.payback[2]).toBeNull();
    expect(poor.pays).toBeLessThan(0.05);
  });
});
