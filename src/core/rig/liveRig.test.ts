import { rigSettings } from "../../../scripts/testing/rig";
import { hingedMirror } from "../mirror/mirror";
import { presetDesign } from "../collector/presets";
import { ABSORBER_FORMS } from "../collector/form/list";
import { predict } from "../collector/predict";
import type { RigSettings } from "../experiment/schema/rig";
import { specificHeat } from "../fluids/fluid";
import { standardPressure } from "../fluids/moistAir";
import { RigBox } from "./box";
import { LiveRig, usualFlow } from "./liveRig";

const corrugated = presetDesign("corrugated");
const settings = (change: Partial<RigSettings> = {}): RigSettings =>
  rigSettings({ speed: 60, lanes: [lane("A")], ...change });
const lane = (letter: string, change: Partial<RigSettings["lanes"][number]> = {}): RigSettings["lanes"][number] => ({
  letter,
  design: corrugated,
  station: 1,
  massFlowKgPerS: usualFlow(corrugated),
  loop: { kind: "outside" },
  thermostat: null,
  ...change,
});
const run = (s: RigSettings, steps: number) => {
  const rig = new LiveRig(s);
  return Array.from({ length: steps }, () => rig.step());
};
const shown = (frame: ReturnType<LiveRig["step"]>, name: string) => Object.fromEntries(frame.values)[name];

const WEATHER = {
  irradianceWm2: 900,
  panelWm2: 900,
  ambientC: 10,
  windMs: 1.5,
  inletC: 12,
  tilt: 55,
  pressurePa: standardPressure(1120),
};

describe("a box through time", () => {
  test("settles to what the prediction of its drawing says", () => {
    const box = new RigBox(corrugated);
    const flow = usualFlow(corrugated);
    box.step({ ...WEATHER, irradianceWm2: 0 }, flow, true, 10);
    let now = box.step(WEATHER, flow, true, 10);
    const first = now.heatW;
    for (let i = 0; i < 600; i++) now = box.step(WEATHER, flow, true, 10);
    const { figures } = predict(
      corrugated,
      {
        irradianceWm2: 900,
        ambientC: 10,
        inletC: 12,
        windMs: 1.5,
        tilt: 55,
        pressurePa: WEATHER.pressurePa,
        extremeAmbientC: 30,
        extremeIrradianceWm2: 1000,
        basis: "gross",
        reduced: "mean",
        massFluxKgM2S: 0.02,
      },
      flow,
    );
    // Four stretches in place of eight.
    expect(now.heatW / figures.heat!.value).toBeCloseTo(1, 1.7);
    // It has storage: the first step after the dark gives little.
    expect(first).toBeLessThan(0.4 * now.heatW);
  });

  test("without flow it climbs toward stagnation and gives nothing; darkness lets it fall", () => {
    const box = new RigBox(corrugated);
    box.step(WEATHER, 0.04, true, 10);
    let now = box.step(WEATHER, 0.04, false, 10);
    const start = now.plateC;
    for (let i = 0; i < 360; i++) now = box.step(WEATHER, 0.04, false, 10);
    expect(now.heatW).toBe(0);
    expect(now.plateC).toBeGreaterThan(start + 30);
    for (let i = 0; i < 720; i++) now = box.step({ ...WEATHER, irradianceWm2: 0, panelWm2: 0 }, 0.04, false, 10);
    expect(now.plateC).toBeLessThan(20);
  });

  test.each(ABSORBER_FORMS)("%s can stand on the bench", (form) => {
    const plain = presetDesign(form);
    const curve = { statedEta0: 0.75, statedA1: 3.6, statedA2: 0.01 };
    // A bought module is what its maker states: it has no inside to reckon.
    const layers = plain.layers.map((l) =>
      l.kind === "absorber" && form === "boughtModule" ? { ...l, shape: { ...l.shape, ...curve } } : l,
    );
    const design = { ...plain, layers };
    const box = new RigBox(design);
    let now = box.step(WEATHER, usualFlow(design), true, 10);
    for (let i = 0; i < 200; i++) now = box.step(WEATHER, usualFlow(design), true, 10);
    expect(now.heatW).toBeGreaterThan(50);
    expect(now.outletC).toBeGreaterThan(12);
    expect(now.outletC).toBeLessThan(150);
  });
});

