import fc from "fast-check";
import { clearSky, SKY_MODELS, transpose } from "../sun/clearSky";
import { incidenceAngle, sunPosition } from "../sun/position";
import { sunDay } from "../sun/sunDay";
import { clearShareOf, climateCsv, parseClimateCsv } from "./climate";
import { CLIMATES } from "./climates";
import { distanceKm, formatCoordinates, parseCoordinates, swapSuspected } from "./coordinates";
import { fitPanorama, horizonAltitude, horizonText, parseHorizon } from "./horizon";
import {
  axesOf,
  beamShare,
  blockerOf,
  obstacleProblems,
  passes,
  shadedBy,
  skyShare,
  type Obstacle,
  type Surroundings,
  type Receiver,
} from "./shade";
import { PLAIN_SITE, planeLight, surroundingsOf, type SiteWorld } from "./site";
import { coneOutline, hourMap, tiltCurve } from "./typical";

const OPEN: Surroundings = { horizon: [], blockers: [] };

const TANSY: SiteWorld = {
  latitude: 46.31,
  longitude: 9.05,
  altitudeM: 1120,
  zone: "Europe/Zurich",
  detail: PLAIN_SITE,
};
const SOUTH: SiteWorld = {
  latitude: -38,
  longitude: 145,
  altitudeM: 50,
  zone: "Australia/Melbourne",
  detail: PLAIN_SITE,
};
const NORTH: SiteWorld = { latitude: 69.5, longitude: 18.9, altitudeM: 10, zone: "Europe/Oslo", detail: PLAIN_SITE };

describe("coordinates as people type them", () => {
  const place = { latitude: 46.31, longitude: 9.05 };
  test.each([
    "46.31, 9.05",
    "46.31 9.05",
    "46,31 9,05",
    "46,31; 9,05",
    "46.31,9.05",
    "46.31° N, 9.05° E",
    "N 46.31 E 9.05",
    "46°18'36\"N 9°3'0\"E",
    "46° 18′ 36″ N, 9° 3′ 0″ E",
    "N46 18.6 E009 03.0",
    "46 18 36 N 9 3 0 E",
    "geo:46.31,9.05",
    "9.05 E, 46.31 N",
    "lat 46.31 lon 9.05",
    "46.31 north 9.05 east",
    "46 18.6, 9 03.0",
    "46 18 36, 9 3 0",
  ])("%s", (text) => {
    const read = parseCoordinates(text);
    expect(
      read.ok && Math.abs(read.latitude - place.latitude) < 1e-6 && Math.abs(read.longitude - place.longitude) < 1e-6,
    ).toBe(true);
  });
  test("south and west are negative, by letter or sign", () => {
    for (const text of ["33.9 S, 70.5 W", "-33.9, -70.5", "−33.9 −70.5", "S33 54 W70 30"])
      expect(parseCoordinates(text)).toMatchObject({ ok: true, latitude: -33.9, longitude: -70.5 });
  });
  test("what cannot be is refused with what is wrong", () => {
    expect(parseCoordinates("91, 9.05")).toMatchObject({
      ok: false,
      problem: { kind: "outOfRange", which: "latitude", value: 91, swapHelps: true },
    });
    expect(parseCoordinates("46, 200")).toMatchObject({ problem: { kind: "outOfRange", which: "longitude" } });
    expect(parseCoordinates("46° 71' N 9° E")).toMatchObject({ problem: { kind: "sixty" } });
    expect(parseCoordinates("46.31")).toMatchObject({ problem: { kind: "oneOnly" } });
    expect(parseCoordinates("the hill")).toMatchObject({ problem: { kind: "notUnderstood" } });
    expect(parseCoordinates("46 N 9 N")).toMatchObject({ problem: { kind: "notUnderstood" } });
    expect(parseCoordinates("  ")).toMatchObject({ problem: { kind: "empty" } });
  });
  test("written to the second and read again", () => {
    fc.assert(
      fc.property(
        fc.double({ min: -89.9, max: 89.9, noNaN: true }),
        fc.double({ min: -179.9, max: 179.9, noNaN: true }),
        (latitude, longitude) => {
          const read = parseCoordinates(formatCoordinates(latitude, longitude));
          return (
            read.ok && Math.abs(read.latitude - latitude) < 2 / 3600 && Math.abs(read.longitude - longitude) < 2 / 3600
          );
        },
      ),
    );
  });
  test("distance: a degree of latitude is 111 km, pole to pole half the globe, there and back the same", () => {
    expect(distanceKm({ latitude: 46, longitude: 9 }, { latitude: 47, longitude: 9 })).toBeCloseTo(111.2, 1);
    expect(distanceKm({ latitude: 90, longitude: 0 }, { latitude: -90, longitude: 50 })).toBeCloseTo(Math.PI * 6371, 3);
    expect(distanceKm({ latitude: 10, longitude: 179 }, { latitude: -5, longitude: -179 })).toBeCloseTo(
      distanceKm({ latitude: -5, longitude: -179 }, { latitude: 10, longitude: 179 }),
      9,
    );
  });
  test("an exchange is suspected when the clock says so, and only then", () => {
    const now = Date.UTC(2026, 10, 25);
    expect(swapSuspected(9.05, 46.31, "Europe/Zurich", now)).toBe(true);
    // In summer as in winter.
    expect(swapSuspected(9.05, 46.31, "Europe/Zurich", Date.UTC(2026, 6, 20))).toBe(true);
    expect(swapSuspected(-33.9, 18.4, "Africa/Johannesburg", Date.UTC(2026, 6, 20))).toBe(false);
    expect(swapSuspected(46.31, 9.05, "Europe/Zurich", now)).toBe(false);
    expect(swapSuspected(41, -4, "Europe/Madrid", now)).toBe(false);
    expect(swapSuspected(-38, 145, "Australia/Melbourne", now)).toBe(false);
  });
});

