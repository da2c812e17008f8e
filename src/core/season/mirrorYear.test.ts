import fc from "fast-check";
import { answer, job } from "../../../scripts/testing/seasonJob";
import { addedOfDay, adjustmentList, bestOfDay, lensSpot, lowSolstice, thrownTo } from "../mirror/angles";
import { frameOf, litShape, mirrorBeam, mirrorState, sunFrom, type Vector } from "../mirror/geometry";
import { hingedMirror, isUp, mirrorArea, mirrorPlace, mirrorsOf, reflectanceOf, type Mirror } from "../mirror/mirror";
import { beamsOf, diffuseView } from "../mirror/several";
import { BENCH_ZONE, TANSY_RIDGE } from "../rig/bench";
import { CLIMATES } from "../site/climates";
import { PLAIN_SITE, type SiteWorld } from "../site/site";
import { yearOf } from "./account";
import type { Candidate } from "./season";
import type { Mirrored } from "./scenario";
import { monthlyYear } from "./weather";
import { flowForRise, mirrorYearOf, type MirrorCase } from "./mirrorYear";

const BOX = { widthM: 1, lengthM: 2 };
const SITE: SiteWorld = { ...TANSY_RIDGE, zone: BENCH_ZONE, detail: PLAIN_SITE };
const SOUTHERN: SiteWorld = { ...SITE, latitude: -SITE.latitude };
const PLANE = { tilt: 60, azimuth: 180 };

const unit = (x: number, y: number, z: number): Vector => {
  const n = Math.hypot(x, y, z);
  return [x / n, y / n, z / n];
};

describe("several mirrors", () => {
  test("two that do not meet each other light what each lights alone", () => {
    const left = hingedMirror({ id: "l", stand: "left", angle: 120, depthM: 1 });
    const right = hingedMirror({ id: "r", stand: "right", angle: 120, depthM: 1 });
    const places = [left, right].map((m) => mirrorPlace(BOX, PLANE, m));
    const sun = unit(0, 0, 1);
    const both = beamsOf(BOX, places, sun);
    places.forEach((p, i) => {
      const alone = mirrorBeam(BOX, p, sun);
      expect(both.mirrors[i].lit).toBeCloseTo(alone.lit, 1);
      expect(both.mirrors[i].cosine).toBeCloseTo(alone.cosine, 9);
    });
  });
  test("one that stands in another's light takes it away", () => {
    const bottom = hingedMirror({ id: "b", angle: 120, depthM: 1.5 });
    const sun = unit(0, -0.2, 1);
    const alone = beamsOf(BOX, [mirrorPlace(BOX, PLANE, bottom)], sun).mirrors[0].lit;
    // A screen right before the bottom mirror's face.
    const screen = mirrorPlace(BOX, PLANE, hingedMirror({ id: "s", angle: 90, depthM: 3, gapM: -0.02 }));
    expect(alone).toBeGreaterThan(0.3);
    expect(beamsOf(BOX, [mirrorPlace(BOX, PLANE, bottom), screen], sun).mirrors[0].lit).toBeLessThan(0.2 * alone);
  });
  test("an upper mirror leaning over the box shades it from a high sun", () => {
    const top = hingedMirror({ stand: "top", angle: 70, depthM: 1 });
    const place = mirrorPlace(BOX, PLANE, top);
    const high = unit(0, 0.9, 0.5);
    expect(beamsOf(BOX, [place], high).shaded).toBeGreaterThan(0.1);
    expect(
      beamsOf(BOX, [place, mirrorPlace(BOX, PLANE, hingedMirror({ angle: 175, depthM: 0.1 }))], high).shaded,
    ).toBeCloseTo(mirrorBeam(BOX, place, high).shaded, 1);
  });
});

