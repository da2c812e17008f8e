import { BASIC, hour, longest, MINUTE, type Hour, type Method } from "./method";

const MOST_STEPS = 3;

/** The cover goes on and off: how fast the outlet follows. */
export const timeConstant: Method = {
  sky: "steadyNormal",
  needs: [...BASIC, "opaqueCover"],
  risks: ["hotSurfaces", "glassLifting", "cloudsSpoil"],
  leastDays: 1,
  figures: "run",
  compares: false,
  hours({ spans, settleMs }) {
    const span = longest(spans);
    const step = Math.max(settleMs, 20 * MINUTE);
    if (!span || span.toMs - span.fromMs < 2 * step) return [];
    const out: Hour[] = [];
    for (let n = 0, t = span.fromMs; t + 2 * step <= span.toMs && n < MOST_STEPS; n++, t += 2 * step)
      out.push(
        hour("settle", t, t + step, { state: "coverOff" }),
        hour("step", t + step, t + 2 * step, { state: "coverOn", windows: 1 }),
      );
    return out;
  },
  finders: [() => import("./find/timeConstant").then((m) => m.timeConstant)],
};
