"use client";

import { ChevronDown, ChevronRight } from "lucide-react";
import { deleteExperiments } from "@/features/experiment/actions";
import type { BenchEntry } from "@/services/page/benchView";
import { Button } from "@/ui/Button";
import { useAct } from "@/ui/useAct";
import { useRemembered } from "@/ui/useRemembered";
import { Entries } from "./Entries";

/** The invented experiments that come along: folded once there are others, and gone in one press. @param open as long as nobody folded or unfolded them */
export function DemoExperiments({ entries, open }: { entries: readonly BenchEntry[]; open: boolean }) {
  const [state, remember] = useRemembered("bravel-bench-demo");
  const { busy, undoable } = useAct();
  const isOpen = state === null ? open : state === "open";
  const ids = entries.map((e) => e.head.id);
  const remove = () =>
    undoable(
      () => deleteExperiments(ids, true),
      () => deleteExperiments(ids, false),
      `${ids.length} demo experiments removed.`,
    );
  return (
    <section aria-labelledby="demo-experiments" className="mt-4">
      <div className="flex flex-wrap items-center gap-3 border-b-[1.5px] border-ink">
        <h2 id="demo-experiments">
          <button
            type="button"
            aria-expanded={isOpen}
            className="flex min-h-9 items-center gap-1 text-[15px] font-[650]"
            onClick={() => remember(isOpen ? "closed" : "open")}
          >
            {isOpen ? <ChevronDown size={16} aria-hidden /> : <ChevronRight size={16} aria-hidden />}
            Demo: Tansy Ridge
          </button>
        </h2>
        <span className="side">
          {entries.length} invented experiment{entries.length === 1 ? "" : "s"} to look at
        </span>
        <Button kind="plain" className="ml-auto" disabled={busy} onClick={remove}>
          Remove the demo
        </Button>
      </div>
      {isOpen && <Entries entries={entries} />}
    </section>
  );
}
