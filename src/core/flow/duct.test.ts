import { standardPressure, warmedHumidity } from "../fluids/moistAir";
import { ductArea, ductMassFlow } from "./duct";

test("a 6 in round duct has 0.018241 m²", () => {
  expect(ductArea({ kind: "round", diameterM: 6 * 0.0254 })).toBeCloseTo(0.018241, 6);
  expect(ductArea({ kind: "rectangular", widthM: 0.2, heightM: 0.1 })).toBeCloseTo(0.02, 12);
  expect(() => ductArea({ kind: "round", diameterM: 0 })).toThrow(RangeError);
});

test("the same speed carries 13 % less air on the hill, and less again when the meter stands in the warm stream", () => {
  const flow = (temperatureC: number, altitude: number) =>
    ductMassFlow(3, 0.0182, 0.86, { temperatureC, pressurePa: standardPressure(altitude), relativeHumidity: 0.3 });
  expect(flow(15, 1120) / flow(15, 0)).toBeCloseTo(0.874, 2);
  expect(flow(45, 1120) / flow(15, 1120)).toBeCloseTo(288.15 / 318.15, 1);
  expect(flow(15, 0)).toBeGreaterThan(0);
  expect(ductMassFlow(-3, 0.0182, 0.86, { temperatureC: 15, pressurePa: 1e5, relativeHumidity: 0.3 })).toBeLessThan(0);
});

test("air warmed from 10 to 40 °C keeps its vapour and loses relative humidity to a sixth", () => {
  expect(warmedHumidity(0.6, 10, 40)).toBeCloseTo(0.1, 2);
  expect(warmedHumidity(0.6, 10, 10)).toBeCloseTo(0.6, 12);
  expect(warmedHumidity(0.9, 20, 5)).toBe(1);
});
