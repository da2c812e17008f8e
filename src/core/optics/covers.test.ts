import fc from "fast-check";
import { beamModifier, incidenceModifier } from "../sun/clearSky";
import {
  blackPaintRatio,
  CLEAR_GLASS,
  coverOptics,
  groundEquivalentAngle,
  incidenceCoefficient,
  innerReflectance,
  refractionAngle,
  ONE_GLASS,
  skyEquivalentAngle,
  slantedBy,
  surfaceReflectance,
  transmittanceAbsorptance,
  type Cover,
} from "./covers";

const lossless: Cover = { index: 1.526, extinction: 0 };
const cover: fc.Arbitrary<Cover> = fc.record({
  index: fc.double({ min: 1.2, max: 1.8, noNaN: true }),
  extinction: fc.double({ min: 0, max: 0.3, noNaN: true }),
});
const angle = fc.double({ min: 0, max: 89.9, noNaN: true });

describe("one surface", () => {
  test("glass reflects 4.336 % at normal incidence, both polarisations alike", () => {
    const r = surfaceReflectance(0, 1.526);
    expect(r.perpendicular).toBeCloseTo(0.04336, 4);
    expect(r.parallel).toBe(r.perpendicular);
    expect(surfaceReflectance(0.02, 1.526).perpendicular).toBeCloseTo(r.perpendicular, 6);
  });
  test("at Brewster's angle the parallel part is not reflected at all", () => {
    const brewster = (Math.atan(1.526) * 180) / Math.PI;
    expect(surfaceReflectance(brewster, 1.526).parallel).toBeCloseTo(0, 12);
  });
  test("light bends towards the normal, and at grazing everything is reflected", () => {
    expect(refractionAngle(60, 1.526)).toBeCloseTo(34.58, 2);
    expect(surfaceReflectance(90, 1.526)).toEqual({ perpendicular: 1, parallel: 1 });
  });
});

describe("covers", () => {
  test("one glass without absorption passes 0.917, two 0.847: (1−r)/(1+(2N−1)r)", () => {
    const r = 0.04336;
    for (const n of [1, 2, 3])
      expect(coverOptics(Array<Cover>(n).fill(lossless), 0).transmitted).toBeCloseTo(
        (1 - r) / (1 + (2 * n - 1) * r),
        3,
      );
    expect(coverOptics([lossless], 0).transmitted).toBeCloseTo(0.917, 3);
  });
  test("no light is lost or made, whatever the sheets and the angle", () => {
    fc.assert(
      fc.property(fc.array(cover, { minLength: 1, maxLength: 3 }), angle, (covers, incidence) => {
        const o = coverOptics(covers, incidence);
        expect(o.transmitted + o.reflected + o.absorbed).toBeCloseTo(1, 12);
        for (const share of Object.values(o)) {
          expect(share).toBeGreaterThanOrEqual(-1e-12);
          expect(share).toBeLessThanOrEqual(1 + 1e-12);
        }
      }),
    );
  });
  test("sheets without absorption absorb nothing", () => {
    fc.assert(
      fc.property(angle, fc.integer({ min: 1, max: 3 }), (incidence, n) => {
        expect(coverOptics(Array<Cover>(n).fill(lossless), incidence).absorbed).toBeCloseTo(0, 9);
      }),
    );
  });
  test("a further sheet, a thicker sheet or a flatter angle never lets more through", () => {
    fc.assert(
      fc.property(cover, angle, (c, incidence) => {
        const one = coverOptics([c], incidence).transmitted;
        expect(coverOptics([c, c], incidence).transmitted).toBeLessThanOrEqual(one + 1e-12);
        expect(coverOptics([{ ...c, extinction: c.extinction + 0.05 }], incidence).transmitted).toBeLessThan(
          one + 1e-12,
        );
        expect(coverOptics([c], Math.min(90, incidence + 5)).transmitted).toBeLessThanOrEqual(one + 0.003);
      }),
    );
  });
  test("the order of unlike sheets does not change what passes", () => {
    const [a, b] = [lossless, { index: 1.4, extinction: 0 }];
    expect(coverOptics([a, b], 40).transmitted).toBeCloseTo(coverOptics([b, a], 40).transmitted, 12);
  });
  test("no cover passes everything, grazing light nothing, impossible sheets are refused", () => {
    expect(coverOptics([], 70).transmitted).toBe(1);
    expect(coverOptics([CLEAR_GLASS], 90).transmitted).toBe(0);
    expect(() => coverOptics([{ index: 0.5, extinction: 0 }], 0)).toThrow(RangeError);
    expect(() => coverOptics([{ index: 1.5, extinction: -1 }], 0)).toThrow(RangeError);
  });
});

