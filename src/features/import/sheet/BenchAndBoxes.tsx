"use client";

import type { ReactNode } from "react";
import { LaneCard } from "../LaneCard";
import { withLane } from "../laneDraft";
import { HowRead } from "./HowRead";
import type { SheetDraft } from "./sheetDraft";
import { withSheetLanes } from "./useSheet";
import { Head } from "@/ui/Head";

/** What belongs to the whole sheet: where it stands, how it was read, what the boxes are. Folded away once it is said. */
export function BenchAndBoxes({
  draft,
  known,
  open,
  children,
  onChange,
}: {
  draft: SheetDraft;
  /** Letters whose design is known already. */
  known: readonly string[];
  open: boolean;
  /** Where the bench stands. */
  children: ReactNode;
  onChange: (change: (draft: SheetDraft) => SheetDraft) => void;
}) {
  const { base, lanes } = draft;
  return (
    <details open={open} className="mt-3">
      <summary className="flex min-h-11 cursor-pointer items-center text-[15px] font-semibold text-action">
        Bench and boxes
      </summary>
      {children}
      <HowRead
        draft={draft}
        onChange={(change) =>
          onChange((d) => {
            const next = { ...d, ...change };
            return { ...next, base: withSheetLanes(next.base, next.lanes) };
          })
        }
      />
      <section aria-labelledby="boxes" className="mt-4">
        <Head id="boxes" title="Boxes" side="an accuracy left empty is taken widely" />
        {lanes.map((l) => (
          <LaneCard
            key={l}
            letter={l}
            lane={base.lanes[l]}
            known={known.includes(l)}
            flow={draft.flow ?? "volume"}
            others={lanes.filter((o) => o < l && !base.lanes[o]?.copyOf && !known.includes(o))}
            onChange={(lane) =>
              onChange((d) => ({ ...d, base: { ...d.base, lanes: withLane(d.base.lanes, l, lane) } }))
            }
          />
        ))}
      </section>
    </details>
  );
}
