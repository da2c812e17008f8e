import { expose } from "comlink";
import type { Climate } from "../core/site/climate";
import type { SiteWorld } from "../core/site/site";
import { hourMap, tiltCurve, type HourMap, type TiltChoice } from "../core/site/typical";
import type { Plane } from "../core/sun/position";

export interface YearView {
  map: HourMap;
  tilt: { curve: TiltChoice[]; best: TiltChoice };
}

/** A year of sun off the page's thread. */
const api = {
  year: (site: SiteWorld, plane: Plane, climate: Climate | null, months: number[], year: number): YearView => ({
    map: hourMap(site, plane, climate, year),
    tilt: tiltCurve(site, plane.azimuth, months, climate, year),
  }),
};

export type SunApi = typeof api;

expose(api);