describe("whole collector optics", () => {
  test("light caught again raises τα by about one per cent", () => {
    const tau = coverOptics([CLEAR_GLASS], 0).transmitted;
    const product = transmittanceAbsorptance(tau, 0.9, innerReflectance([CLEAR_GLASS]));
    expect(product / (tau * 0.9)).toBeGreaterThan(1.005);
    expect(product / (tau * 0.9)).toBeLessThan(1.03);
    expect(transmittanceAbsorptance(tau, 1, 0.2)).toBeCloseTo(tau, 12);
  });
  test("b0 lies between 0.1 and 0.18 for one glass, higher for two, lower for none", () => {
    const [none, one, two] = [[], [CLEAR_GLASS], [CLEAR_GLASS, CLEAR_GLASS]].map(incidenceCoefficient);
    expect(one).toBeGreaterThan(0.1);
    expect(one).toBeLessThan(0.18);
    expect(two).toBeGreaterThan(one);
    expect(none).toBeLessThan(one);
    expect(none).toBeGreaterThan(0);
  });
  test("black paint absorbs as at normal incidence up to 30°, then less and less", () => {
    expect(blackPaintRatio(0)).toBe(1);
    for (const angle of [10, 20, 30]) expect(blackPaintRatio(angle)).toBeCloseTo(1, 1);
    expect(blackPaintRatio(75)).toBeLessThan(blackPaintRatio(60));
    expect(blackPaintRatio(60)).toBeLessThan(blackPaintRatio(40));
  });
  test("sky light counts at about 57 to 60°, ground light at 60 to 90°", () => {
    for (const tilt of [0, 30, 55, 90]) {
      expect(skyEquivalentAngle(tilt)).toBeGreaterThan(55);
      expect(skyEquivalentAngle(tilt)).toBeLessThan(61);
      expect(groundEquivalentAngle(tilt)).toBeGreaterThan(58);
      expect(groundEquivalentAngle(tilt)).toBeLessThanOrEqual(90);
    }
  });
});

describe("light beyond 60°", () => {
  // Held against the optics themselves, which incidenceModifier stands for.
  const pane = (sheets: number) => Array<Cover>(sheets).fill(CLEAR_GLASS);
  test.each([
    [0, [0.9, 0.85, 0.77]],
    [1, [0.78, 0.67, 0.51]],
    [2, [0.735, 0.6, 0.423]],
  ])("%i sheets of clear glass over paint pass what Fresnel's formulas say at 65, 70 and 75°", (sheets, said) => {
    const [b0, slanted] = [incidenceCoefficient(pane(sheets)), slantedBy(pane(sheets))];
    [65, 70, 75].forEach((angle, i) => {
      const exactly =
        (coverOptics(pane(sheets), angle).transmitted * blackPaintRatio(angle)) /
        coverOptics(pane(sheets), 0).transmitted;
      expect(incidenceModifier(angle, b0, slanted)).toBeCloseTo(exactly, 2);
      expect(incidenceModifier(angle, b0, slanted)).toBeCloseTo(said[i], 1.8);
    });
  });
  test("between the angles it falls without a step, to nothing at 90°", () => {
    for (const sheets of [0, 1, 2, 3])
      for (let angle = 59; angle < 90; angle += 0.5) {
        const at = (a: number) => incidenceModifier(a, 0.13, slantedBy(pane(sheets)));
        expect(at(angle + 0.5)).toBeLessThanOrEqual(at(angle));
        expect(at(angle) - at(angle + 0.5)).toBeLessThan(0.05);
      }
    expect(incidenceModifier(90, 0.13)).toBe(0);
  });
  test("where nobody knows the covers, as one clear glass", () => {
    expect(ONE_GLASS).toEqual(slantedBy([CLEAR_GLASS]));
    expect(incidenceModifier(72, 0.1)).toBe(incidenceModifier(72, 0.1, slantedBy([CLEAR_GLASS])));
  });
  test("round bodies that shade each other keep their gain across, up to the horizon", () => {
    const parts = { along: 10, across: 80 };
    const K = beamModifier(80, { b0: 0, b0Across: -0.4 }, parts);
    expect(K).toBeCloseTo(1.4, 6);
  });
});
