"use client";

import { useState } from "react";
import { quantityText } from "@/core/quantity/format";
import { displayUnit, toSi } from "@/core/quantity/quantities";
import { useSettings } from "@/features/experiment/useSettings";
import type { ExperimentView } from "@/services/page/views";
import type { TraceSet } from "./traceData";

/** The least sun of a window, moved on the trace: how long it is above that, and, let go, everything read anew. */
export function useSunLimit(view: ExperimentView, set: TraceSet | null, system: "metric" | "us") {
  const { settings, change, busy } = useSettings(view.head);
  const [at, setAt] = useState<number | null>(null);
  const { rules } = settings;
  const unit = displayUnit("irradiance", system);
  const move = (_: number, value: number, done: boolean) => {
    const least = Math.round(Math.max(50, Math.min(1500, toSi(value, unit))));
    setAt(done ? null : least);
    if (done && least !== rules.minIrradiance)
      change((s) => ({ rules: { ...s.rules, name: "backyard", minIrradiance: least } }));
  };
  if (busy) return { move, says: "Reading anew …" };
  if (at === null || !set) return { move, says: null };
  const sun = set.traces.find((t) => t.kind === "irradiance");
  const above = sun ? sun.mean.filter((v) => v >= at).length : 0;
  const minutes = Math.round((above * (set.toMs - set.fromMs)) / set.buckets / 60_000);
  return {
    move,
    says: `${quantityText(at, "irradiance", { system })}: the sun is above it for ${minutes} min of what is shown.`,
  };
}
