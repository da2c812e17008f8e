import { warmedHumidity } from "../fluids/moistAir";
import { ductArea } from "./duct";

test("a 6 in round duct has 0.018241 m²", () => {
  expect(ductArea({ kind: "round", diameterM: 6 * 0.0254 })).toBeCloseTo(0.018241, 6);
  expect(ductArea({ kind: "rectangular", widthM: 0.2, heightM: 0.1 })).toBeCloseTo(0.02, 12);
  expect(() => ductArea({ kind: "round", diameterM: 0 })).toThrow(RangeError);
});

test("air warmed from 10 to 40 °C keeps its vapour and loses relative humidity to a sixth", () => {
  expect(warmedHumidity(0.6, 10, 40)).toBeCloseTo(0.1, 2);
  expect(warmedHumidity(0.6, 10, 10)).toBeCloseTo(0.6, 12);
  expect(warmedHumidity(0.9, 20, 5)).toBe(1);
});
