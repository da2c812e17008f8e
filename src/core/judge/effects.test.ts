import fc from "fast-check";
import { combine, exact, withSource } from "../uncertainty/uncertain";
import { seededRandom } from "../random/seededRandom";
import { effectsOf, type Effect, type Factor } from "./effects";
import { costFront } from "./front";
import type { PairComparison } from "./pairs";

/** Pairs of lanes whose heats are given, each difference with a scatter of its own. */
function pairsOf(heats: Record<string, number>, standard = 2): PairComparison[] {
  const lanes = Object.keys(heats);
  return lanes.flatMap((a, i) =>
    lanes.slice(i + 1).map((b): PairComparison => {
      const source = { kind: "dayScatter", lanes: `${a}${b}`, owner: "", dof: Infinity } as const;
      const difference = withSource(heats[a] - heats[b], standard, source);
      return {
        a,
        b,
        difference,
        measured: { value: difference.value, standardUncertainty: standard, dof: Infinity },
        level: 500,
        expanded: 2 * standard,
        p: 1,
        pHolm: 1,
        chanceWrong: 0.5,
        decision: "cannotTell",
        windows: 20,
        days: 4,
        swapped: true,
        identical: false,
        inTurn: false,
      };
    }),
  );
}

const factor = (name: string, ...levels: string[]): Factor => ({
  name,
  levels: levels.map((variants, k) => ({ value: `${name}${k}`, variants: [...variants] })),
});
const alone = (lanes: string) => new Map([...lanes].map((l) => [l, [l]]));
const of = (effects: readonly Effect[], name: string, over: string | null = null) =>
  effects.find((e) => e.factor === name && (e.over?.factor ?? null) === over)!;

/** A: neither, B: foil, C: second pane, D: both. */
const SQUARE = [factor("foil", "AC", "BD"), factor("pane", "AB", "CD")];

describe("effects of a factorial set", () => {
  test("all four corners: means of the two pairs, and how the one depends on the other", () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 300, max: 600 }), { minLength: 4, maxLength: 4 }), ([A, B, C, D]) => {
        const pairs = pairsOf({ A, B, C, D });
        const effects = effectsOf({ factors: SQUARE, copies: alone("ABCD"), pairs, smallestDifference: 5 });
        expect(effects).toHaveLength(3);
        expect(of(effects, "foil").difference.value).toBeCloseTo((B - A + D - C) / 2, 9);
        expect(of(effects, "pane").difference.value).toBeCloseTo((C - A + D - B) / 2, 9);
        expect(of(effects, "foil", "pane").difference.value).toBeCloseTo(D - C - (B - A), 9);
        // Two pairs halve the variance of a main effect; an interaction is the difference of two.
        expect(of(effects, "foil").expanded).toBeCloseTo(1.96 * (2 / Math.SQRT2), 2);
        expect(of(effects, "foil", "pane").expanded).toBeCloseTo(1.96 * 2 * Math.SQRT2, 2);
      }),
      { seed: 4, numRuns: 60 },
    ));

  test("levels that change names change signs, and nothing else", () => {
    const pairs = pairsOf({ A: 400, B: 430, C: 410, D: 460 });
    const input = { copies: alone("ABCD"), pairs, smallestDifference: 5 };
    const one = of(effectsOf({ ...input, factors: SQUARE }), "foil");
    const turned = { name: "foil", levels: [...SQUARE[0].levels].reverse() };
    const two = of(effectsOf({ ...input, factors: [turned, SQUARE[1]] }), "foil");
    expect(two.difference.value).toBeCloseTo(-one.difference.value, 9);
    expect(two.expanded).toBeCloseTo(one.expanded, 9);
    expect([one.decision, two.decision]).toEqual(["more", "less"]);
  });

  test("one at a time: each change against the same base, and no interaction is claimed", () => {
    const factors = [factor("foil", "AC", "B"), factor("pane", "AB", "C")];
    const effects = effectsOf({
      factors,
      copies: alone("ABC"),
      pairs: pairsOf({ A: 400, B: 430, C: 390 }),
      smallestDifference: 5,
    });
    expect(effects.map((e) => [e.factor, e.difference.value, e.over])).toEqual([
      ["foil", 30, null],
      ["pane", -10, null],
    ]);
    expect(effects[0].between).toEqual([["B", "A"]]);
  });

  test("half a set of three: sides that hold the others' levels alike, said to be so", () => {
    // I = ABC: A none, B x+z, C y+z, D x+y.
    const factors = [factor("x", "AC", "BD"), factor("y", "AB", "CD"), factor("z", "AD", "BC")];
    const [x, y, z] = [20, -8, 3];
    const pairs = pairsOf({ A: 400, B: 400 + x + z, C: 400 + y + z, D: 400 + x + y });
    const effects = effectsOf({ factors, copies: alone("ABCD"), pairs, smallestDifference: 0 });
    expect(effects.map((e) => [e.factor, e.difference.value, e.others])).toEqual([
      ["x", x, "balanced"],
      ["y", y, "balanced"],
      ["z", z, "balanced"],
    ]);
  });

  test("what always changes together is not told apart: no effect at all is given", () => {
    const factors = [factor("foil", "A", "BC"), factor("pane", "A", "BC")];
    const pairs = pairsOf({ A: 400, B: 430, C: 431 });
    expect(effectsOf({ factors, copies: alone("ABC"), pairs, smallestDifference: 5 })).toEqual([]);
    // Nor where there is but one factor: the pairs say it.
    expect(
      effectsOf({ factors: [factor("foil", "A", "B", "C")], copies: alone("ABC"), pairs, smallestDifference: 5 }),
    ).toEqual([]);
    // Nor from a pair that never stood side by side.
    expect(
      effectsOf({ factors: SQUARE, copies: alone("ABCD"), pairs: pairs.slice(0, 1), smallestDifference: 5 }),
    ).toEqual([]);
  });

  test("copies count as one variant, and what was told by chance in one look of three is paid for", () => {
    const copies = new Map([
      ["A", ["A", "E"]],
      ["B", ["B"]],
      ["C", ["C"]],
      ["D", ["D"]],
    ]);
    const pairs = pairsOf({ A: 398, E: 402, B: 430, C: 405, D: 434 });
    const effects = effectsOf({ factors: SQUARE, copies, pairs, smallestDifference: 0 });
    expect(of(effects, "foil").difference.value).toBeCloseTo((430 - 400 + 434 - 405) / 2, 9);
    for (const e of effects) expect(e.pHolm).toBeGreaterThanOrEqual(e.p);
  });

  test("of null sets, no more than one in twenty has any effect told", () => {
    const random = seededRandom(15);
    let told = 0;
    const sets = 1200;
    for (let i = 0; i < sets; i++) {
      const heats = Object.fromEntries([..."ABCD"].map((l) => [l, 400 + Math.SQRT2 * random.normal()]));
      const effects = effectsOf({
        factors: SQUARE,
        copies: alone("ABCD"),
        pairs: pairsOf(heats, 2),
        smallestDifference: 0,
      });
      if (effects.some((e) => e.decision !== "cannotTell")) told++;
    }
    expect(told / sets).toBeLessThan(0.055);
    expect(told / sets).toBeGreaterThan(0.02);
  });
});

