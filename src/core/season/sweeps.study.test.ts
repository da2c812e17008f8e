import { CANDIDATE, job, oneSeason, STONES, TANK, WASH_WATER } from "../../../scripts/testing/seasonJob";
import type { Candidate } from "./season";
import type { ApplySettings, StoredUse } from "./schema";
import type { SeasonJob } from "./job";

/**
 * One input of the year after another over its whole range: the answer goes the way it must, without jumps, the account closes, and
 * no temperature leaves what surrounds it.
 */
type Over = Partial<ApplySettings>;
const room = (over: object = {}) => ({ ...job().settings.use, ...over }) as StoredUse;
const fresh = { kind: "freshAir", flowM3PerS: 0.1, setC: 20, fromHour: 6, toHour: 20 } as const;
const drying = {
  kind: "drying",
  waterKgADay: 30,
  pickUp: 0.5,
  humidity: 0.6,
  capC: 60,
  months: [4, 5, 6, 7, 8],
} as const satisfies Omit<StoredUse & { kind: "drying" }, "months"> & { months: readonly number[] };
const pipes = (over: object = {}) => ({ lengthM: 10, diameterM: 0.15, insulationM: 0.03, leakShare: 0.02, ...over });
const rows = (over: object = {}) => [{ inSeries: 1, sideBySide: 3, tilt: 60, azimuth: 180, ...over }];
const box = (over: Partial<Candidate>): Partial<SeasonJob> => ({
  candidates: [{ ...CANDIDATE, covariance: null, ...over }],
});
const liquid: Partial<SeasonJob> = {
  fluid: { kind: "water" },
  candidates: [{ ...CANDIDATE, covariance: null, flowWK: 160 }],
};
const hose = { lengthM: 10, diameterM: 0.022, insulationM: 0.02, leakShare: 0 };

interface Sweep {
  over: readonly number[];
  at: (v: number) => [Over, Partial<SeasonJob>?];
  /** How useful heat goes with it: up, down, or either way but smoothly. */
  useful: "up" | "down" | "smooth";
}
const SWEEPS: Record<string, Sweep> = {
  "zero-loss efficiency": {
    over: [0.05, 0.2, 0.4, 0.6, 0.8],
    at: (eta0) => [{}, box({ curve: { eta0, a1: 5, a2: 0 } })],
    useful: "up",
  },
  "loss coefficient": {
    over: [0, 1, 3, 6, 12, 25, 60],
    at: (a1) => [{}, box({ curve: { eta0: 0.62, a1, a2: 0 } })],
    useful: "down",
  },
  "loss with temperature": {
    over: [0, 0.01, 0.05, 0.2, 1],
    at: (a2) => [{}, box({ curve: { eta0: 0.62, a1: 5, a2 } })],
    useful: "down",
  },
  "what the box holds": {
    over: [500, 3000, 9000, 30_000, 100_000, 200_000],
    at: (capacityJM2K) => [{}, box({ capacityJM2K })],
    useful: "down",
  },
  "boxes side by side": {
    over: [1, 2, 4, 8, 16, 32],
    at: (sideBySide) => [{ rows: rows({ sideBySide }), pipes: pipes({ diameterM: 0.5 }) }],
    useful: "up",
  },
  "boxes in series": {
    over: [1, 2, 4, 8, 16],
    at: (inSeries) => [{ rows: rows({ sideBySide: 1, inSeries }) }],
    useful: "up",
  },
  tilt: { over: [0, 15, 30, 45, 60, 75, 90], at: (tilt) => [{ rows: rows({ tilt }) }], useful: "smooth" },
  azimuth: {
    over: [0, 45, 90, 135, 180, 225, 270, 315, 360],
    at: (azimuth) => [{ rows: rows({ azimuth }) }],
    useful: "smooth",
  },
  "length of the run": {
    over: [0, 2, 10, 30, 80],
    at: (lengthM) => [{ pipes: pipes({ lengthM, diameterM: 0.3 }) }],
    useful: "down",
  },
  "insulation of the run": {
    over: [0, 0.01, 0.03, 0.1, 0.5],
    at: (insulationM) => [{ pipes: pipes({ insulationM }) }],
    useful: "up",
  },
  leaks: { over: [0, 0.05, 0.2, 0.5, 0.9], at: (leakShare) => [{ pipes: pipes({ leakShare }) }], useful: "down" },
  "loss of the room": { over: [5, 20, 80, 200, 600, 2000], at: (lossWK) => [{ use: room({ lossWK }) }], useful: "up" },
  "room kept at": { over: [-5, 5, 10, 15, 20, 24], at: (setC) => [{ use: room({ setC }) }], useful: "smooth" },
  "gains of the room": { over: [0, 200, 800, 3000], at: (gainsW) => [{ use: room({ gainsW }) }], useful: "down" },
  "starts above": {
    over: [4, 8, 15, 30, 60],
    at: (onK) => [{ control: { kind: "difference", onK, offK: 3 } }],
    useful: "down",
  },
  "size of a bin": {
    over: [0.3, 1, 3, 10, 40],
    at: (volumeM3) => [{ store: { ...STONES, volumeM3 } }],
    useful: "smooth",
  },
  "loss of a bin": { over: [0, 2, 10, 50, 300], at: (lossWK) => [{ store: { ...STONES, lossWK } }], useful: "down" },
  "fresh air": { over: [0.05, 0.1, 0.3, 1], at: (flowM3PerS) => [{ use: { ...fresh, flowM3PerS } }], useful: "up" },
  "fresh air wanted at": { over: [5, 12, 20, 28], at: (setC) => [{ use: { ...fresh, setC } }], useful: "up" },
  "water to dry": {
    over: [0.5, 2, 10, 50, 300],
    at: (waterKgADay) => [{ use: { ...drying, months: [...drying.months], waterKgADay } }],
    useful: "up",
  },
  "humidity outside": {
    over: [0.1, 0.3, 0.5, 0.7, 0.9, 1],
    at: (humidity) => [{ use: { ...drying, months: [...drying.months], humidity } }],
    useful: "up",
  },
  "water a day": {
    over: [10, 50, 150, 400, 1500],
    at: (litresADay) => [{ use: { ...WASH_WATER, litresADay }, store: TANK, pipes: hose }, liquid],
    useful: "up",
  },
  "water wanted at": {
    over: [25, 35, 45, 60, 75],
    at: (wantedC) => [{ use: { ...WASH_WATER, wantedC }, store: TANK, pipes: hose }, liquid],
    useful: "up",
  },
  "loss of a tank": {
    over: [0, 1, 3, 10, 40, 200],
    at: (lossWK) => [{ use: WASH_WATER, store: { ...TANK, lossWK }, pipes: hose }, liquid],
    useful: "down",
  },
  "coil of a tank": {
    over: [5, 20, 80, 300, 2000],
    at: (exchangeWK) => [{ use: WASH_WATER, store: { ...TANK, exchangeWK }, pipes: hose }, liquid],
    useful: "up",
  },
  "exchanger behind": {
    over: [5, 20, 80, 300, 2000],
    at: (uaWK) => [{ use: WASH_WATER, store: TANK, exchanger: { uaWK, waterKgS: 0.1, pumpW: 15 } }],
    useful: "up",
  },
};

