"use client";

import { ArrowRight } from "lucide-react";
import Link from "next/link";
import type { ExperimentHead } from "@/core/experiment/types";
import { FigureText } from "@/ui/FigureText";
import { LaneMark } from "@/ui/LaneMark";
import { useLive } from "@/features/experiment/useLive";
import { isDanger } from "@/core/live/alarms";
import { usePreferences } from "@/ui/preferences";
import { alarmWords } from "@/words/alarms";
import { countdown, liveSentence } from "@/words/live";
import { timeOfDay } from "@/words/times";
import { Head } from "@/ui/Head";

/** A live run on the home page: what each lane gives now, and the first thing that is wrong. */
export function RunningNow({ head }: { head: ExperimentHead }) {
  const { view } = useLive(head.id);
  const { system } = usePreferences();
  if (!view || view.state === "ended") return null;
  const { known, doubt } = liveSentence(view.state, view.number, view.lanes);
  const wrong = view.alarms.filter((a) => a.endedAt === null).at(-1);
  return (
    <section aria-label={`Running: ${head.name}`} className="mb-5">
      <Head
        title={
          <>
            {head.name}: {known} {doubt && <span className="text-doubt">{doubt}</span>}
          </>
        }
        side={
          <>
            {timeOfDay(view.nowMs, head.site.zone)}
            {view.simulated ? ", simulated bench" : ""}
          </>
        }
        className="items-center"
      >
        <Link href={`/experiments/${head.id}/run`} className="more btn btn-main">
          Open run {view.number} <ArrowRight size={14} aria-hidden />
        </Link>
      </Head>
      {wrong && (
        <p className={`mt-1 font-semibold ${isDanger(wrong.alarm) ? "text-danger" : "text-doubt"}`} role="alert">
          {alarmWords(wrong.alarm, system)}
        </p>
      )}
      <ul className="mt-1 grid gap-x-6 gap-y-1 sm:grid-cols-2 lg:grid-cols-4">
        {view.lanes.map((l) => (
          <li key={l.letter} className="flex flex-wrap items-baseline gap-x-3 border-b border-hair py-1">
            <LaneMark lane={l.letter} />
            <span className="text-[17px]">{l.heat ? <FigureText figure={l.heat} /> : "no heat known"}</span>
            {l.efficiency && <FigureText figure={l.efficiency} />}
            {l.steady && (
              <span className="side ml-auto">
                {l.steady.heldBack ? `${countdown(l.steady.neededMs - l.steady.forMs)} left` : "steady"}
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