describe("diffuse light", () => {
  // Two rectangles with a common edge at right angles: Hottel & Howell's formula (configuration C-14).
  const hottel = (length: number, across: number, edge: number): number => {
    const [w, h] = [across / edge, length / edge];
    const { atan, sqrt, log } = Math;
    return (
      (w * atan(1 / w) +
        h * atan(1 / h) -
        sqrt(h * h + w * w) * atan(1 / sqrt(h * h + w * w)) +
        0.25 *
          log(
            (((1 + w * w) * (1 + h * h)) / (1 + w * w + h * h)) *
              ((w * w * (1 + w * w + h * h)) / ((1 + w * w) * (w * w + h * h))) ** (w * w) *
              ((h * h * (1 + h * h + w * w)) / ((1 + h * h) * (h * h + w * w))) ** (h * h),
          )) /
      (Math.PI * w)
    );
  };
  test.each([
    [1, 1],
    [2, 1],
    [0.5, 1],
    [1.5, 3],
  ])("mirror %p m deep along an edge %p m: view factor as the closed form's", (depthM, widthM) => {
    const box = { widthM, lengthM: 2 };
    const place = mirrorPlace(box, PLANE, hingedMirror({ angle: 90, depthM }));
    const view = diffuseView(box, [place], [0, 0, 1]);
    expect(Math.abs(view.hiddenSky + view.hiddenGround - hottel(depthM, box.lengthM, widthM))).toBeLessThan(0.02);
  });
  test("what a mirror shows is what it hides, and a bottom mirror shows sky for ground", () => {
    const { up, right, out } = frameOf(PLANE);
    const place = mirrorPlace(BOX, PLANE, hingedMirror({ angle: 100, depthM: 1.5 }));
    const view = diffuseView(BOX, [place], [right[2], up[2], out[2]]);
    expect(view.shown[0].sky + view.shown[0].ground).toBeCloseTo(view.hiddenSky + view.hiddenGround, 12);
    expect(view.shown[0].sky).toBeGreaterThan(view.hiddenSky);
  });
});

describe("mirrors", () => {
  test("free ones stand where they are said to stand, and face the box", () => {
    const free: Mirror = {
      ...hingedMirror({ stand: "free", angle: 90, depthM: 1, widthM: 2 }),
      free: { awayM: 2, rightM: 0, higherM: 0, turn: 180 },
    };
    const upright = { tilt: 90, azimuth: 180 };
    const { corner, along, across } = mirrorPlace(BOX, upright, free);
    // Of an upright box the outward axis is level: the mirror's foot is two metres out, its middle over the box's.
    expect(corner[2]).toBeCloseTo(2, 9);
    expect(corner[0] + along[0] / 2).toBeCloseTo(BOX.widthM / 2, 9);
    expect(across[1]).toBeCloseTo(1, 9);
    expect(Math.hypot(...along)).toBeCloseTo(2, 9);
    expect(() => mirrorPlace(BOX, upright, { ...free, free: null })).toThrow(RangeError);
  });
  test("dates over new year, area and reflectance", () => {
    expect(isUp({ up: { from: "10-15", until: "03-20" } }, 12, 24)).toBe(true);
    expect(isUp({ up: { from: "10-15", until: "03-20" } }, 6, 1)).toBe(false);
    expect(isUp({ up: { from: "03-01", until: "03-31" } }, 3, 31)).toBe(true);
    expect(isUp({ up: null }, 6, 1)).toBe(true);
    expect(mirrorArea(BOX, hingedMirror({ stand: "left", depthM: 0.5 }))).toBe(1);
    expect(reflectanceOf(hingedMirror({ reflectance: 0.7 }), {})).toBe(0.7);
    expect(mirrorsOf(null)).toEqual([]);
  });
  test("the lit shape has the lit share's area, and stays on the box", () => {
    fc.assert(
      fc.property(
        fc.constantFrom("bottom" as const, "top" as const, "left" as const, "right" as const),
        fc.double({ min: 30, max: 170, noNaN: true }),
        fc.double({ min: -0.8, max: 0.8, noNaN: true }),
        fc.double({ min: -0.8, max: 0.8, noNaN: true }),
        (stand, angle, x, y) => {
          const place = mirrorPlace(BOX, PLANE, hingedMirror({ stand, angle, depthM: 1.3 }));
          const sun = unit(x, y, 1);
          const shape = litShape(BOX, place, sun);
          const area = Math.abs(
            shape.reduce((s, p, i) => {
              const q = shape[(i + 1) % shape.length];
              return s + p[0] * q[1] - q[0] * p[1];
            }, 0) / 2,
          );
          expect(area / 2).toBeCloseTo(mirrorBeam(BOX, place, sun).lit, 6);
          for (const [px, py] of shape) expect(px > -1e-9 && px < 1 + 1e-9 && py > -1e-9 && py < 2 + 1e-9).toBe(true);
        },
      ),
    );
  });
  test("why there is no light is said", () => {
    const place = mirrorPlace(BOX, PLANE, hingedMirror({ angle: 100 }));
    expect(mirrorState(BOX, place, unit(0, 0, 1), -3)).toBe("night");
    expect(mirrorState(BOX, place, unit(0, -0.5, -0.3), 20)).toBe("sunBehindPlane");
    expect(mirrorState(BOX, place, unit(0, -0.6, 1), 20)).toBe("sunBehindMirror");
    expect(mirrorState(BOX, mirrorPlace(BOX, PLANE, hingedMirror({ angle: 120 })), unit(0, 0.2, 1), 30)).toBe("lights");
    expect(mirrorState(BOX, mirrorPlace(BOX, PLANE, hingedMirror({ angle: 180 })), unit(0, 0, 1), 30)).toBe(
      "seenEdgeOn",
    );
    expect(mirrorState(BOX, mirrorPlace(BOX, PLANE, hingedMirror({ angle: 120, depthM: 0 })), unit(0, 0, 1), 30)).toBe(
      "seenEdgeOn",
    );
  });
});