const LIGHT = 1400;

test.each(Object.entries(SWEEPS))(
  "%s",
  (name, { over, at, useful }) => {
    const years = over.map((v) => {
      const [settings, more] = at(v);
      return oneSeason(job(settings, more ?? box({})));
    });
    for (const s of years) {
      expect(Math.abs(s.year.imbalance)).toBeLessThan(1e-6);
      expect(s.useful).toBeLessThanOrEqual(s.need + 1e-6);
      expect(s.fan).toBeGreaterThanOrEqual(0);
      const { eta0, a1, a2 } = s.candidate.curve;
      const gain = eta0 * LIGHT;
      const still = a1 + a2 > 0 ? (2 * gain) / (a1 + Math.sqrt(a1 ** 2 + 4 * a2 * gain)) : Infinity;
      const inside = s.year.trace!.useC.reduce((m, t) => (Number.isNaN(t) ? m : Math.max(m, t)), 30);
      // A box warms what it heats, and what it heats may warm it: never past light and loss from the warmer side.
      expect(s.year.hottestBoxC).toBeLessThan(still + Math.max(45, inside) + 1);
      for (const c of s.year.trace!.storeC) if (!Number.isNaN(c)) expect(c).toBeGreaterThan(-40);
    }
    const values = years.map((s) => s.useful);
    const [low, high] = [Math.min(...values), Math.max(...values)];
    // Numbers of the year move by a thousandth with where its steps fall.
    const slack = 0.004 * high + 0.5;
    values.slice(1).forEach((v, i) => {
      if (useful === "up")
        expect({ name, at: over[i + 1], rises: v >= values[i] - slack }).toMatchObject({ rises: true });
      if (useful === "down")
        expect({ name, at: over[i + 1], falls: v <= values[i] + slack }).toMatchObject({ falls: true });
      // No one step holds nearly all of a change that is worth the name.
      if (high - low > 0.1 * high) expect(Math.abs(v - values[i])).toBeLessThan(0.9 * (high - low) + slack);
    });
    if (useful === "smooth" && name === "azimuth") expect(values.at(-1)).toBeCloseTo(values[0], 6);
  },
  60_000,
);