describe("sun", () => {
  test("published example of a reference algorithm: 39.743° N, 105.179° W, 17 Oct 2003 12:30:30 (UTC−7): zenith 50.11°, azimuth 194.34° (Reda & Andreas 2004)", () => {
    const sun = sunPosition(Date.UTC(2003, 9, 17, 19, 30, 30), { latitude: 39.742476, longitude: -105.1786 });
    expect(90 - sun.altitude).toBeCloseTo(50.11162, 1);
    expect(Math.abs(90 - sun.altitude - 50.11162)).toBeLessThan(0.02);
    expect(Math.abs(sun.azimuth - 194.34024)).toBeLessThan(0.02);
  });
  test("at the poles the sun's height is its declination, all day", () => {
    const heights = Array.from(
      { length: 24 },
      (_, h) => sunPosition(Date.UTC(2026, 5, 21, h), { latitude: 90, longitude: 0 }).altitude,
    );
    expect(Math.max(...heights) - Math.min(...heights)).toBeLessThan(0.05);
    expect(heights[12]).toBeCloseTo(23.44, 1);
  });
  test("polar day, polar night and the days between", () => {
    expect(sunDay(Date.UTC(2026, 5, 21, 12), NORTH, NORTH.zone)).toMatchObject({
      kind: "polarDay",
      riseMs: null,
      setMs: null,
    });
    expect(sunDay(Date.UTC(2026, 11, 21, 12), NORTH, NORTH.zone)).toMatchObject({ kind: "polarNight" });
    expect(sunDay(Date.UTC(2026, 2, 20, 12), NORTH, NORTH.zone).kind).toBe("rises");
  });
  test("equinox day lasts 12 h and some minutes for refraction and the sun's radius, anywhere", () => {
    for (const site of [TANSY, SOUTH, { ...TANSY, latitude: 0.01 }]) {
      const d = sunDay(Date.UTC(2026, 2, 20, 12), site, site.zone);
      const hours = (d.setMs! - d.riseMs!) / 3600000;
      expect(hours).toBeGreaterThan(12);
      expect(hours).toBeLessThan(12.35);
    }
  });
  test("the day the clocks change has 23 or 25 hours, and the sun does not care", () => {
    const spring = sunDay(Date.UTC(2026, 2, 29, 12), TANSY, TANSY.zone);
    const autumn = sunDay(Date.UTC(2026, 9, 25, 12), TANSY, TANSY.zone);
    expect((spring.endMs - spring.startMs) / 3600000).toBe(23);
    expect((autumn.endMs - autumn.startMs) / 3600000).toBe(25);
    const eve = sunDay(Date.UTC(2026, 2, 28, 12), TANSY, TANSY.zone);
    expect(Math.abs(spring.noonMs - eve.noonMs - 24 * 3600000)).toBeLessThan(60000);
  });
  test("noon is where rise and set are far by the same", () => {
    const d = sunDay(Date.UTC(2026, 5, 21, 12), TANSY, TANSY.zone);
    expect(Math.abs(d.noonMs - d.riseMs! - (d.setMs! - d.noonMs))).toBeLessThan(90000);
    expect(d.noonAltitude).toBeCloseTo(90 - 46.31 + 23.44, 1);
  });
});