describe("angles through the year", () => {
  const mirror = hingedMirror({ depthM: 1.5 });
  test("the day's best beats its neighbours, whatever the hinge", () => {
    for (const stand of ["bottom", "top", "left"] as const) {
      const best = bestOfDay(SITE, PLANE, BOX, { ...mirror, stand }, 0.88, Date.UTC(2026, 2, 21, 12))!;
      expect(best.addedKwhM2).toBeGreaterThan(0.02);
      for (const d of [-12, -3, 3, 12]) {
        const other = addedOfDay(
          SITE,
          PLANE,
          BOX,
          { ...mirror, stand, angle: best.angle + d },
          0.88,
          Date.UTC(2026, 2, 21, 12),
        );
        expect(other).toBeLessThanOrEqual(best.addedKwhM2 + 1e-9);
      }
    }
  });
  test("the list covers the year without gaps, and mirrors itself about the solstice", () => {
    for (const site of [SITE, SOUTHERN]) {
      const plane = { tilt: 60, azimuth: site.latitude < 0 ? 0 : 180 };
      const list = adjustmentList(site, plane, BOX, mirror, 0.88, 5, 2026);
      expect(list[0].from).toBe(new Date(lowSolstice(site.latitude, 2026)).toISOString().slice(0, 10));
      list.slice(1).forEach((a, i) => expect(a.from).toBe(list[i].until));
      const span = (a: (typeof list)[number]) => (Date.parse(a.until) - Date.parse(a.from)) / 86400000;
      list.forEach((a, i) => {
        const twin = list[list.length - 1 - i];
        expect(a.angle).toBe(twin.angle);
        expect(Math.abs(span(a) - span(twin))).toBeLessThanOrEqual(1);
        expect(a.offDeg).toBeLessThanOrEqual(5 + 0.5);
        expect(a.share).toBeGreaterThan(0.85);
      });
      // A low sun wants the bottom mirror opened wide, a high one closed.
      expect(list[0].angle!).toBeGreaterThan(list[Math.floor(list.length / 2)].angle!);
    }
  });
  test("a wider tolerance asks for fewer turns; none at all is refused", () => {
    const turns = (tolerance: number) => adjustmentList(SITE, PLANE, BOX, mirror, 0.88, tolerance, 2026).length;
    expect(turns(10)).toBeLessThan(turns(3));
    expect(() => adjustmentList(SITE, PLANE, BOX, mirror, 0.88, 0, 2026)).toThrow(RangeError);
  });
  test("the southern list is the northern one half a year later", () => {
    const north = adjustmentList(SITE, PLANE, BOX, mirror, 0.88, 5, 2026).map((a) => a.angle);
    const south = adjustmentList(SOUTHERN, { tilt: 60, azimuth: 0 }, BOX, mirror, 0.88, 5, 2026).map((a) => a.angle);
    expect(south).toHaveLength(north.length);
    south.forEach((a, i) => expect(Math.abs(a! - north[i]!)).toBeLessThanOrEqual(2));
  });
});

