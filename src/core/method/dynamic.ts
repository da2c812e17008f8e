import { BASIC, type Method } from "./method";
import { wholeDay } from "./wholeDay";

/** Days of changing light: all terms of the collector at once. */
export const dynamic: Method = {
  sky: "daylight",
  needs: [...BASIC, "wind"],
  risks: ["hotSurfaces", "mainsDamp", "longDay"],
  leastDays: 4,
  figures: "days",
  compares: true,
  besideCurve: true,
  hours: wholeDay,
  finders: [() => import("./find/dynamic").then((m) => m.dynamic)],
};