describe("a bench of boxes", () => {
  test("the same settings give the same bench, frame by frame", () => {
    expect(run(settings(), 50)).toEqual(run(settings(), 50));
  });

  test("what probes and meter show gives back the true heat within the stated errors", () => {
    const frames = run(settings(), 360).slice(180);
    const state = { temperatureC: 25, pressurePa: WEATHER.pressurePa, relativeHumidity: 0.4 };
    const truth = frames.reduce((s, f) => s + f.truth.heatW.A, 0);
    const density = WEATHER.pressurePa / (287.05 * (273.15 + 38));
    const seen = frames.reduce((s, f) => {
      const speed = shown(f, "A air (m/s)") * 0.86;
      const mass = speed * (Math.PI / 4) * 0.125 ** 2 * density;
      return s + mass * specificHeat({ kind: "air" }, state) * (shown(f, "A out (°C)") - shown(f, "A in (°C)"));
    }, 0);
    expect(seen / truth).toBeGreaterThan(0.88);
    expect(seen / truth).toBeLessThan(1.12);
  });

  test("a tank warms by the heat it is given: the energy balance closes", () => {
    const water = presetDesign("tubeSheet");
    const s = settings({
      lanes: [
        lane("A", {
          design: water,
          massFlowKgPerS: usualFlow(water),
          loop: { kind: "tank", litres: 100, startC: 15, lossWPerK: 0 },
        }),
      ],
    });
    const frames = run(s, 720);
    const given = frames.reduce((sum, f) => sum + f.truth.heatW.A * 10, 0);
    const warmed = shown(frames.at(-1)!, "A tank (°C)") - 15;
    expect(given / (99.8 * 4185) / warmed).toBeCloseTo(1, 1.5);
    expect(warmed).toBeGreaterThan(5);
  });

  test("faults do what they say, for as long as they are on", () => {
    const rig = new LiveRig(settings());
    for (let i = 0; i < 60; i++) rig.step();
    const faulty = (kind: RigSettings["faults"][number]["kind"], steps = 60) => {
      rig.change(settings({ faults: [{ kind, lane: "A", share: 0.5 }] }));
      let frame = rig.step();
      for (let i = 1; i < steps; i++) frame = rig.step();
      return frame;
    };
    const before = rig.step();
    expect(shown(faulty("fanStop"), "A air (m/s)")).toBe(0);
    expect(shown(faulty("probeLost", 1), "A out (°C)")).toBe(-127);
    const stuck = shown(faulty("probeStuck", 5), "A out (°C)");
    expect(shown(faulty("probeStuck", 20), "A out (°C)")).toBe(stuck);
    rig.change(settings());
    for (let i = 0; i < 200; i++) rig.step();
    const shade = faulty("shade", 120).truth.heatW.A;
    rig.change(settings());
    for (let i = 0; i < 120; i++) rig.step();
    expect(shade).toBeLessThan(0.7 * rig.step().truth.heatW.A);
    expect(before.truth.heatW.A).toBeGreaterThan(300);
  });

  test("nights are skipped, and a thermostat holds the fan until the plate is warm", () => {
    const s = settings({
      startMs: Date.UTC(2026, 9, 12, 16, 50),
      lanes: [lane("A", { thermostat: { onC: 35, offC: 25 } })],
    });
    const frames = run(s, 700);
    const hours = frames.map((f) => new Date(f.atMs + 2 * 3600_000).getUTCHours());
    expect(Math.min(...hours)).toBe(7);
    expect(Math.max(...hours)).toBe(18);
    expect(frames.every((f, i) => i === 0 || f.atMs > frames[i - 1].atMs)).toBe(true);
    for (const f of frames.slice(1)) if (shown(f, "A fan on") === 1) expect(f.truth.plateC.A).toBeGreaterThan(20);
    expect(frames.some((f) => shown(f, "A fan on") === 0)).toBe(true);
  });

  test("a mirror opened wide enough throws a low sun onto the box", () => {
    const mirrored = {
      ...corrugated,
      mirrors: [hingedMirror({ material: "mirror-film", stand: "bottom", depthM: 1.5, angle: 118 })],
    };
    const known = corrugated.materials["mirror-film"] ? mirrored : null;
    const design = known ?? {
      ...mirrored,
      materials: {
        ...corrugated.materials,
        "mirror-film": { ...Object.values(corrugated.materials)[0], absorptance: 0.1 },
      },
    };
    const heat = (d: typeof design | typeof corrugated) => {
      const frames = run(settings({ startMs: Date.UTC(2026, 11, 12, 11), lanes: [lane("A", { design: d })] }), 120);
      return frames.at(-1)!.truth.heatW.A;
    };
    expect(heat(design)).toBeGreaterThan(1.02 * heat(corrugated));
  });
});