describe("transposition", () => {
  test("closes for every model, time and place: a horizontal plane over black ground gets the global irradiance", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 365 * 24 * 4 }),
        fc.double({ min: -66, max: 66, noNaN: true }),
        fc.constantFrom(...SKY_MODELS),
        (quarter, latitude, model) => {
          const timeMs = Date.UTC(2026, 0, 1) + quarter * 900000;
          const place = { latitude, longitude: 9, altitudeM: 300 };
          const sun = sunPosition(timeMs, place);
          const sky = clearSky(timeMs, place, 3, sun);
          const flat = transpose(sky, { timeMs, sun, plane: { tilt: 0, azimuth: 180 }, groundReflectance: 0, model });
          return Math.abs(flat.total - sky.global) < 1e-6 + 1e-9 * sky.global;
        },
      ),
      { numRuns: 300 },
    );
  });
  test("an upright plane under an isotropic overcast sky gets half the sky and half the ground's reflection", () => {
    const timeMs = Date.UTC(2026, 5, 21, 11);
    const sun = sunPosition(timeMs, TANSY);
    const wall = transpose(
      { global: 200, diffuse: 200, beamNormal: 0 },
      { timeMs, sun, plane: { tilt: 90, azimuth: 180 }, groundReflectance: 0.5, model: "isotropic" },
    );
    expect(wall.sky).toBeCloseTo(100, 6);
    expect(wall.ground).toBeCloseTo(50, 6);
  });
  test("on a clear day the models order isotropic < Hay–Davies ≤ Perez for a plane facing the sun, within a tenth of each other", () => {
    const timeMs = Date.UTC(2026, 9, 6, 11, 12);
    const sun = sunPosition(timeMs, TANSY);
    const [iso, hay, perez] = SKY_MODELS.map(
      (model) => transpose(clearSky(timeMs, TANSY), { timeMs, sun, plane: { tilt: 55, azimuth: 180 }, model }).total,
    );
    expect(iso).toBeLessThan(hay);
    expect(Math.abs(perez / hay - 1)).toBeLessThan(0.05);
    expect(hay / iso).toBeLessThan(1.1);
  });
  test("northern and southern hemispheres are mirror images at opposite seasons", () => {
    const noon = (site: SiteWorld, month: number) =>
      sunDay(Date.UTC(2026, month, 21, 12) - site.longitude * 240000, site, site.zone).noonMs;
    const a = incidenceAngle(sunPosition(noon({ ...TANSY, latitude: 38 }, 5), { ...TANSY, latitude: 38 }), {
      tilt: 38,
      azimuth: 180,
    });
    const b = incidenceAngle(sunPosition(noon(SOUTH, 11), SOUTH), { tilt: 38, azimuth: 0 });
    expect(Math.abs(a - b)).toBeLessThan(0.05);
  });
});

describe("skyline", () => {
  test("runs straight between corners, through north too", () => {
    const h = [
      { azimuth: 10, altitude: 4 },
      { azimuth: 100, altitude: 22 },
      { azimuth: 350, altitude: 8 },
    ];
    expect(horizonAltitude(h, 55)).toBeCloseTo(13, 9);
    expect(horizonAltitude(h, 0)).toBeCloseTo(6, 9);
    expect(horizonAltitude(h, 360)).toBeCloseTo(6, 9);
    expect(horizonAltitude([], 77)).toBe(0);
  });
  test("pasted from anywhere: tabs, commas, headings, decimal commas, north twice, negative azimuths; written and read again", () => {
    const read = parseHorizon("azimuth;height\n-10; 3,5\n90; 20\n0;4\n360;4\n");
    expect(read).toEqual({
      ok: true,
      horizon: [
        { azimuth: 0, altitude: 4 },
        { azimuth: 90, altitude: 20 },
        { azimuth: 350, altitude: 3.5 },
      ],
    });
    if (read.ok) expect(parseHorizon(horizonText(read.horizon))).toEqual(read);
    expect(parseHorizon("90 12\n120 abc")).toMatchObject({ problem: { kind: "notTwoNumbers", line: 2 } });
    expect(parseHorizon("400 12")).toMatchObject({ problem: { kind: "azimuthRange", line: 1, value: 400 } });
    expect(parseHorizon("90 95")).toMatchObject({ problem: { kind: "altitudeRange" } });
    expect(parseHorizon("90 5\n90 7")).toMatchObject({ problem: { kind: "sameAzimuth", line: 2 } });
  });
  test("a panorama gives directions from two marks, also across north; a third shows the misfit", () => {
    const fit = fitPanorama([
      { x: 100, y: 300, azimuth: 340, altitude: 5 },
      { x: 900, y: 380, azimuth: 20, altitude: 1 },
    ])!;
    expect(fit.degreesPerPixel).toBeCloseTo(0.05, 9);
    expect(fit.misfit).toBeCloseTo(0, 9);
    expect(fit.toDirection(500, 300)).toMatchObject({ azimuth: 0 });
    expect(fit.toDirection(500, 300).altitude).toBeCloseTo(5, 6);
    expect(fitPanorama([{ x: 100, y: 300, azimuth: 340, altitude: 5 }])).toBeNull();
    expect(
      fitPanorama([
        { x: 100, y: 300, azimuth: 340, altitude: 5 },
        { x: 110, y: 300, azimuth: 341, altitude: 5 },
      ]),
    ).toBeNull();
    expect(
      fitPanorama([
        { x: 0, y: 300, azimuth: 100, altitude: 0 },
        { x: 500, y: 300, azimuth: 150, altitude: 0 },
        { x: 1000, y: 300, azimuth: 210, altitude: 0 },
      ])!.misfit,
    ).toBeGreaterThan(1);
  });
});

