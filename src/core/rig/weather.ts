import type { Random } from "../random/seededRandom";
import { clearSky, transpose, type PlaneIrradiance } from "../sun/clearSky";
import { sunPosition, type Place, type Plane, type SunPosition } from "../sun/position";

const { exp, max, min } = Math;

export interface RigDay {
  /** Any instant of the day. */
  dateMs: number;
  /** 0 clear, 1 heavily broken. */
  cloudiness: number;
  meanAmbientC: number;
  meanWind: number;
}

/** Light in a plane with the sun it comes from. */
export interface RigLight extends PlaneIrradiance {
  beamNormal: number;
  sun: SunPosition;
}

/** Light in the collector plane under a sky that lets so much of the sun through. */
export function lightInPlane(
  timeMs: number,
  scenario: { place: Place; plane: Plane; linkeTurbidity: number },
  clearness: number,
): RigLight {
  const sun = sunPosition(timeMs, scenario.place);
  const clear = clearSky(timeMs, scenario.place, scenario.linkeTurbidity, sun);
  if (clear.global <= 0) return { total: 0, beam: 0, sky: 0, ground: 0, incidence: 90, beamNormal: 0, sun };
  // A cloud takes the beam first and gives some of it back as diffuse light.
  const beamShare = max(0, (clearness - 0.25) / 0.75);
  const lost = clear.beamNormal * (1 - beamShare) * max(0, Math.sin((sun.altitude * Math.PI) / 180));
  const irradiance = { beamNormal: clear.beamNormal * beamShare, diffuse: clear.diffuse + 0.25 * lost, global: 0 };
  irradiance.global = irradiance.diffuse + irradiance.beamNormal * max(0, Math.sin((sun.altitude * Math.PI) / 180));
  return { ...transpose(irradiance, { timeMs, sun, plane: scenario.plane }), beamNormal: irradiance.beamNormal, sun };
}

/** Clouds, air, wind and humidity from step to step, by the local hour. */
export function weatherProcess(day: Omit<RigDay, "dateMs">, random: Random, stepS: number) {
  let cloud = 0;
  let cloudLeft = 0;
  let clearness = 1;
  let gust = 0;
  let drift = 0;
  const damp = stepS / 300;
  return (hour: number) => {
    cloudLeft -= stepS;
    if (cloudLeft <= 0) {
      // Clouds come and stay for minutes; the share of cloudy spells is the day's cloudiness.
      cloud = random.uniform() < day.cloudiness ? 0.35 + 0.5 * random.uniform() : 0;
      cloudLeft = 120 + 900 * random.uniform() * (cloud > 0 ? 1 : 1.2 - day.cloudiness);
    }
    clearness += (1 - cloud - clearness) * (1 - exp(-stepS / 25));
    gust += -gust * damp + 0.35 * Math.sqrt(2 * damp) * random.normal();
    drift += -drift * (stepS / 3600) + 0.15 * Math.sqrt((2 * stepS) / 3600) * random.normal();
    const daily = -Math.cos(((hour - 4) / 24) * 2 * Math.PI);
    return {
      clearness: clearness * (1 + 0.003 * random.normal()),
      ambient: day.meanAmbientC + 4.5 * daily + drift,
      wind: max(0, day.meanWind * (1 + gust)),
      humidity: min(0.95, max(0.2, 0.55 - 0.12 * daily)),
    };
  };
}
