import { BASIC, hour, type Hour, type Method } from "./method";

/** Mirror on and off by turns: its gain in light and in heat. */
export const mirrorOnOff: Method = {
  sky: "steadyNormal",
  needs: [...BASIC, "mirror"],
  risks: ["concentratedLight", "stagnation", "hotSurfaces", "glassLifting"],
  leastDays: 1,
  figures: "windows",
  compares: false,
  hours: ({ long, settleMs, averageMs }) =>
    long.flatMap((span) => {
      const out: Hour[] = [];
      let on = true;
      for (let t = span.fromMs; t + settleMs + averageMs <= span.toMs; t += settleMs + averageMs, on = !on) {
        const state = on ? "mirrorOn" : "mirrorOff";
        out.push(
          hour("settle", t, t + settleMs, { state }),
          hour("measure", t + settleMs, t + settleMs + averageMs, { state, windows: 1 }),
        );
      }
      return out;
    }),
  finders: [() => import("./find/events").then((m) => m.events)],
};
