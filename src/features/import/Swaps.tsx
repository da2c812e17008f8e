"use client";

import { Plus, X } from "lucide-react";
import type { SwapDraft } from "./draft";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

/** Boxes that changed places during the log: from then on each is measured with the other place's instruments. */
export function Swaps({
  swaps,
  lanes,
  zone,
  day,
  onSwaps,
}: {
  swaps: readonly SwapDraft[];
  lanes: readonly string[];
  zone: string;
  /** Proposed for a new one, `2026-10-06`; empty where the log does not say. */
  day: string;
  onSwaps: (swaps: SwapDraft[]) => void;
}) {
  if (lanes.length < 2) return null;
  const set = (i: number, change: Partial<SwapDraft>) =>
    onSwaps(swaps.map((s, k) => (k === i ? { ...s, ...change } : s)));
  return (
    <section aria-labelledby="swaps" className="mt-4">
      <Head id="swaps" title="Swaps" side={<>boxes that changed places during the log, on the clock of {zone}</>} />
      <ol>
        {swaps.map((s, i) => (
          <li key={i} className="flex flex-wrap items-end gap-2 border-b border-hair py-1">
            {([0, 1] as const).map((end) => (
              <select
                key={end}
                className="field !w-auto"
                aria-label={end === 0 ? `Swap ${i + 1}: box that moved` : `Swap ${i + 1}: with`}
                value={s.lanes[end]}
                onChange={(e) =>
                  set(i, { lanes: end === 0 ? [e.target.value, s.lanes[1]] : [s.lanes[0], e.target.value] })
                }
              >
                {lanes.map((l) => (
                  <option key={l}>{l}</option>
                ))}
              </select>
            ))}
            <input
              className="field !w-auto"
              type="date"
              aria-label={`Swap ${i + 1}: day`}
              value={s.day}
              onChange={(e) => set(i, { day: e.target.value })}
            />
            <input
              className="field !w-auto"
              type="time"
              aria-label={`Swap ${i + 1}: time`}
              value={s.time}
              onChange={(e) => set(i, { time: e.target.value })}
            />
            <Button
              kind="plain"
              aria-label={`Take swap ${i + 1} out`}
              onClick={() => onSwaps(swaps.filter((_, k) => k !== i))}
            >
              <X size={14} aria-hidden />
            </Button>
          </li>
        ))}
      </ol>
      <Button
        kind="plain"
        className="mt-1"
        onClick={() => onSwaps([...swaps, { day, time: "", lanes: [lanes[0], lanes[1]] }])}
      >
        <Plus size={14} aria-hidden /> Boxes changed places
      </Button>
    </section>
  );
}
