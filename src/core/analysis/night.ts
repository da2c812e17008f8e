import { sunPosition } from "../sun/position";
import type { RunSetup } from "./setup";

/** Sun below this altitude gives next to no light, degrees. */
export const NIGHT_DEG = -6;

/** Heat comes so long after the sun, by what a box stores, minutes. */
export const HEAT_LAG = 10;

/** The sun's altitude changes no faster, degrees per ms: a turn of the earth a day, and a little more. */
const FASTEST = 15.1 / 3600000;

/** Whether the sun is far below the horizon, asked at rising instants: its place is reckoned only when it may have got there. */
export function nightAt(place: RunSetup["place"]): (ms: number) => boolean {
  let dayUntil = -Infinity;
  return (ms) => {
    if (ms < dayUntil) return false;
    const above = sunPosition(ms, place).altitude - NIGHT_DEG;
    if (above < 0) return true;
    dayUntil = ms + above / FASTEST;
    return false;
  };
}