describe("shade", () => {
  const receiver: Receiver = { centre: [0, 0, 1], plane: { tilt: 55, azimuth: 180 }, widthM: 1, lengthM: 2 };
  const wall: Obstacle = {
    id: "w",
    kind: "wall",
    name: "Wall",
    bearing: 180,
    distanceM: 5,
    widthM: 6,
    heightM: 4,
    facing: null,
  };
  const tree: Obstacle = {
    id: "t",
    kind: "tree",
    name: "Plum",
    bearing: 120,
    distanceM: 8,
    crownDiameterM: 4,
    topM: 7,
    bottomM: 2,
    transmittance: 0.15,
    winterTransmittance: 0.6,
  };
  const around = (o: Obstacle, month = 7) => ({ horizon: [], blockers: [blockerOf(o, month, 46)] });
  test("a wall to the south shades below its top's angle and not above; the sun beside it passes", () => {
    const angle = (Math.atan2(4 - 1, 5) * 180) / Math.PI;
    expect(beamShare({ altitude: angle - 12, azimuth: 180 }, receiver, around(wall))).toBe(0);
    expect(beamShare({ altitude: angle + 12, azimuth: 180 }, receiver, around(wall))).toBe(1);
    const part = beamShare({ altitude: angle, azimuth: 180 }, receiver, around(wall));
    expect(part).toBeGreaterThan(0.2);
    expect(part).toBeLessThan(0.8);
    expect(beamShare({ altitude: 20, azimuth: 100 }, receiver, around(wall))).toBe(1);
    expect(beamShare({ altitude: 20, azimuth: 0 }, receiver, around(wall))).toBe(1);
  });
  test("a bare tree lets more through than one in leaf, in its hemisphere's winter", () => {
    const sun = { altitude: 24, azimuth: 120 };
    const summer = beamShare(sun, receiver, around(tree, 7));
    const winter = beamShare(sun, receiver, around(tree, 1));
    expect(summer).toBeLessThan(0.4);
    expect(winter).toBeGreaterThan(summer);
    expect(blockerOf(tree, 1, -38)).toMatchObject({ transmittance: 0.15 });
    expect(shadedBy(sun, receiver, around(tree))).toBe("Plum");
    expect(passes(blockerOf(tree, 7, 46), [0, 0, 1], [0, 1, 0])).toBe(1);
  });
  test("sky: all of it in the open; a skyline of 0° takes nothing, one of 30° some, higher more", () => {
    expect(skyShare(receiver, OPEN)).toBe(1);
    const flat = (altitude: number) =>
      skyShare(receiver, {
        horizon: [
          { azimuth: 0, altitude },
          { azimuth: 180, altitude },
        ],
        blockers: [],
      });
    expect(flat(0)).toBeCloseTo(1, 9);
    expect(flat(30)).toBeLessThan(0.85);
    expect(flat(60)).toBeLessThan(flat(30));
    // For a horizontal plane the dome above height h gives cos²h of the light (isotropic).
    const level = { ...receiver, plane: { tilt: 0, azimuth: 180 } };
    expect(
      skyShare(level, {
        horizon: [
          { azimuth: 0, altitude: 30 },
          { azimuth: 180, altitude: 30 },
        ],
        blockers: [],
      }),
    ).toBeCloseTo(0.75, 2);
  });
  test("the plane's axes are square to each other; across runs right as one looks at the glass", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 90 }), fc.integer({ min: 0, max: 359 }), (tilt, azimuth) => {
        const { across, up, normal } = axesOf({ tilt, azimuth });
        const dot = (a: readonly number[], b: readonly number[]) => a.reduce((s, v, i) => s + v * b[i], 0);
        return (
          [dot(across, up), dot(up, normal), dot(across, normal)].every((d) => Math.abs(d) < 1e-9) &&
          up[2] >= -1e-9 &&
          Math.abs(dot(up, up) - 1) < 1e-9
        );
      }),
    );
    expect(axesOf({ tilt: 55, azimuth: 180 }).across[0]).toBeCloseTo(1, 9);
  });
  test("what cannot stand is named: on the bench, upside down, of no size, two in one place", () => {
    expect(obstacleProblems([wall, tree])).toEqual([]);
    expect(obstacleProblems([{ ...wall, distanceM: 0.2 }])).toMatchObject([{ kind: "onBench", id: "w" }]);
    expect(obstacleProblems([{ ...tree, bottomM: 8 }])).toMatchObject([{ kind: "crown" }]);
    expect(obstacleProblems([{ ...tree, crownDiameterM: 0 }])).toMatchObject([{ kind: "size" }]);
    expect(obstacleProblems([tree, { ...tree, id: "u", name: "Pear", bearing: 130 }])).toMatchObject([
      { kind: "overlap", name: "Pear", other: "Plum" },
    ]);
    expect(obstacleProblems([{ ...wall, bearing: 120, distanceM: 8 }, tree])).toMatchObject([{ kind: "overlap" }]);
    expect(obstacleProblems([wall, { ...wall, id: "x", name: "Fence", facing: 90 }])).toMatchObject([
      { kind: "overlap", other: "Wall" },
    ]);
  });
  test("skyline and obstacles take beam and sky, never add; winter sun behind a ridge is gone", () => {
    const ridge: SiteWorld = {
      ...TANSY,
      detail: {
        ...PLAIN_SITE,
        horizon: [
          { azimuth: 88, altitude: 0 },
          { azimuth: 90, altitude: 25 },
          { azimuth: 170, altitude: 25 },
          { azimuth: 172, altitude: 0 },
        ],
      },
    };
    const at = Date.UTC(2026, 11, 21, 9);
    const behind = planeLight(ridge, receiver, surroundingsOf(ridge, at))(at);
    const free = planeLight(TANSY, receiver, surroundingsOf(TANSY, at))(at);
    expect(behind.beam).toBe(0);
    expect(free.beam).toBeGreaterThan(300);
    expect(behind.sky).toBeLessThan(free.sky);
    expect(behind.ground).toBe(free.ground);
  });
});

