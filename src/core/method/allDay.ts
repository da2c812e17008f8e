import { BASIC, type Method } from "./method";
import { wholeDay } from "./wholeDay";

/** Heat of whole days against their light. */
export const allDay: Method = {
  sky: "daylight",
  needs: BASIC,
  risks: ["hotSurfaces", "mainsDamp", "longDay"],
  leastDays: 2,
  figures: "days",
  compares: true,
  hours: wholeDay,
  finders: [
    () => import("./find/wholeDays").then((m) => m.wholeDays),
    () => import("./find/flowBySun").then((m) => m.flowBySun),
    () => import("./find/chain").then((m) => m.chain),
  ],
};
