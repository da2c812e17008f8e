import {
  airConductivity,
  airDensity,
  airSpecificHeat,
  airViscosity,
  saturationPressure,
  standardPressure,
  humidityRatio,
} from "./moistAir";
import { fluidProperties } from "./fluid";
import {
  glycolConductivity,
  glycolDensity,
  glycolFreezingPoint,
  glycolSpecificHeat,
  glycolViscosity,
  waterConductivity,
  waterDensity,
  waterSpecificHeat,
  waterViscosity,
} from "./water";

describe("moist air", () => {
  const sea = (temperatureC: number, relativeHumidity = 0) => ({ temperatureC, pressurePa: 101325, relativeHumidity });

  test("dry air at 20 °C and one atmosphere weighs 1.2041 kg/m³ within the promised 0.1 %", () => {
    expect(Math.abs(airDensity(sea(20)) / 1.2041 - 1)).toBeLessThan(0.001);
  });
  test("moist air is lighter than dry air, colder air heavier", () => {
    for (const t of [-30, 0, 20, 60, 90]) expect(airDensity(sea(t, 0.8))).toBeLessThan(airDensity(sea(t)));
    expect(airDensity(sea(0))).toBeGreaterThan(airDensity(sea(20)));
  });
  test("departs from the ideal mixture by its compressibility only, at most 0.12 %", () => {
    for (const t of [-30, 0, 40, 90])
      for (const p of [70000, 104000]) {
        const ideal = (p * 28.96546e-3) / (8.314472 * (t + 273.15));
        expect(Math.abs(airDensity({ temperatureC: t, pressurePa: p, relativeHumidity: 0 }) / ideal - 1)).toBeLessThan(
          0.0012,
        );
      }
  });
  test("saturation pressure: 611 Pa at 0 °C, 2,339 Pa at 20 °C", () => {
    expect(saturationPressure(0)).toBeCloseTo(611.2, 0);
    expect(saturationPressure(20)).toBeCloseTo(2339, -1);
  });
  test("standard atmosphere: 84,556 Pa at 1,500 m; at 1,120 m air is 13 % thinner", () => {
    expect(standardPressure(1500)).toBeCloseTo(84556, -1);
    expect(standardPressure(1120) / 101325).toBeCloseTo(0.874, 2);
    expect(() => standardPressure(20000)).toThrow(RangeError);
  });
  test("specific heat lies between dry air and vapour", () => {
    expect(airSpecificHeat(sea(20))).toBeCloseTo(1005.8, 0);
    const wet = airSpecificHeat(sea(60, 0.9));
    const w = humidityRatio(sea(60, 0.9));
    expect(wet).toBeCloseTo((1007.2 + w * 1880.8) / (1 + w), 0);
  });
  test("viscosity and conductivity at 20 °C", () => {
    expect(airViscosity(20)).toBeCloseTo(1.813e-5, 7);
    expect(airConductivity(20)).toBeCloseTo(0.0257, 3);
  });
});

describe("water and glycol", () => {
  test("density 997.05 kg/m³ at 25 °C, greatest at 4 °C", () => {
    expect(waterDensity(25)).toBeCloseTo(997.05, 1);
    expect(waterDensity(100)).toBeCloseTo(958.4, 0);
    for (const t of [0, 2, 6, 10]) expect(waterDensity(t)).toBeLessThan(waterDensity(3.98) + 1e-9);
  });
  test("specific heat 4.18 kJ/(kg·K), least near 35 °C", () => {
    expect(waterSpecificHeat(25)).toBeCloseTo(4179.5, -1);
    expect(waterSpecificHeat(100)).toBeCloseTo(4215.9, 0);
    expect(waterSpecificHeat(35)).toBeLessThan(waterSpecificHeat(5));
  });
  test("no glycol is nearly water; more glycol freezes lower, weighs more, holds less", () => {
    expect(glycolDensity(20, 0) / waterDensity(20)).toBeCloseTo(1, 2);
    expect(Math.abs(glycolSpecificHeat(20, 0) / waterSpecificHeat(20) - 1)).toBeLessThan(0.012);
    expect(glycolSpecificHeat(20, 0.3)).toBeCloseTo(3870, -2);
    expect(glycolFreezingPoint(0.3)).toBeCloseTo(-12.9, 0);
    expect(glycolFreezingPoint(0)).toBeCloseTo(0, 6);
    expect(glycolDensity(20, 0.5)).toBeGreaterThan(glycolDensity(20, 0.2));
    expect(glycolSpecificHeat(20, 0.5)).toBeLessThan(glycolSpecificHeat(20, 0.2));
  });
  test("out of range is refused", () => {
    expect(() => waterDensity(150)).toThrow(RangeError);
    expect(() => glycolDensity(-20, 0.2)).toThrow(/freezing/);
    expect(() => glycolFreezingPoint(0.9)).toThrow(RangeError);
  });
});