describe("climate", () => {
  test("every shipped climate is complete, sunnier in its summer, and its sun fits under a clear sky", () => {
    for (const climate of CLIMATES) {
      const latitude =
        (climate.name.includes("S") && /° S/.test(climate.name) ? -1 : 1) * Number(/(\d+)°/.exec(climate.name)![1]);
      const place = { latitude, longitude: 0, altitudeM: /1,[15]00/.test(climate.name) ? 1200 : 50 };
      const read = parseClimateCsv(climateCsv(climate), climate.name, { place, turbidity: Array(12).fill(2.5) });
      expect(read).toMatchObject({ ok: true });
      expect(climate.months[latitude > 0 ? 5 : 11].globalKwhM2).toBeGreaterThan(
        climate.months[latitude > 0 ? 11 : 5].globalKwhM2,
      );
      for (let m = 0; m < 12; m++) {
        const share = clearShareOf(climate, m, place, 3);
        expect(share).toBeGreaterThanOrEqual(0);
        expect(share).toBeLessThanOrEqual(1);
      }
    }
  });
  test("a month as sunny as its clear days is all clear; one with a quarter of it never", () => {
    const month = (factor: number) => ({
      name: "x",
      source: "",
      months: Array.from({ length: 12 }, () => ({ globalKwhM2: factor, meanC: 10, windMs: null, clearShare: null })),
    });
    const place = { latitude: 46, longitude: 0, altitudeM: 300 };
    expect(clearShareOf(month(20), 5, place, 3)).toBe(1);
    expect(clearShareOf(month(1.5), 5, place, 3)).toBe(0);
    expect(clearShareOf(month(1), 11, { ...place, latitude: 80 }, 3)).toBe(0);
  });
  test("CSV: units in the heading, names of months, decimal commas; faults name their line", () => {
    const months = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
    const csv = [
      "Month;Global MJ/m2;Mean",
      ...months.map((m, i) => `${m};${String(3.6 * (1 + i / 10)).replace(".", ",")};${i - 2},5`),
    ].join("\n");
    const read = parseClimateCsv(csv, "hut");
    expect(read.ok && read.climate.months[11].globalKwhM2).toBeCloseTo(2.1, 6);
    expect(parseClimateCsv("a,b\n1,2", "x")).toMatchObject({ problem: { kind: "columns", found: ["a", "b"] } });
    expect(parseClimateCsv("month,global,mean\n1,2,3\n2,x,3", "x")).toMatchObject({
      problem: { kind: "notANumber", line: 3, column: "global" },
    });
    expect(parseClimateCsv("month,global,mean\n1,2,3", "x")).toMatchObject({
      problem: { kind: "months", found: [2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12] },
    });
    expect(parseClimateCsv("month,global,mean\n1,200,3", "x")).toMatchObject({
      problem: { kind: "range", value: 200 },
    });
    const sunny = ["month,global,mean", ...months.map((_, i) => `${i + 1},9,5`)].join("\n");
    expect(
      parseClimateCsv(sunny, "x", {
        place: { latitude: 60, longitude: 0, altitudeM: 0 },
        turbidity: Array(12).fill(3),
      }),
    ).toMatchObject({ problem: { kind: "tooSunny", month: 1 } });
  });
});