const CANDIDATE: Candidate = {
  key: "A",
  name: "box",
  origin: "curve",
  curve: { eta0: 0.65, a1: 5, a2: 0.01 },
  covariance: null,
  areaM2: 2,
  b0: 0.1,
  capacityJM2K: 9000,
  flowWK: 40,
  powerW: 6,
  limitC: null,
  xRange: null,
};

describe("a mirror's year", () => {
  const weather = monthlyYear(SITE, CLIMATES[0]);
  const year = (mirrors: MirrorCase["mirrors"], plane = PLANE) =>
    mirrorYearOf(
      {
        site: SITE,
        plane,
        box: BOX,
        mirrors,
        candidate: CANDIDATE,
        aboveK: [15, 30, 50],
        toleranceDeg: 5,
        listYear: 2026,
      },
      weather,
    );
  const bottom = { mirror: hingedMirror({ depthM: 1.5, angle: 110 }), reflectance: 0.88, snow: [] };
  test("Mirror and Season: the light that is worth heat is the same on both, with mirror and without", () => {
    const alone = { tilt: PLANE.tilt, azimuth: PLANE.azimuth, inSeries: 1, sideBySide: 1 };
    const absorbed = (mirrored: Record<string, Mirrored>) => {
      const { seasons } = answer(job({ rows: [alone] }, { site: SITE, candidates: [CANDIDATE], mirrored }));
      return yearOf(seasons[0].year.account.absorbed) / CANDIDATE.areaM2;
    };
    const at = mirrorYearOf(
      {
        site: SITE,
        plane: PLANE,
        box: BOX,
        mirrors: [bottom],
        candidate: CANDIDATE,
        aboveK: [0],
        toleranceDeg: 5,
        listYear: 2026,
      },
      weather,
    ).heat[0];
    expect(absorbed({}) / at.without).toBeCloseTo(1, 6);
    expect(absorbed({ [CANDIDATE.key]: { box: BOX, mirrors: [bottom] } }) / at.with).toBeCloseTo(1, 6);
  }, 60_000);
  test("gains more in heat than in light, and more the hotter it works", () => {
    const y = year([bottom]);
    const gain = (m: { with: number; without: number }) => m.with / m.without;
    expect(gain(y.light)).toBeGreaterThan(1.03);
    expect(gain(y.heat[0])).toBeGreaterThan(gain(y.light));
    expect(gain(y.heat[2])).toBeGreaterThan(gain(y.heat[0]));
    expect(y.light.months.reduce((s, m) => s + m.with, 0)).toBeCloseTo(y.light.with, 9);
  });
  test("a black mirror only takes; snow on it takes its beam away", () => {
    const black = year([{ ...bottom, reflectance: 0 }]);
    expect(black.light.with).toBeLessThan(black.light.without);
    const snowed = year([{ ...bottom, snow: [0, 1, 11] }]);
    expect(snowed.lit[0].every((v) => !v)).toBe(true);
    expect(snowed.light.months[5].with).toBeCloseTo(year([bottom]).light.months[5].with, 9);
  });
  test("down for half the year it adds nothing then", () => {
    const winter = year([{ ...bottom, mirror: { ...bottom.mirror, up: { from: "10-01", until: "03-31" } } }]);
    expect(winter.light.months[5].with).toBeCloseTo(winter.light.months[5].without, 9);
    expect(winter.light.months[0].with).toBeGreaterThan(winter.light.months[0].without);
  });
  test("more light wants more flow for the same rise", () => {
    const flow = flowForRise(CANDIDATE, { without: 900, with: 1300 }, 20, 25, 1007);
    expect(flow.with).toBeGreaterThan(flow.without);
    expect(flow.without).toBeCloseTo(
      ((0.65 * 900 * (1 - 0.1 * (1 / Math.cos(Math.PI / 9) - 1)) - 100 - 4) * 2) / (25 * 1007),
      4,
    );
  });
});

