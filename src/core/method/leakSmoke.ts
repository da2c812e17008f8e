import { hour, longest, MINUTE, type Method } from "./method";

/** Smoke and two flow meters: where air leaves or enters. */
export const leakSmoke: Method = {
  sky: "none",
  needs: ["flowMeter", "smoke"],
  risks: ["smoke", "mainsDamp"],
  leastDays: 1,
  figures: "run",
  compares: false,
  hours({ spans }) {
    const span = longest(spans);
    return span ? [hour("check", span.fromMs, Math.min(span.toMs, span.fromMs + 45 * MINUTE))] : [];
  },
  finders: [() => import("./find/leakage").then((m) => m.leakage)],
};
