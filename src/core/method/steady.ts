import { BASIC, hour, type Hour, type Method, type PlanningDay, type Span } from "./method";

/** Inlet levels of a span, each settled and then filled with averaging windows. */
function levels({ levelsK, settleMs, averageMs }: PlanningDay, span: Span): Hour[] {
  // A short span holds fewer levels than wanted: the first ones, each settled and with a window at least.
  const held = levelsK.slice(0, Math.max(1, Math.floor((span.toMs - span.fromMs) / (settleMs + averageMs))));
  const share = (span.toMs - span.fromMs) / held.length;
  const windows = Math.floor((share - settleMs) / averageMs);
  if (windows < 1) return [];
  return held.flatMap((levelK, i) => {
    const from = span.fromMs + i * share;
    return [
      hour("settle", from, from + settleMs, { levelK }),
      hour("measure", from + settleMs, from + settleMs + windows * averageMs, { levelK, windows }),
    ];
  });
}

/** Steady windows near the normal: efficiency points and curves (the steady-state method of ISO 9806:2017). */
export const steady: Method = {
  sky: "steadyNormal",
  needs: [...BASIC, "inletHeater"],
  risks: ["hotSurfaces", "mainsDamp", "cloudsSpoil"],
  leastDays: 1,
  figures: "windows",
  compares: true,
  hours(day) {
    const { settleMs, averageMs, swapMs } = day;
    return day.long.flatMap((span) => {
      const halves = day.swapAtNoon && span.toMs - span.fromMs > 2 * (settleMs + averageMs) + swapMs;
      if (!halves) return levels(day, span);
      const middle = (span.fromMs + span.toMs) / 2;
      return [
        ...levels(day, { fromMs: span.fromMs, toMs: middle - swapMs / 2 }),
        hour("swap", middle - swapMs / 2, middle + swapMs / 2),
        ...levels(day, { fromMs: middle + swapMs / 2, toMs: span.toMs }),
      ];
    });
  },
  finders: [],
};
