import { drawWindows } from "../../../scripts/testing/drawnWindows";
import { bareShare } from "../collector/optics";
import { presetDesign } from "../collector/presets";
import { pointOf } from "../judge/laneHeat";
import { seededRandom } from "../random/seededRandom";
import { transpose } from "../sun/clearSky";
import { sunPosition } from "../sun/position";
import { exact, standardUncertainty } from "../uncertainty/uncertain";
import { splitSky } from "./light";
import { fitCurve } from "./curve";
import { netLongWave } from "./longWave";
import { sniffLog } from "../log/sniff";

const BARE = { emittanceShare: 0.95, tilt: 30 };

describe("an absorber without a cover", () => {
  test("is told by its drawing: no glazing and no glass of its own", () => {
    expect(bareShare(presetDesign("hose"))).toBeGreaterThan(0.8);
    expect(bareShare(presetDesign("flat"))).toBeNull();
    expect(bareShare(presetDesign("evacuatedTubes"))).toBeNull();
  });
  test("loses 50 to 120 W/m² to a clear sky, less the steeper it stands and the less it emits", () => {
    const at = (tilt: number, share = 0.95) => netLongWave({ emittanceShare: share, tilt }, 15).value;
    expect(at(0)).toBeGreaterThan(-120);
    expect(at(0)).toBeLessThan(-50);
    expect(at(90)).toBeCloseTo(at(0) / 2, 9);
    expect(at(0, 0.1)).toBeCloseTo((at(0) * 0.1) / 0.95, 9);
    expect(standardUncertainty(netLongWave(BARE, 15))).toBeGreaterThan(10);
  });
  test("stands at its operating point under less than the sun", () => {
    const op = { irradianceWm2: 850, ambientC: 15, inletC: 25, flowPerArea: 0.02 };
    expect(pointOf({ bare: BARE }, op).irradianceWm2).toBeCloseTo(850 + netLongWave(BARE, 15).value, 9);
    expect(pointOf({}, op).irradianceWm2).toBe(850);
  });
  test("wind counts on light and loss where it was logged and changed; a covered box does not ask", () => {
    const made = (bare: typeof BARE | null) =>
      drawWindows({ windows: 24, days: 1, swapped: false, unmodelled: 0 }, seededRandom(4))
        .filter((p) => p.lane === "A")
        .map((p, i) => {
          const [x, wind] = [0.002 * (i % 8), 1 + (i % 5)];
          const value = 0.8 - 0.03 * (wind - 3) - (12 + 2 * (wind - 3)) * x;
          return { ...p, bare, wind, reducedTemperature: exact(x), efficiency: { ...p.efficiency, value } };
        });
    const fit = fitCurve(made(BARE), { curvature: "never" });
    if (!fit.ok) throw new Error("no fit");
    expect(fit.curve.windLight!.value).toBeCloseTo(0.03, 1);
    expect(fit.curve.windMs).toBeCloseTo(3, 0);
    expect(fit.curve.a1.value).toBeCloseTo(12, 0);
    const covered = fitCurve(made(null), { curvature: "never" });
    expect(covered.ok && covered.curve.windLight).toBeNull();
  });
});

describe("two sun sensors", () => {
  const place = { latitude: 46.31, longitude: 9.05, altitudeM: 1120 };
  const plane = { tilt: 55, azimuth: 180 };
  const noon = Date.UTC(2026, 9, 6, 11, 12);
  const setup = { place, plane, zone: "Europe/Zurich" };
  test("split the light they saw into beam and diffuse: there and back", () => {
    const sun = sunPosition(noon, place);
    for (const diffuse of [60, 150, 250]) {
      const sky = { diffuse, beamNormal: 500, global: 500 * Math.sin((sun.altitude * Math.PI) / 180) + diffuse };
      const seen = transpose(sky, { timeMs: noon, sun, plane, model: "isotropic" });
      const split = splitSky({ planeWm2: seen.total, horizontalWm2: sky.global }, noon, setup)!;
      expect(split.diffuse).toBeCloseTo(diffuse, 6);
      expect(split.beamNormal).toBeCloseTo(500, 6);
    }
  });
  test("say nothing in the dark, nor where both look the same way, nor what cannot be", () => {
    expect(splitSky({ planeWm2: 0, horizontalWm2: 0 }, noon, setup)).toBeNull();
    expect(
      splitSky({ planeWm2: 500, horizontalWm2: 500 }, noon, { ...setup, plane: { tilt: 2, azimuth: 180 } }),
    ).toBeNull();
    expect(splitSky({ planeWm2: 1600, horizontalWm2: 300 }, noon, setup)).toBeNull();
  });
  test("in one file: the header that says horizontal is the second, alone it is the sun", () => {
    const kinds = (header: string) => {
      const rows = Array.from({ length: 6 }, (_, i) => `2026-10-05T10:0${i}:00Z,${700 + i},${600 + i}`);
      const sniffed = sniffLog([header, ...rows].join("\n"), { whole: true });
      return sniffed.ok ? sniffed.layout.columns.slice(1).map((c) => c.kind) : [];
    };
    expect(kinds("time,sun in plane (W/m2),sun horizontal (W/m2)")).toEqual(["irradiance", "horizontalSun"]);
    expect(kinds("time,GHI (W/m2),POA (W/m2)")).toEqual(["horizontalSun", "irradiance"]);
    expect(kinds("time,sun horizontal (W/m2),x")[0]).toBe("irradiance");
  });
});
