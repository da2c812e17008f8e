import { BASIC, hour, type Method } from "./method";

/** Incidence angles between which the off-normal factor is measured: far enough from normal to show, not yet grazing (ISO 9806 takes 50°). */
export const OFF_NORMAL: readonly [number, number] = [45, 60];

/** Sun from the side: the incidence factor. */
export const offNormal: Method = {
  sky: "sideways",
  needs: BASIC,
  risks: ["hotSurfaces", "cloudsSpoil"],
  leastDays: 1,
  figures: "run",
  compares: false,
  hours: ({ long, settleMs, averageMs }) =>
    long.flatMap((span) => {
      const windows = Math.floor((span.toMs - span.fromMs - settleMs) / averageMs);
      return [
        hour("settle", span.fromMs, span.fromMs + settleMs, { state: "sideways" }),
        hour("measure", span.fromMs + settleMs, span.toMs, { state: "sideways", windows }),
      ];
    }),
  finders: [() => import("./find/offNormal").then((m) => m.offNormal)],
};
