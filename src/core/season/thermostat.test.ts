import { bestPair, MOST_STARTS, runSwitch, type Switched } from "./thermostat";

const BOX: Omit<Switched, "onC" | "offC"> = {
  light: 800,
  areaM2: 2,
  curve: { eta0: 0.65, a1: 5, a2: 0.01 },
  capacityJK: 18000,
  flowWK: 40,
  outsideC: 5,
  inletC: 16,
  sensorLagS: 30,
  purgeS: 0,
  limitC: null,
};
const run = (over: Partial<Switched>) => runSwitch({ ...BOX, onC: 40, offC: 25, ...over });

describe("a switch on the box", () => {
  test("holds in full sun: the steady outlet is the curve's", () => {
    const r = run({});
    expect(r.holding).toBe("holds");
    expect(r.duty).toBe(1);
    // q = A·(η0·G − U·(Tm − Ta)), Tm = Tin + q/2ṁc.
    let q = 0;
    for (let k = 0; k < 200; k++) {
      const over = 16 + q / 80 - 5;
      q = 0.5 * q + 0.5 * 2 * (0.65 * 800 - 5 * over - 0.01 * over * over);
    }
    expect(r.heat).toBeCloseTo(q, 0);
    expect(r.outletC).toBeCloseTo(16 + q / 40, 1);
  });
  test("hunts where on warms past on and running cools past off; more the nearer the pair", () => {
    const far = run({ light: 500, onC: 50, offC: 29 });
    const near = run({ light: 500, onC: 34, offC: 32 });
    expect(far.holding).toBe("hunts");
    expect(near.startsPerHour).toBeGreaterThan(far.startsPerHour);
    expect(near.duty).toBeLessThan(1);
    expect(near.duty).toBeGreaterThan(0);
  });
  test("never starts in the dusk; overheats when its on lies above what it bears", () => {
    expect(run({ light: 60 }).holding).toBe("neverStarts");
    expect(run({ onC: 95, offC: 60, limitC: 80, light: 1000 }).holding).toBe("overheats");
  });
  test("crossed set points are refused", () => {
    expect(() => run({ onC: 30, offC: 30 })).toThrow(RangeError);
  });
  test("heat of a cycle is what the box took less what it lost: more loss, less heat", () => {
    const heat = (a1: number) => run({ light: 300, curve: { ...BOX.curve, a1 } }).heat;
    expect(heat(3)).toBeGreaterThan(heat(6));
  });
  test("a purge takes the box's last warmth: fewer watts are left standing in it", () => {
    const plain = run({ light: 300, onC: 40, offC: 30 });
    const purged = run({ light: 300, onC: 40, offC: 30, purgeS: 120 });
    expect(purged.heat).toBeGreaterThanOrEqual(plain.heat);
    expect(purged.duty).toBeGreaterThan(plain.duty);
  });
  test("a slow sensor sees less of a swing and lets the box swing more", () => {
    const swing = (lag: number) => {
      const r = run({ light: 300, sensorLagS: lag });
      return r.hottestC;
    };
    expect(swing(240)).toBeGreaterThan(swing(10));
  });
});

describe("the best pair", () => {
  test("keeps to few starts at every sun tried, and beats a tight pair at the same suns", () => {
    const suns = [250, 500, 850];
    const best = bestPair(BOX, suns, 6)!;
    expect(best.startsPerHour).toBeLessThanOrEqual(MOST_STARTS);
    expect(best.offC).toBeLessThan(best.onC);
    for (const light of suns)
      expect(run({ light, onC: best.onC, offC: best.offC }).startsPerHour).toBeLessThanOrEqual(MOST_STARTS);
  });
});
