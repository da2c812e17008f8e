"use client";

import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import type { ApplySettings } from "@/core/season/schema";
import { askedFor } from "@/core/season/scenario";
import type { ApplyView } from "@/services/apply/applyView";
import { ask } from "@/ui/Fetching";
import { jobOf } from "@/services/apply/seasonJob";
import { useSeason } from "./useSeason";

/** The year of these settings: what is asked first, the hours of a weather file where one is used, and the answer once it is there. */
export function useWorked(apply: ApplyView, settings: ApplySettings) {
  const { weather } = settings;
  const climateId = weather.kind === "hours" ? weather.climateId : null;
  const hours = useQuery({
    queryKey: ["hours", climateId],
    enabled: climateId !== null,
    staleTime: Infinity,
    queryFn: ({ signal }) => ask(`/api/climates/${climateId}/hours`, signal, (r) => r.text()),
  });
  const asked = askedFor(settings);
  const job = useMemo(() => jobOf(apply, settings, hours.data ?? null), [apply, settings, hours.data]);
  const waits = climateId !== null && !hours.data;
  const ready = asked.length === 0 && job.candidates.length > 0 && !waits;
  const season = useSeason(ready ? job : null);
  // The year that came with the page is the last answer until the page has worked one out.
  const [first] = useState({ year: apply.year, of: settings });
  const result = season.last?.value ?? first.year;
  const asCame = settings === first.of && first.year !== null && season.last === null;
  const answer = (ready || asCame) && result?.ok ? result.answer : null;
  return { asked, job, ready, result, answer, season, hours, asCame };
}
