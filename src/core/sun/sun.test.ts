import {
  beamModifier,
  clearSky,
  clearSkyInPlane,
  erbsDiffuseFraction,
  incidenceModifier,
  overallModifier,
  transpose,
} from "./clearSky";
import { getTimes } from "suncalc";
import {
  extraterrestrialNormal,
  incidenceAngle,
  incidenceParts,
  relativeAirMass,
  SOLAR_CONSTANT,
  sunDistance,
  sunPosition,
} from "./position";
import { sunDay } from "./sunDay";

/** Clear-sky global irradiance of Haurwitz (1945), W/m²: 1098·sin h·exp(−0.059/sin h). A check only; knows no altitude. */
function haurwitz(altitude: number): number {
  if (altitude <= 0) return 0;
  const s = Math.sin(altitude * (Math.PI / 180));
  return 1098 * s * Math.exp(-0.059 / s);
}

const TANSY = { latitude: 46.31, longitude: 9.05, altitudeM: 1120 };

describe("sun position", () => {
  test("at the equinox the noon sun stands at 90° less the latitude, due south", () => {
    const noon = Date.UTC(2026, 2, 20, 11, 31);
    const sun = sunPosition(noon, TANSY);
    expect(sun.altitude).toBeCloseTo(90 - 46.31, 0);
    expect(Math.abs(sun.azimuth - 180)).toBeLessThan(1);
  });
  test("south of the equator the noon sun stands north", () => {
    const sun = sunPosition(Date.UTC(2026, 5, 21, 2, 0), { latitude: -33, longitude: 150 });
    expect(Math.min(sun.azimuth, 360 - sun.azimuth)).toBeLessThan(5);
    expect(sun.altitude).toBeCloseTo(90 - 33 - 23.44, 0);
  });
  test("incidence: normal when the plane faces the sun, symmetric about the plane's azimuth", () => {
    expect(incidenceAngle({ altitude: 35, azimuth: 180 }, { tilt: 55, azimuth: 180 })).toBeCloseTo(0, 5);
    expect(incidenceAngle({ altitude: 90, azimuth: 10 }, { tilt: 30, azimuth: 180 })).toBeCloseTo(30, 6);
    const east = incidenceAngle({ altitude: 30, azimuth: 150 }, { tilt: 55, azimuth: 180 });
    const west = incidenceAngle({ altitude: 30, azimuth: 210 }, { tilt: 55, azimuth: 180 });
    expect(east).toBeCloseTo(west, 9);
  });
  test("air mass 1 at the zenith, about 38 at the horizon (Kasten & Young)", () => {
    expect(relativeAirMass(90)).toBeCloseTo(1, 3);
    expect(relativeAirMass(30)).toBeCloseTo(1.994, 2);
    expect(relativeAirMass(0)).toBeCloseTo(38, 0);
  });
  test("extraterrestrial irradiance swings ±3.4 % about the solar constant, most in January", () => {
    expect(extraterrestrialNormal(Date.UTC(2026, 0, 3)) / SOLAR_CONSTANT).toBeCloseTo(1.034, 2);
    expect(extraterrestrialNormal(Date.UTC(2026, 6, 4)) / SOLAR_CONSTANT).toBeCloseTo(0.967, 2);
  });
});

describe("distance and almanac", () => {
  test("the sun's distance: Meeus example 25.a, 1992 October 13, 0.99766", () =>
    expect(sunDistance(Date.UTC(1992, 9, 13))).toBeCloseTo(0.99766, 5));
  test("nearest in the first days of January, farthest in the first of July, by the year", () => {
    for (const year of [1999, 2026, 2050]) {
      const days = Array.from({ length: 365 }, (_, d) => sunDistance(Date.UTC(year, 0, 1 + d, 12)));
      expect(days.indexOf(Math.min(...days))).toBeLessThan(6);
      expect(Math.abs(days.indexOf(Math.max(...days)) - 184)).toBeLessThan(4);
    }
  });
  test("it is a smooth line: midnight brings no step", () => {
    const midnight = Date.UTC(2026, 2, 1);
    expect(Math.abs(extraterrestrialNormal(midnight + 1000) - extraterrestrialNormal(midnight - 1000))).toBeLessThan(
      1e-3,
    );
  });
  test.each([
    ["spring", Date.UTC(2026, 2, 20, 11)],
    ["June", Date.UTC(2026, 5, 21, 11)],
    ["December", Date.UTC(2026, 11, 21, 11)],
  ])("rise and set agree with the almanac's −50′ within three seconds in %s", (_, ms) => {
    const day = sunDay(ms, TANSY, "Europe/Zurich");
    const almanac = getTimes(new Date(ms), TANSY.latitude, TANSY.longitude);
    expect(Math.abs(day.riseMs! - almanac.sunrise!.getTime())).toBeLessThan(3000);
    expect(Math.abs(day.setMs! - almanac.sunset!.getTime())).toBeLessThan(3000);
  });
});

