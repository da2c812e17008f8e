"use client";

import type { SteadyNow } from "@/core/live/steadyNow";
import { laneColor } from "@/ui/LaneMark";
import { usePreferences } from "@/ui/preferences";
import { countdown, heldBackWords } from "@/words/live";

/** How long a lane has been steady on a ruler of what is needed, and what holds it back. */
export function SteadyRuler({ steady, lane }: { steady: SteadyNow | null; lane: string }) {
  const { system } = usePreferences();
  if (!steady) return <p className="side">no sun sensor</p>;
  const minutes = Math.max(1, Math.round(steady.neededMs / 60_000));
  const settle = (100 * steady.settleMs) / steady.neededMs;
  const share = Math.min(1, steady.forMs / steady.neededMs);
  const left = steady.neededMs - steady.forMs;
  const stopped = steady.heldBack !== null && steady.forMs === 0;
  return (
    <div>
      <svg
        className="block h-4 w-full"
        viewBox="0 0 100 16"
        preserveAspectRatio="none"
        role="img"
        aria-label={`${lane} steady for ${Math.round(steady.forMs / 60_000)} of ${minutes} min`}
      >
        <path d="M0 1V7M100 1V7" stroke="var(--ink)" vectorEffect="non-scaling-stroke" strokeWidth="1.5" />
        <path d={`M${settle} 3V7`} stroke="var(--ink)" vectorEffect="non-scaling-stroke" />
        <path d="M0 7H100" stroke="var(--ink)" vectorEffect="non-scaling-stroke" />
        <rect x="0" y="9" width="100" height="5" fill="var(--well)" />
        <rect x="0" y="9" width={100 * share} height="5" fill={laneColor(lane)} />
      </svg>
      <p className={`text-[13px] ${stopped ? "font-semibold text-doubt" : ""}`}>
        {stopped && `Not steady: ${heldBackWords(steady.heldBack!, system)}`}
        {!stopped && (steady.heldBack ? `${countdown(left)} left` : "steady now")}
        {steady.heldBack && steady.forMs > 0 && (
          <span className="side"> before that: {heldBackWords(steady.heldBack, system)}</span>
        )}
      </p>
    </div>
  );
}
