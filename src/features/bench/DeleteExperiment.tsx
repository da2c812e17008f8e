"use client";

import { Trash2 } from "lucide-react";
import { useTransition } from "react";
import { toast } from "sonner";
import { deleteExperiment } from "@/features/experiment/actions";

/** Deletes at once and offers to undo: nothing is really gone. */
export function DeleteExperiment({ id, name }: { id: number; name: string }) {
  const [busy, start] = useTransition();
  const remove = () =>
    start(async () => {
      await deleteExperiment(id, true);
      toast(`“${name}” is off the bench.`, {
        duration: 12000,
        action: { label: "Undo", onClick: () => void deleteExperiment(id, false) },
      });
    });
  return (
    <button type="button" className="btn btn-plain" disabled={busy} onClick={remove} aria-label={`Delete ${name}`}>
      <Trash2 size={14} aria-hidden /> Delete
    </button>
  );
}
