import { simulateBath, type BathPlan, type BathProbe } from "../rig/bath";
import { seededRandom } from "../random/seededRandom";
import { calibrateBath, type BathResult } from "./bath";
import { BATH_DEFAULTS, type BathOptions } from "./bathOptions";
import { correct, correctionAt, correctionUncertainty, errorAt, type Correction } from "./correction";
import { boilingPoint, twoPointCorrection } from "./twoPoint";

const probe = (key: string, more: Partial<BathProbe> = {}): BathProbe => ({
  key,
  offsetK: 0,
  slope: 0,
  lagS: 15,
  noiseK: 0.03,
  resolutionK: 0.0625,
  ...more,
});
const PLAN: Omit<BathPlan, "probes" | "seed"> = {
  startMs: Date.UTC(2026, 9, 4, 9),
  minutes: 120,
  stepS: 10,
  fromC: 18,
  hotC: 62,
  roomC: 16,
  coolingMin: 70,
  gradientK: 0.02,
};
const channels = (plan: BathPlan) => {
  const log = simulateBath(plan);
  return log.probes.map((p) => ({ key: p.key, times: log.times, values: p.values }));
};
const run = (
  probes: BathProbe[],
  options: Partial<BathOptions> = {},
  more: Partial<BathPlan> = {},
  seed = 1,
): BathResult => {
  const c = calibrateBath(channels({ ...PLAN, seed, probes, ...more }), { ...BATH_DEFAULTS, ...options });
  if (!c.ok) throw new Error(JSON.stringify(c.problem));
  return c.result;
};

describe("co-location", () => {
  const planted = [
    probe("a", { offsetK: 0.42 }),
    probe("b", { offsetK: -0.31 }),
    probe("c", { offsetK: 0.05 }),
    probe("d", { offsetK: -0.12 }),
    probe("e", { offsetK: 0.2 }),
    probe("f", { offsetK: -0.24 }),
  ];
  it("finds planted offsets within their stated uncertainty, relative to the mean", () => {
    const r = run(planted);
    const mean = planted.reduce((s, p) => s + p.offsetK, 0) / planted.length;
    r.probes.forEach((p, i) => {
      const found = errorAt(p.correction, 40);
      expect(Math.abs(found - (planted[i].offsetK - mean))).toBeLessThan(2.5 * correctionUncertainty(p.correction, 40));
      expect(correctionUncertainty(p.correction, 40)).toBeLessThan(0.06);
    });
    expect(r.spreadAfterK).toBeLessThan(0.25 * r.spreadBeforeK);
    expect(r.spreadAfterK).toBeLessThan(0.1);
  });
  it("covers planted differences at about 95 % over seeds, offsets and slopes alike", () => {
    let inside = 0;
    let all = 0;
    for (let seed = 1; seed <= 60; seed++) {
      const random = seededRandom(seed * 31);
      const probes = "abcdef".split("").map((k) =>
        probe(k, {
          offsetK: random.within(0.5),
          slope: seed % 2 ? 0 : random.within(0.02),
          lagS: 10 + 10 * Math.abs(random.within(1)),
        }),
      );
      const r = run(probes, {}, {}, seed);
      for (const at of [25, 40, 55]) {
        const truth = (i: number) => probes[i].offsetK + probes[i].slope * (at - 40);
        const [x, y] = [r.probes[0].correction, r.probes[1].correction];
        const error = errorAt(x, at) - errorAt(y, at) - (truth(0) - truth(1));
        const u = Math.hypot(correctionUncertainty(x, at), correctionUncertainty(y, at));
        if (Math.abs(error) <= 1.96 * u) inside++;
        all++;
      }
    }
    expect(inside / all).toBeGreaterThan(0.9);
  });
  it("finds planted slopes where the span carries them, and says why", () => {
    const sloped = planted.map((p, i) => ({ ...p, slope: i === 1 ? 0.02 : 0 }));
    const r = run(sloped);
    expect(r).toMatchObject({ model: "line", reason: "slopesFound" });
    const mean = 0.02 / 6;
    expect(Math.abs(r.probes[1].correction.slope - (0.02 - mean))).toBeLessThan(
      2.5 * r.probes[1].correction.standardSlope,
    );
    expect(run(planted, { model: "offset" })).toMatchObject({ model: "offset", reason: "asked" });
    expect(run(planted, { model: "line" })).toMatchObject({ model: "line", reason: "asked" });
  });
  it("refuses a slope from a span of 3 K, with the reason, and keeps the offset", () => {
    const r = run(planted, { model: "line" }, { fromC: 20, hotC: 23, roomC: 20 });
    expect(r.model).toBe("offset");
    expect(r.warnings).toContainEqual({ kind: "slopeRefused", spanK: expect.any(Number), neededK: 10 });
  });
  it("finds a planted lag and warns when the bath moved too fast for it", () => {
    const r = run(planted.map((p, i) => ({ ...p, lagS: i === 2 ? 150 : 10 })));
    const lag = r.probes[2].lagS! - r.probes[0].lagS!;
    expect(Math.abs(lag - 140)).toBeLessThan(15);
    expect(r.warnings.some((w) => w.kind === "cooledTooFast")).toBe(true);
    expect(run(planted).warnings.some((w) => w.kind === "cooledTooFast")).toBe(false);
  });
  it("leaves an outlier out of the mean and names it", () => {
    const r = run([...planted, probe("bad", { offsetK: 6 })]);
    expect(r.warnings).toContainEqual({ kind: "outlier", key: "bad", byK: expect.closeTo(6, 0) });
    const without = run(planted);
    expect(Math.abs(r.probes[0].correction.offsetK - without.probes[0].correction.offsetK)).toBeLessThan(0.05);
    expect(r.probes[6].outlier).toBe(true);
  });
  it("a reference probe is taken as true, and shared by all", () => {
    const r = run(planted, { reference: "a" });
    expect(r.probes[0].correction.offsetK).toBeCloseTo(0, 9);
    expect(Math.abs(errorAt(r.probes[1].correction, 40) + 0.73)).toBeLessThan(0.1);
  });
  it("two probes only, a constant bath, one missing half the time: said, not hidden", () => {
    expect(run(planted.slice(0, 2)).warnings).toContainEqual({ kind: "twoProbes" });
    expect(run(planted, {}, { fromC: 20, hotC: 20.1, roomC: 20 }).warnings.some((w) => w.kind === "constant")).toBe(
      true,
    );
    const half = run(planted.map((p, i) => (i === 3 ? { ...p, missing: [0.3, 0.8] as [number, number] } : p)));
    expect(half.warnings).toContainEqual({ kind: "missing", key: "d", share: expect.closeTo(0.5, 1) });
    expect(Math.abs(half.probes[3].correction.offsetK - run(planted).probes[3].correction.offsetK)).toBeLessThan(0.05);
  });
  it("one probe, twice the same label, a log too short: refused with what is wrong", () => {
    const all = channels({ ...PLAN, seed: 2, probes: planted });
    expect(calibrateBath(all.slice(0, 1))).toMatchObject({ ok: false, problem: { kind: "tooFewProbes", probes: 1 } });
    expect(calibrateBath([...all, all[0]])).toMatchObject({ ok: false, problem: { kind: "duplicate", key: "a" } });
    expect(
      calibrateBath(all.map((c) => ({ ...c, times: c.times.slice(0, 4), values: c.values.slice(0, 4) }))),
    ).toMatchObject({ ok: false, problem: { kind: "tooShort" } });
    expect(calibrateBath(all, { ...BATH_DEFAULTS, reference: "zz" })).toMatchObject({
      ok: false,
      problem: { kind: "referenceMissing" },
    });
    expect(calibrateBath(all, { ...BATH_DEFAULTS, leftOut: ["a", "b", "c", "d", "e"] })).toMatchObject({
      ok: false,
      problem: { kind: "tooFewProbes" },
    });
  });
});