describe("clear sky", () => {
  const noon = Date.UTC(2026, 9, 6, 11, 12);
  test("closes: global = diffuse + beam·sin h", () => {
    const sky = clearSky(noon, TANSY);
    const h = (sunPosition(noon, TANSY).altitude * Math.PI) / 180;
    expect(sky.diffuse + sky.beamNormal * Math.sin(h)).toBeCloseTo(sky.global, 6);
  });
  test("agrees with Haurwitz within 12 % at a clear low-land noon and is dark at night", () => {
    const place = { ...TANSY, altitudeM: 200 };
    expect(Math.abs(clearSky(noon, place).global / haurwitz(sunPosition(noon, place).altitude) - 1)).toBeLessThan(0.12);
    expect(clearSky(Date.UTC(2026, 9, 6, 23), TANSY).global).toBe(0);
  });
  test("hazier air means less beam and more diffuse light", () => {
    expect(clearSky(noon, TANSY, 5).beamNormal).toBeLessThan(clearSky(noon, TANSY, 2.5).beamNormal);
    expect(clearSky(noon, TANSY, 5).diffuse).toBeGreaterThan(clearSky(noon, TANSY, 2.5).diffuse);
  });
  test("transposition closes: a horizontal plane without ground gives the horizontal irradiance", () => {
    const sun = sunPosition(noon, TANSY);
    for (const model of ["isotropic", "hayDavies"] as const) {
      const flat = transpose(clearSky(noon, TANSY), {
        timeMs: noon,
        sun,
        plane: { tilt: 0, azimuth: 180 },
        groundReflectance: 0,
        model,
      });
      expect(flat.total).toBeCloseTo(clearSky(noon, TANSY).global, 6);
    }
  });
  test("in October on the hill a 55° plane gets 950 to 1,050 W/m² at noon", () => {
    const total = clearSkyInPlane(noon, TANSY, { tilt: 55, azimuth: 180 }).total;
    expect(total).toBeGreaterThan(950);
    expect(total).toBeLessThan(1090);
  });
  test("Erbs is continuous at its joints", () => {
    for (const k of [0.22, 0.8]) expect(erbsDiffuseFraction(k - 1e-9)).toBeCloseTo(erbsDiffuseFraction(k + 1e-9), 2);
  });
});

describe("incidence modifier", () => {
  test("1 at normal incidence, 0.9 at 60° for b0 = 0.1, continuous there, 0 at grazing", () => {
    expect(incidenceModifier(0, 0.1)).toBe(1);
    expect(incidenceModifier(60, 0.1)).toBeCloseTo(0.9, 9);
    expect(incidenceModifier(60.0001, 0.1)).toBeCloseTo(0.9, 5);
    expect(incidenceModifier(90, 0.1)).toBe(0);
  });
  test("of mixed light lies between its parts", () => {
    const K = overallModifier({ beam: 600, sky: 200, ground: 100, total: 900, incidence: 20 }, { b0: 0.1 }, 55);
    expect(K).toBeLessThan(incidenceModifier(20, 0.1));
    expect(K).toBeGreaterThan(incidenceModifier(70, 0.1));
  });
});

describe("tubes that run up the plane", () => {
  const plane = { tilt: 55, azimuth: 180 };
  test("the two parts of the angle make the whole: tan²θ = tan²along + tan²across", () => {
    const sun = { altitude: 30, azimuth: 150 };
    const { along, across } = incidenceParts(sun, plane);
    const tan = (d: number) => Math.tan((d * Math.PI) / 180);
    expect(tan(along) ** 2 + tan(across) ** 2).toBeCloseTo(tan(incidenceAngle(sun, plane)) ** 2, 9);
    expect(incidenceParts({ altitude: 20, azimuth: 180 }, plane).across).toBeCloseTo(0, 9);
    expect(incidenceParts({ altitude: 20, azimuth: 180 }, plane).along).toBeCloseTo(15, 9);
  });
  test("across them K may exceed 1, along them it does not; one coefficient knows no direction", () => {
    const tubes = { b0: 0.1, b0Across: -0.4 };
    expect(beamModifier(40, tubes, { along: 0, across: 40 })).toBeCloseTo(1 + 0.4 * (1 / Math.cos(0.698132) - 1), 5);
    expect(beamModifier(40, tubes, { along: 40, across: 0 })).toBeLessThan(1);
    expect(beamModifier(40, { b0: 0.1, b0Across: null }, { along: 0, across: 40 })).toBe(incidenceModifier(40, 0.1));
  });
});
