"use client";

import { useState } from "react";
import type { Looser as LooserLimit } from "@/core/analysis/looser";
import { quantityText } from "@/core/quantity/format";
import { changeSettings, loadLooser } from "@/features/experiment/actions";
import type { ExperimentView } from "@/services/page/views";
import { usePreferences } from "@/ui/preferences";
import { useAct } from "@/ui/useAct";
import { LIMITS } from "./limits";
import { Button } from "@/ui/Button";

/** Which limit costs most windows, and what a looser one would give: asked for, because it reads everything anew for each. */
export function Looser({ view }: { view: ExperimentView }) {
  const { system } = usePreferences();
  const { busy, act, ask } = useAct();
  const [found, setFound] = useState<LooserLimit[] | null>(null);
  const points = view.points.length;
  if (!found)
    return (
      <Button
        kind="plain"
        disabled={busy}
        onClick={() =>
          ask(
            () => loadLooser(view.head.id),
            (all) => setFound(all ?? []),
          )
        }
      >
        {busy ? "Trying each limit …" : "What would looser limits give?"}
      </Button>
    );
  if (found.length === 0) return <p className="text-ink-2">No limit alone would give more points.</p>;
  return (
    <ul aria-label="Looser limits">
      {found.slice(0, 4).map((l) => {
        const limit = LIMITS.find((x) => x.key === l.limit)!;
        const text = (si: number) => quantityText(si, limit.quantity, { system, figures: 3 });
        return (
          <li key={l.limit} className="flex flex-wrap items-center gap-x-3 border-b border-hair py-0.5">
            <span>
              {limit.label} {text(l.to)} instead of {text(l.from)}: {l.points - points} more point
              {l.points - points === 1 ? "" : "s"}, {l.windows} windows in all.
            </span>
            <Button
              kind="plain"
              disabled={busy}
              onClick={() =>
                act(
                  () => changeSettings(view.head.id, { rules: l.rules }),
                  () => setFound(null),
                )
              }
            >
              Loosen it
            </Button>
          </li>
        );
      })}
    </ul>
  );
}
