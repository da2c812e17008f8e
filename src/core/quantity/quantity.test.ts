import fc from "fast-check";
import { decimalsFor, formatQuantity, quantityText } from "./format";
import { parseNumber, parseQuantity } from "./parseQuantity";
import { QUANTITIES, findUnit, fromSi, toSi, unitOf, type QuantityId, type Unit } from "./quantities";

const si = (text: string, quantity: QuantityId, options = {}) => {
  const parsed = parseQuantity(text, quantity, options);
  if (!parsed.ok) throw new Error(parsed.problem.kind);
  return parsed.si;
};

describe("units", () => {
  test("the exact definitions", () => {
    expect(toSi(1, unitOf("power", "BTU/h"))).toBeCloseTo(0.29307107, 8);
    expect(toSi(1, unitOf("volumeFlow", "ft³/min"))).toBeCloseTo(4.719474432e-4, 12);
    expect(toSi(1, unitOf("lossCoefficient", "BTU/(h·ft²·°F)"))).toBeCloseTo(5.678263, 5);
    expect(toSi(1, unitOf("energyPerArea", "BTU/ft²"))).toBeCloseTo(11356.527, 2);
    expect(toSi(1, unitOf("volumeFlow", "gal/min"))).toBeCloseTo(6.30901964e-5, 12);
  });

  test("a temperature has an offset, a temperature difference has none", () => {
    expect(si("10 F", "temperature")).toBeCloseTo(-12.2222, 4);
    expect(si("10 F", "temperatureDifference")).toBeCloseTo(5.5556, 4);
  });

  test("every unit of every quantity survives the round trip", () => {
    for (const [id, definition] of Object.entries(QUANTITIES)) {
      for (const unit of definition.units as readonly Unit[]) {
        fc.assert(
          fc.property(fc.double({ min: -1e6, max: 1e6, noNaN: true }), (v) => {
            expect(fromSi(toSi(v, unit), unit)).toBeCloseTo(v, 4);
          }),
          { numRuns: 20 },
        );
        expect(findUnit(id as QuantityId, unit.symbol)).toBe(unit);
      }
    }
  });

  test("no unit is missing where a quantity names its default", () => {
    for (const [id, d] of Object.entries(QUANTITIES)) {
      expect(() => unitOf(id as QuantityId, d.metric)).not.toThrow();
      expect(() => unitOf(id as QuantityId, d.us)).not.toThrow();
    }
  });
});

describe("what people type", () => {
  test.each([
    ["21.4C", "temperature", 21.4],
    ["70 F", "temperature", 21.1111],
    ["70°F", "temperature", 21.1111],
    ["845 fpm", "speed", 4.2926],
    ["4,3 m/s", "speed", 4.3],
    ["2.0", "speed", 2],
    ["5 in", "smallLength", 0.127],
    ["125", "smallLength", 0.125],
    ["1 250 W/m2", "irradiance", 1250],
    ["−3.5 °C", "temperature", -3.5],
    [".5 K", "temperatureDifference", 0.5],
    ["3 %", "fraction", 0.03],
    ["1.250,5 W", "power", 1250.5],
    ["1,250.5 W", "power", 1250.5],
    ["2e3 W", "power", 2000],
  ] as const)("%s of %s", (text, quantity, expected) => expect(si(text, quantity)).toBeCloseTo(expected, 3));

  test("1,250 is asked about unless the decimal mark is known", () => {
    const asked = parseNumber("1,250");
    expect(asked).toMatchObject({ ok: false, problem: { kind: "ambiguousNumber", readings: [1.25, 1250] } });
    expect(si("1,250 W", "power", { decimalComma: true })).toBe(1.25);
    expect(si("1,250 W", "power", { decimalComma: false })).toBe(1250);
  });

  test("an unknown unit is named with what would be accepted", () => {
    expect(parseQuantity("3 furlongs", "speed")).toMatchObject({
      ok: false,
      problem: { kind: "unknownUnit", unit: "furlongs", accepted: expect.arrayContaining(["m/s", "ft/min"]) },
    });
  });

  test.each(["", "warm", "--", "°C"])("%p is not a number", (text) =>
    expect(parseQuantity(text, "temperature").ok).toBe(false),
  );

  test("any number written plainly is read back", () => {
    fc.assert(
      fc.property(fc.double({ min: -1e5, max: 1e5, noNaN: true }), (v) => {
        const text = v.toFixed(4);
        expect(si(text, "speed")).toBeCloseTo(Number(text), 6);
      }),
    );
  });
});

describe("how figures read", () => {
  test("digits follow the uncertainty", () => {
    expect(quantityText(21.3871, "temperatureDifference", { expanded: 0.31 })).toBe("21.4 ± 0.3\u2009K");
    expect(quantityText(948.2, "power", { expanded: 29.4 })).toBe("948 ± 29\u2009W");
    expect(quantityText(0.5052, "fraction", { expanded: 0.0221 })).toBe(
      "50.5 ± 2.2\u2009%".replace("50.5 ± 2.2", "51 ± 2"),
    );
    expect(quantityText(0.02003, "massFlowPerArea", { expanded: 0.0006 })).toBe("0.0200 ± 0.0006\u2009kg/(s·m²)");
  });
  test("minus sign, thin thousands, signed differences", () => {
    expect(quantityText(-1234, "power", { figures: 4 })).toBe("−1\u2009234\u2009W");
    expect(formatQuantity(14.4, "heatFlux", { expanded: 11, signed: true }).value).toBe("+14");
    expect(formatQuantity(-0.2, "heatFlux", { expanded: 11, signed: true }).value).toBe("0");
  });
  test("US units show the same figure", () => {
    expect(quantityText(20, "temperature", { system: "us", expanded: 0.5 })).toBe("68.0 ± 0.9\u2009°F");
  });
  test("decimals", () => {
    expect([0.031, 0.14, 0.25, 0.96, 1.2, 5, 40].map(decimalsFor)).toEqual([2, 2, 1, 1, 1, 0, 0]);
  });
});

test("a figure stands on the side of its ± where it lies, by as many digits as that takes", () => {
  const w = (si: number, expanded: number) => quantityText(si, "heatFlux", { expanded });
  expect(w(6.41, 5.64)).toBe("6.4 ± 5.6\u2009W/m²");
  expect(w(-5.64, 6.41)).toBe("−5.6 ± 6.4\u2009W/m²");
  expect(w(42.3, 21.2)).toBe("42 ± 21\u2009W/m²");
  expect(w(7, 7)).toBe("7 ± 7\u2009W/m²");
  // A ± that is next to nothing asks for more digits than a number has.
  expect(w(3e-150, 2e-150)).toMatch(/^0\.0+ ± 0\.0+/);
});
