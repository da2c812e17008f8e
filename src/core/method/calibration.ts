import { hour, longest, MINUTE, type Method } from "./method";

/** All probes in one bath. Its log is reduced in Prove, not as a run. */
export const calibration: Method = {
  sky: "none",
  needs: ["bath", "probes", "logger"],
  risks: ["scald", "mainsDamp", "darkWork"],
  leastDays: 1,
  figures: "run",
  compares: false,
  hours({ spans }) {
    const span = longest(spans);
    return span ? [hour("bath", span.fromMs, Math.min(span.toMs, span.fromMs + 120 * MINUTE))] : [];
  },
  finders: [],
};