describe("light past the box, and lenses", () => {
  test("an upright mirror facing south throws a sun in the south back low to the south", () => {
    const plane = { tilt: 90, azimuth: 0 };
    const mirror = {
      ...hingedMirror({ stand: "free", angle: 90 }),
      free: { awayM: 3, rightM: 0, higherM: 0, turn: 180 },
    };
    const { right, up, out } = frameOf(plane);
    const world = (v: Vector): Vector =>
      [0, 1, 2].map((k) => v[0] * right[k] + v[1] * up[k] + v[2] * out[k]) as unknown as Vector;
    const to = thrownTo(BOX, plane, mirror, { altitude: 12, azimuth: 170 }, world)!;
    expect(to.altitude).toBeCloseTo(-12, 6);
    expect(to.azimuth).toBeCloseTo(190, 6);
    expect(sunFrom(plane, { altitude: 12, azimuth: 170 })[2]).toBeLessThan(0);
    // From behind it is board.
    expect(thrownTo(BOX, plane, mirror, { altitude: 12, azimuth: 350 }, world)).toBeNull();
  });
  test("a hinged mirror shines on the side of the opening, whichever edge it hangs on", () => {
    const plane = { tilt: 60, azimuth: 180 };
    const { right, up, out } = frameOf(plane);
    const world = (v: Vector): Vector =>
      [0, 1, 2].map((k) => v[0] * right[k] + v[1] * up[k] + v[2] * out[k]) as unknown as Vector;
    const sun = { altitude: 35, azimuth: 180 };
    // Opened wide below the box it lies before it, face up; folded over the opening its back is to the sun.
    for (const stand of ["bottom", "top"] as const) {
      expect(thrownTo(BOX, plane, hingedMirror({ stand, angle: 120 }), sun, world)).not.toBeNull();
      expect(thrownTo(BOX, plane, hingedMirror({ stand, angle: 10 }), sun, world)).toBeNull();
    }
    // In the plane of the box it throws light as the box's own glass does.
    const flat = thrownTo(BOX, plane, hingedMirror({ stand: "bottom", angle: 180 }), sun, world)!;
    expect(flat.altitude).toBeCloseTo(25, 6);
  });
  test("a lens's spot is the sun's image, drawn out by colour as the lens is wide and by its error as far as it bends light", () => {
    const spot = (errorMrad: number, areaM2 = 1, focalM = 1) => lensSpot({ areaM2, focalM, errorMrad, efficiency: 1 });
    // A small lens far away: nearly the sun's image alone.
    expect(spot(0, 0.0001, 10).spotM).toBeCloseTo(0.0093 * 10, 3);
    // The sun's image, and a rim 0.564 m from the middle with 3 % between colours to either side.
    expect(spot(0).spotM).toBeCloseTo(0.0093 + 2 * 0.03 * Math.sqrt(1 / Math.PI), 9);
    // A surface off by 4 mrad bends light by 0.49 of that, not twice that as a mirror does.
    expect(spot(4).spotM - spot(0).spotM).toBeCloseTo(2 * 0.49 * 0.004, 9);
    expect(spot(0).times).toBeCloseTo(1 / ((Math.PI / 4) * spot(0).spotM ** 2), 6);
  });
});