describe("cost against heat", () => {
  const offer = (variant: string, heat: number, cost: number, u = 5) => ({
    variant,
    cost,
    heat: withSource(heat, u, { kind: "dayScatter", lanes: variant, owner: "", dof: Infinity }),
  });

  test("on the front is what nothing cheaper beats, in any order it is given", () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 100, max: 900 }), fc.integer({ min: 20, max: 400 })), {
          minLength: 1,
          maxLength: 8,
        }),
        (rows) => {
          const offers = rows.map(([heat, cost], i) => offer(String(i), heat, cost));
          const placed = costFront(offers);
          for (const p of placed) {
            const beaten = offers.some(
              (o) =>
                o.variant !== p.variant &&
                o.cost <= p.cost &&
                o.heat.value >= p.heat.value &&
                (o.cost < p.cost || o.heat.value > p.heat.value),
            );
            if (beaten) expect(p.front).toBe(false);
            if (!p.front) expect(offers.find((o) => o.variant === p.beatenBy)!.cost).toBeLessThanOrEqual(p.cost);
          }
          const front = (list: typeof placed) => list.filter((p) => p.front).map((p) => [p.cost, p.heat.value]);
          expect(front(costFront([...offers].reverse()))).toEqual(front(placed));
          // Along the front both grow.
          placed
            .filter((p) => p.front)
            .forEach((p, i, all) => i && expect(p.heat.value > all[i - 1].heat.value).toBe(true));
        },
      ),
      { seed: 8, numRuns: 200 },
    ));

  test("a step says what more money buys, with its ±; what all lanes share is no doubt of it", () => {
    const sun = (heat: number) =>
      combine(heat, [
        [1, exact(0)],
        [heat, withSource(0, 0.04, { kind: "sunSensor", sensor: "sun", owner: "", dof: Infinity })],
      ]);
    const [cheap, dear] = costFront([
      { variant: "dear", cost: 150, heat: sun(700) },
      { variant: "cheap", cost: 100, heat: sun(600) },
    ]);
    expect(cheap).toMatchObject({ variant: "cheap", front: true, step: null });
    expect(dear.step).toMatchObject({ from: "cheap", cost: 50 });
    expect(dear.step!.heat.value).toBe(100);
    expect(dear.step!.expanded).toBeCloseTo(1.96 * 0.04 * 100, 1);
    expect(dear.surely).toBe(true);
  });

  test("beaten within the scatter is beaten on cost alone; repeatability keeps from saying more", () => {
    const close = costFront([offer("A", 600, 100), offer("B", 595, 120)]);
    expect(close[1]).toMatchObject({ variant: "B", front: false, beatenBy: "A", surely: false });
    const far = costFront([offer("A", 600, 100), offer("B", 560, 120)]);
    expect(far[1].surely).toBe(true);
    expect(costFront([offer("A", 600, 100), offer("B", 560, 120)], 30)[1].surely).toBe(false);
  });
});
