import { hour, MINUTE, type Method } from "./method";
import { wholeDay } from "./wholeDay";

/** A tank warmed all day, then left to cool for its own loss. */
export const batch: Method = {
  sky: "daylight",
  needs: ["probes", "ambientProbe", "sunSensor", "logger", "waterTank", "balance"],
  risks: ["scald", "mainsDamp", "freezing"],
  leastDays: 2,
  figures: "days",
  compares: true,
  hours(day) {
    const [warming] = wholeDay(day);
    if (!warming) return [];
    const end = warming.toMs;
    return [warming, hour("measure", end + 30 * MINUTE, end + 150 * MINUTE, { state: "cooling" })];
  },
  finders: [() => import("./find/tank").then((m) => m.tank)],
};
