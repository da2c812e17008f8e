import { standardPressure } from "../fluids/moistAir";
import { toWall } from "../log/zone";
import { clearSky, transpose, type Irradiance, type PlaneIrradiance, type SkyModel } from "../sun/clearSky";
import { sunPosition, type Place, type Plane, type SunPosition } from "../sun/position";
import type { Horizon } from "./horizon";
import { beamShare, blockerOf, skyShare, type Blocker, type Obstacle, type Receiver, type Surroundings } from "./shade";

/** Twelve values, January first. */
export type ByMonth = readonly number[];

/** What is known of a place beyond its coordinates. */
export interface SiteDetail {
  /** Linke turbidity at air mass 2 by month: 2 very clean, 3 clear, 5 hazy. */
  turbidity: ByMonth;
  /** Ground reflectance in front of the bench by month: grass 0.2, snow 0.6. */
  groundReflectance: ByMonth;
  /** As measured, Pa; null: from the altitude. */
  pressurePa: number | null;
  horizon: Horizon;
  obstacles: readonly Obstacle[];
  skyModel: SkyModel;
}

export interface SiteWorld extends Place {
  zone: string;
  detail: SiteDetail;
}

export const PLAIN_SITE: SiteDetail = {
  turbidity: Array(12).fill(3),
  groundReflectance: Array(12).fill(0.2),
  pressurePa: null,
  horizon: [],
  obstacles: [],
  skyModel: "hayDavies",
};

/** Month of an instant at the site, 0 to 11. */
export const monthOf = (atMs: number, zone: string): number => new Date(toWall(atMs, zone)).getUTCMonth();

export const turbidityAt = (site: SiteWorld, atMs: number): number => site.detail.turbidity[monthOf(atMs, site.zone)];

export const sitePressure = (site: Pick<SiteWorld, "altitudeM" | "detail">): number =>
  site.detail.pressurePa ?? standardPressure(site.altitudeM);

/** A collector of ordinary size a metre above the ground in the middle of the bench: for views of a site without a bench. */
export const middleOfBench = (plane: Plane): Receiver => ({ centre: [0, 0, 1], plane, widthM: 1, lengthM: 2 });

export const surroundingsOf = (site: SiteWorld, atMs: number, own: readonly Blocker[] = []): Surroundings => ({
  horizon: site.detail.horizon,
  blockers: [...site.detail.obstacles.map((o) => blockerOf(o, monthOf(atMs, site.zone) + 1, site.latitude)), ...own],
});

export interface PlaneLight extends PlaneIrradiance {
  sun: SunPosition;
  /** Share of the beam that passes skyline and obstacles. */
  beamShare: number;
}

/**
 * Light in collector planes at instants of one month: the view of the sky is worked out once and kept.
 * @param sky horizontal irradiance at an instant; the clear sky of the site when left out
 */
export function planeLight(
  site: SiteWorld,
  receiver: Receiver,
  around: Surroundings,
  sky?: (ms: number, sun: SunPosition) => Irradiance,
): (ms: number) => PlaneLight {
  const seen = skyShare(receiver, around);
  return (ms) => {
    const sun = sunPosition(ms, site);
    const month = monthOf(ms, site.zone);
    const share = beamShare(sun, receiver, around);
    const light = transpose(sky ? sky(ms, sun) : clearSky(ms, site, site.detail.turbidity[month], sun), {
      timeMs: ms,
      sun,
      plane: receiver.plane,
      groundReflectance: site.detail.groundReflectance[month],
      model: site.detail.skyModel,
      shading: { beam: share, sky: seen },
    });
    return { ...light, sun, beamShare: share };
  };
}
