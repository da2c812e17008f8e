import fc from "fast-check";
import { presetDesign } from "../collector/presets";
import { ABSORBER_FORMS } from "../collector/form/list";
import { rigSettingsSchema, type RigSettings } from "../experiment/schema/rig";
import { standardPressure } from "../fluids/moistAir";
import { RigBox, type BoxNow, type BoxWeather } from "./box";
import { LiveRig, usualFlow } from "./liveRig";

/** The rig held against a tenth of its step: what it shows hangs on the weather, not on how finely it is followed. */
const WEATHER: BoxWeather = {
  irradianceWm2: 900,
  panelWm2: 900,
  ambientC: 10,
  windMs: 1.5,
  inletC: 12,
  tilt: 55,
  pressurePa: standardPressure(1120),
};
/** Light by minute: full sun, a passing cloud, full sun again. */
const light = (minute: number, cloud: number) => (minute >= 25 && minute < 40 ? 900 * cloud : 900);

interface Drawn {
  form: (typeof ABSORBER_FORMS)[number];
  flowShare: number;
  cloud: number;
  inletC: number;
  stopAt: number;
}
const drawn: fc.Arbitrary<Drawn> = fc.record({
  form: fc.constantFrom(...ABSORBER_FORMS),
  flowShare: fc.double({ min: 0.05, max: 3, noNaN: true }),
  cloud: fc.double({ min: 0, max: 1, noNaN: true }),
  inletC: fc.double({ min: 0, max: 60, noNaN: true }),
  stopAt: fc.integer({ min: 45, max: 90 }),
});

/** An hour and a half of a box: heat in all, J, and every minute's end. @param stepS a divisor of a minute */
function hourOf({ form, flowShare, cloud, inletC, stopAt }: Drawn, stepS: number): { heat: number; ends: BoxNow[] } {
  const design = presetDesign(form);
  const box = new RigBox(design);
  const flow = flowShare * usualFlow(design);
  const ends: BoxNow[] = [];
  let heat = 0;
  box.step({ ...WEATHER, inletC, irradianceWm2: 0 }, flow, true, stepS);
  for (let minute = 0; minute < 90; minute++) {
    const w = { ...WEATHER, inletC, irradianceWm2: light(minute, cloud) };
    let now: BoxNow | null = null;
    for (let s = 0; s < 60; s += stepS) {
      now = box.step(w, flow, minute < stopAt, stepS);
      heat += now.heatW * stepS;
    }
    ends.push(now!);
  }
  return { heat, ends };
}

test("a box of any form, at any flow, under a passing cloud and with its fan stopped: the same at a tenth of the step", () => {
  fc.assert(
    fc.property(drawn, (d) => {
      const [usual, fine] = [hourOf(d, 10), hourOf(d, 1)];
      const scale = Math.max(Math.abs(fine.heat), 0.05 * 900 * 60 * 45);
      expect(Math.abs(usual.heat - fine.heat) / scale).toBeLessThan(0.01);
      // Just after a change of sun an implicit step lags by a part of itself; over the hour it does not.
      const off = fine.ends.map(
        (end, i) => Math.abs(usual.ends[i].plateC - end.plateC) / Math.max(10, Math.abs(end.plateC - WEATHER.ambientC)),
      );
      expect(off.reduce((a, b) => a + b, 0) / off.length).toBeLessThan(0.02);
    }),
    { numRuns: 15 },
  );
}, 120_000);

test("at any step nothing is hotter than without flow for ever, nor colder than what surrounds it", () => {
  fc.assert(
    fc.property(drawn, fc.constantFrom(5, 20, 60), (d, stepS) => {
      const design = presetDesign(d.form);
      const still = new RigBox(design).step({ ...WEATHER, inletC: d.inletC }, 0, false, stepS).plateC;
      const cold = Math.min(WEATHER.ambientC, d.inletC);
      for (const { plateC, outletC } of hourOf(d, stepS).ends) {
        // A perforated sheet's law ends where its holes hardly draw: there it is a kelvin or two too warm.
        expect(plateC).toBeLessThanOrEqual(Math.max(still, d.inletC) + (d.form === "perforated" ? 3 : 0.5));
        // A cover sees the sky, which is colder than the air.
        expect(plateC).toBeGreaterThan(cold - 10);
        expect(outletC).toBeLessThanOrEqual(Math.max(still, d.inletC) + (d.form === "perforated" ? 3 : 0.5));
      }
    }),
    { numRuns: 15 },
  );
}, 120_000);

const tanked = (litres: number, lossWPerK: number, stepS: number): RigSettings =>
  rigSettingsSchema.parse({
    seed: 3,
    site: { latitude: 46.31, longitude: 9.05, altitudeM: 1120, zone: "Europe/Zurich" },
    plane: { tilt: 55, azimuth: 180 },
    startMs: Date.UTC(2026, 9, 12, 9),
    hours: [7, 19],
    stepS,
    weather: { cloudiness: 0, meanAmbientC: 10, meanWind: 1.5 },
    plenum: [],
    accuracy: { probeK: 0, flowShare: 0, sunShare: 0 },
    faults: [],
    speed: 60,
    lanes: [
      {
        letter: "A",
        design: presetDesign("hose"),
        station: 1,
        massFlowKgPerS: 0.04,
        loop: { kind: "tank", litres, startC: 15, lossWPerK },
        thermostat: null,
      },
    ],
  });
const tankAfterHour = (s: RigSettings): number[] => {
  const rig = new LiveRig(s);
  const shown: number[] = [];
  for (let t = 0; t < 3600; t += s.stepS) {
    const frame = rig.step();
    shown.push(Object.fromEntries(frame.values)["A tank (°C)"]);
  }
  return shown;
};

test("a tank of a litre or of hundreds never passes what warms and cools it, at the longest step there is", () => {
  for (const litres of [1, 20, 300])
    for (const loss of [0, 5, 200])
      for (const stepS of [10, 60]) {
        const usual = tankAfterHour(tanked(litres, loss, stepS));
        const fine = tankAfterHour(tanked(litres, loss, stepS / 10));
        expect(Math.max(...usual)).toBeLessThan(120);
        // Outside air here, give or take its own wandering.
        expect(Math.min(...usual)).toBeGreaterThan(5);
        // Wind and flow wander otherwise at another step: what is left of that is a share of the rise.
        const rise = Math.max(20, Math.abs(fine.at(-1)! - 15));
        expect(Math.abs(usual.at(-1)! - fine.at(-1)!)).toBeLessThan(0.08 * rise);
      }
}, 240_000);