describe("corrections", () => {
  const base: Correction = {
    t0C: 40,
    offsetK: 0.3,
    slope: 0.01,
    standardOffsetK: 0.03,
    standardSlope: 0.001,
    covariance: 0,
    range: [20, 60],
    atMs: 0,
  };
  it("take the error off, at T0 and away from it", () => {
    expect(correct(base, 40.3)).toBeCloseTo(40.0, 1);
    expect(correct({ ...base, slope: 0 }, 71.3)).toBeCloseTo(71, 9);
    expect(correctionUncertainty(base, 60)).toBeGreaterThan(correctionUncertainty(base, 40));
  });
  it("an offset carried far outside its bath is worth less", () => {
    const offset = { ...base, slope: 0, standardSlope: 0 };
    expect(correctionUncertainty(offset, 90)).toBeGreaterThan(3 * correctionUncertainty(offset, 50));
  });
  it("between two calibrations the line, with half the difference as drift; outside, the whole", () => {
    const later: Correction = { ...base, offsetK: 0.5, atMs: 1000 };
    const middle = correctionAt([later, base], 500);
    expect(middle.offsetK).toBeCloseTo(0.4, 9);
    expect(middle.driftK).toBeCloseTo(0.1 / Math.sqrt(3), 9);
    expect(correctionAt([base, later], 2000)).toMatchObject({
      offsetK: 0.5,
      driftK: expect.closeTo(0.2 / Math.sqrt(3), 9),
    });
    expect(correctionAt([base, later], -5)).toMatchObject({
      offsetK: 0.3,
      driftK: expect.closeTo(0.2 / Math.sqrt(3), 9),
    });
    expect(correctionAt([base], 77).driftK).toBe(0);
    expect(() => correctionAt([], 0)).toThrow(RangeError);
  });
  it("boiling point falls with height: 100 °C at sea level, 96.3 at 1,120 m", () => {
    expect(boilingPoint(101325)).toBeCloseTo(100, 1);
    expect(boilingPoint(88600)).toBeCloseTo(96.3, 1);
    expect(() => boilingPoint(20000)).toThrow(RangeError);
  });
  it("two fixed points give back what the probe shows there", () => {
    const c = twoPointCorrection(0.4, 96.9, 88600, 0.1, 0);
    expect(correct(c, 0.4)).toBeCloseTo(0, 1);
    expect(correct(c, 96.9)).toBeCloseTo(boilingPoint(88600), 1);
    expect(() => twoPointCorrection(40, 96, 88600, 0.1, 0)).toThrow(RangeError);
  });
});
