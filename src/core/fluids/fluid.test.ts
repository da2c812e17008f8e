import fc from "fast-check";
import { density, FLUID_KINDS, fluidOf, fluidProperties, freezingPoint, sameFluid, specificHeat } from "./fluid";
import { airDensity } from "./moistAir";
import { glycolSpecificHeat, waterDensity, waterSpecificHeat } from "./water";

const state = (temperatureC: number) => ({ temperatureC, pressurePa: 90000, relativeHumidity: 0.4 });

describe("one fluid for design, run, judge and season", () => {
  test("each kind has its own density and specific heat", () => {
    expect(density({ kind: "air" }, state(20))).toBe(airDensity(state(20)));
    expect(density({ kind: "water" }, state(40))).toBe(waterDensity(40));
    expect(specificHeat({ kind: "water" }, state(40))).toBe(waterSpecificHeat(40));
    expect(specificHeat(fluidOf("glycol"), state(40))).toBe(glycolSpecificHeat(40, 0.35));
  });
  test("a third of glycol carries 7 to 10 % less heat per litre and kelvin than water", () => {
    const capacity = (kind: "water" | "glycol") =>
      density(fluidOf(kind), state(45)) * specificHeat(fluidOf(kind), state(45));
    const share = 1 - capacity("glycol") / capacity("water");
    expect(share).toBeGreaterThan(0.05);
    expect(share).toBeLessThan(0.11);
  });
  test("glycol freezes lower the more there is of it, water at 0, air never", () => {
    expect(freezingPoint({ kind: "air" })).toBeNull();
    expect(freezingPoint({ kind: "water" })).toBeCloseTo(0, 9);
    expect(freezingPoint({ kind: "glycol", massFraction: 0.4 })!).toBeLessThan(freezingPoint(fluidOf("glycol"))!);
  });
  test("two glycols are the same when their shares are", () => {
    expect(sameFluid(fluidOf("glycol"), { kind: "glycol", massFraction: 0.35 })).toBe(true);
    expect(sameFluid(fluidOf("glycol"), { kind: "glycol", massFraction: 0.3 })).toBe(false);
    expect(sameFluid(fluidOf("water"), fluidOf("air"))).toBe(false);
  });
  test("the model's properties stay finite and positive whatever the solver tries on its way", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...FLUID_KINDS),
        fc.double({ min: -200, max: 900, noNaN: true }),
        fc.double({ min: 60000, max: 105000, noNaN: true }),
        (kind, t, p) => {
          for (const v of Object.values(fluidProperties(fluidOf(kind), t, p)))
            expect(v > 0 && Number.isFinite(v)).toBe(true);
        },
      ),
    );
  });
});