describe("views of the year", () => {
  test("north of the tropics the best tilt is steeper in winter than over the year, and that steeper than in summer; an average winter is flatter than a clear one", () => {
    const best = (months: number[], climate = false) =>
      tiltCurve(TANSY, 180, months, climate ? CLIMATES[0] : null, 2026).best.tilt;
    expect(best([11, 0, 1])).toBeGreaterThan(best([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11]));
    expect(best([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11])).toBeGreaterThan(best([5, 6, 7]));
    expect(best([11, 0, 1])).toBeGreaterThan(55);
    expect(best([5, 6, 7])).toBeLessThan(30);
    expect(best([11, 0, 1], true)).toBeLessThan(best([11, 0, 1]));
  });
  test("the map of a southern site peaks in December facing north, and knows night from shade", () => {
    const map = hourMap(SOUTH, { tilt: 30, azimuth: 0 }, null, 2026);
    const peak = map.irradiance.map((r) => Math.max(...r));
    expect(peak[11]).toBeGreaterThan(peak[5]);
    expect(map.incidence[11][2]).toBeNull();
    expect(Math.min(...map.incidence[5].filter((v) => v !== null))).toBeLessThan(40);
  });
  test("an average day brings the month's irradiation on the horizontal", () => {
    for (const m of [0, 6]) {
      const map = hourMap(
        { ...TANSY, detail: { ...PLAIN_SITE, groundReflectance: Array(12).fill(0), skyModel: "isotropic" } },
        { tilt: 0, azimuth: 180 },
        CLIMATES[0],
        2026,
      );
      const sum = map.irradiance[m].reduce((a, b) => a + b, 0) / 1000;
      expect(Math.abs(sum / CLIMATES[0].months[m].globalKwhM2 - 1)).toBeLessThan(0.05);
    }
  });
  test("every point of the cone's outline stands 30° from the plane's normal", () => {
    for (const plane of [
      { tilt: 55, azimuth: 180 },
      { tilt: 80, azimuth: 20 },
      { tilt: 10, azimuth: 200 },
    ])
      for (const p of coneOutline(plane)) expect(incidenceAngle(p, plane)).toBeCloseTo(30, 3);
  });
});

test.each([
  [".5, .25", 0.5, 0.25],
  ["+46.31, +9.05", 46.31, 9.05],
  ["-.5 -.25", -0.5, -0.25],
])("%s, its point or sign without a digit before it", (text, latitude, longitude) =>
  expect(parseCoordinates(text)).toEqual({ ok: true, latitude, longitude }),
);

test.each(["0, -0+.01", "46-3, 9", "46.1.2, 9.05"])("%s is two numbers run together: refused", (text) =>
  expect(parseCoordinates(text).ok).toBe(false),
);
