"use client";

import { Redo2, Undo2 } from "lucide-react";
import { toast } from "@/ui/toast";
import { type Design } from "@/core/collector/design";
import type { Variant } from "@/core/experiment/records";
import { ASPECT_WORDS, listWords } from "@/words/build";
import { saveVariant } from "@/features/experiment/variantActions";
import { addOuterCover, type Steps } from "./draft";
import { useAct } from "@/ui/useAct";
import { Button } from "@/ui/Button";
import type { DesignProblem } from "@/core/collector/validate";

export function Tools({
  undo,
  steps,
  redo,
  set,
  design,
  experimentId,
  variant,
  busy,
  problems,
}: {
  undo: () => void;
  steps: Steps;
  redo: () => void;
  set: (next: Design) => void;
  design: Design;
  experimentId: number;
  variant: Variant;
  busy: boolean;
  problems: DesignProblem[];
}) {
  return (
    <span className="more no-print flex flex-wrap items-center gap-1">
      <Button kind="plain" onClick={undo} disabled={!steps.past.length}>
        <Undo2 size={14} aria-hidden /> Undo
      </Button>
      <Button kind="plain" onClick={redo} disabled={!steps.future.length}>
        <Redo2 size={14} aria-hidden /> Redo
      </Button>
      <Button className="min-h-[26px]" onClick={() => set(addOuterCover(design))}>
        Add a glazing
      </Button>
      <Save experimentId={experimentId} variant={variant} design={design} saving={busy} blocked={problems.length > 0} />
    </span>
  );
}

function Save({
  experimentId,
  variant,
  design,
  saving,
  blocked,
}: {
  experimentId: number;
  variant: Variant;
  design: Design;
  saving: boolean;
  blocked: boolean;
}) {
  const { busy, act } = useAct();
  const { workingFrom } = variant;
  // What tells two designs apart comes with the press, not with the page.
  const what = async () => {
    if (!workingFrom) return "";
    const { differences } = await import("@/core/collector/compare");
    return listWords(differences(workingFrom, design).map((a) => ASPECT_WORDS[a]));
  };
  const save = () =>
    act(
      async () => saveVariant(experimentId, variant.id, { ...design, sketch: false }, await what()),
      (result) => toast.success(`Revision ${result.revision} saved.`),
    );
  return (
    <Button
      kind="main"
      className="min-h-[26px]"
      disabled={!workingFrom || saving || blocked || busy}
      onClick={save}
      title={
        blocked
          ? "Fix what is marked first. The drawing is saved meanwhile."
          : "Closes this state of the drawing. It stays in the list of revisions."
      }
    >
      {busy ? "Saving …" : "Save as revision"}
    </Button>
  );
}
