"use client";

import { Trash2 } from "lucide-react";
import { deleteExperiment } from "./actions";
import { useAct } from "@/ui/useAct";
import { Button } from "@/ui/Button";

/** Deletes at once and offers to undo: nothing is really gone. */
export function DeleteExperiment({ id, name }: { id: number; name: string }) {
  const { busy, undoable } = useAct();
  const remove = () =>
    undoable(
      () => deleteExperiment(id, true),
      () => deleteExperiment(id, false),
      `“${name}” is off the bench.`,
    );
  return (
    <Button
      kind="plain"
      className="justify-end text-[12.5px] font-normal text-ink-2 no-underline hover:text-danger hover:underline"
      disabled={busy}
      onClick={remove}
      aria-label={`Delete ${name}`}
    >
      <Trash2 size={12} aria-hidden /> Delete
    </Button>
  );
}