describe("glycols against published values", () => {
  // Typical of what makers of such mixtures state for 30 and 40 % by volume.
  test.each([
    ["propylene", 0.31, 20, 2.95, 0.453],
    ["propylene", 0.413, 20, 4.8, 0.418],
    ["propylene", 0.31, 60, 0.96, 0.489],
    ["ethylene", 0.327, 20, 2.35, 0.468],
    ["ethylene", 0.43, 20, 3.14, 0.428],
  ] as const)(
    "%s, %f at %i °C: viscosity %f mPa·s, conductivity %f W/(m·K)",
    (glycol, share, t, mPas, conductivity) => {
      expect(Math.abs((1000 * glycolViscosity(t, share, glycol)) / mPas - 1)).toBeLessThan(0.15);
      expect(Math.abs(glycolConductivity(t, share, glycol) / conductivity - 1)).toBeLessThan(0.04);
    },
  );
  test.each(["propylene", "ethylene"] as const)(
    "%s: Prandtl's number as Conde gives it by a formula of its own, within 4 %",
    (glycol) => {
      const prandtl = {
        propylene: [6.66139, -6.9944, -18.55114, 12.0464, 14.47735],
        ethylene: [3.96951, 0.70076, -12.98045, 2.64789, 11.589],
      }[glycol];
      for (const share of [0.2, 0.35, 0.5])
        for (let t = Math.max(-20, glycolFreezingPoint(share, glycol)); t <= 100; t += 20) {
          const r = 273.15 / (t + 273.15);
          const said = Math.exp(
            prandtl[0] + prandtl[1] * share + prandtl[2] * r + prandtl[3] * share * r + prandtl[4] * r * r,
          );
          const own =
            (glycolViscosity(t, share, glycol) * glycolSpecificHeat(t, share, glycol)) /
            glycolConductivity(t, share, glycol);
          expect(Math.abs(own / said - 1)).toBeLessThan(0.04);
        }
    },
  );
  test("thickens all the way down to freezing; a trace of it is nearly water", () => {
    for (const glycol of ["propylene", "ethylene"] as const) {
      for (let t = -15; t < 100; t += 5)
        expect(glycolViscosity(t, 0.4, glycol)).toBeGreaterThan(glycolViscosity(t + 5, 0.4, glycol));
      for (const t of [5, 40, 80]) {
        expect(glycolViscosity(t, 0, glycol)).toBeCloseTo(waterViscosity(t), 12);
        expect(glycolViscosity(t, 0.01, glycol) / waterViscosity(t)).toBeLessThan(1.08);
        expect(glycolConductivity(t, 0.01, glycol) / waterConductivity(t)).toBeGreaterThan(0.97);
      }
    }
    const at = (t: number) => fluidProperties({ kind: "glycol", massFraction: 0.45 }, t, 1e5).viscosity;
    expect(at(-20)).toBeGreaterThan(3 * at(0));
  });
  test("ethylene glycol freezes lower than as much propylene glycol, carries less heat, flows more easily", () => {
    expect(glycolFreezingPoint(0.4, "ethylene")).toBeLessThan(glycolFreezingPoint(0.4));
    expect(glycolSpecificHeat(30, 0.4, "ethylene")).toBeLessThan(glycolSpecificHeat(30, 0.4));
    expect(glycolViscosity(30, 0.4, "ethylene")).toBeLessThan(glycolViscosity(30, 0.4));
  });
  test.each([
    [0, 4219.9],
    [10, 4195.5],
    [20, 4184.4],
    [25, 4181.6],
    [40, 4179.6],
    [80, 4196.9],
  ])("water holds heat at %i °C as IAPWS-95 says, %f J/(kg·K)", (t, said) =>
    expect(Math.abs(waterSpecificHeat(t) - said)).toBeLessThan(0.4),
  );
});
