import { hour, longest, MINUTE, type Method } from "./method";

/** No flow in full sun: how hot it gets. */
export const stagnation: Method = {
  sky: "steadyNormal",
  needs: ["layerProbes", "ambientProbe", "sunSensor", "logger"],
  risks: ["stagnation", "hotSurfaces"],
  leastDays: 1,
  figures: "run",
  compares: false,
  hours({ spans }) {
    const span = longest(spans);
    if (!span || span.toMs - span.fromMs < 75 * MINUTE) return [];
    return [
      hour("settle", span.fromMs, span.toMs - 30 * MINUTE, { state: "flowOff" }),
      hour("measure", span.toMs - 30 * MINUTE, span.toMs, { state: "flowOff", windows: 1 }),
    ];
  },
  finders: [() => import("./find/stagnation").then((m) => m.stagnation)],
};
