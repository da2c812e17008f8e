"use client";

import { Redo2, Undo2 } from "lucide-react";
import { toast } from "@/ui/toast";
import { differences } from "@/core/collector/compare";
import { type Design } from "@/core/collector/design";
import type { Variant } from "@/core/experiment/records";
import { ASPECT_WORDS, listWords } from "@/words/build";
import { saveVariant } from "@/features/experiment/variantActions";
import { addOuterCover, type Draft } from "./draft";
import { forgetDraft } from "./storage";
import { useAct } from "@/ui/useAct";
import { Button } from "@/ui/Button";
import type { DesignProblem } from "@/core/collector/validate";

export function Tools({
  undo,
  draft,
  redo,
  set,
  design,
  experimentId,
  variant,
  changed,
  problems,
}: {
  undo: () => void;
  draft: Draft;
  redo: () => void;
  set: (next: Design) => void;
  design: Design;
  experimentId: number;
  variant: Variant;
  changed: boolean;
  problems: DesignProblem[];
}) {
  return (
    <span className="more no-print flex flex-wrap items-center gap-1">
      <Button kind="plain" onClick={undo} disabled={!draft.past.length}>
        <Undo2 size={14} aria-hidden /> Undo
      </Button>
      <Button kind="plain" onClick={redo} disabled={!draft.future.length}>
        <Redo2 size={14} aria-hidden /> Redo
      </Button>
      <Button className="min-h-[26px]" onClick={() => set(addOuterCover(design))}>
        Add a glazing
      </Button>
      <Save
        experimentId={experimentId}
        variant={variant}
        design={design}
        changed={changed}
        blocked={problems.length > 0}
        onSaved={() => forgetDraft(variant.id, variant.revision)}
      />
    </span>
  );
}

function Save({
  experimentId,
  variant,
  design,
  changed,
  blocked,
  onSaved,
}: {
  experimentId: number;
  variant: Variant;
  design: Design;
  changed: boolean;
  blocked: boolean;
  onSaved: () => void;
}) {
  const { busy, act } = useAct();
  const what = changed ? listWords(differences(variant.design, design).map((a) => ASPECT_WORDS[a])) : "";
  const save = () =>
    act(
      () => saveVariant(experimentId, variant.id, { ...design, sketch: false }, what),
      (result) => {
        onSaved();
        toast.success(`Revision ${result.revision} kept.`);
      },
    );
  return (
    <Button
      kind="main"
      className="min-h-[26px]"
      disabled={!changed || blocked || busy}
      onClick={save}
      title={blocked ? "Mend what is marked first; the draft is kept meanwhile" : undefined}
    >
      {busy ? "Saving …" : "Save as revision"}
    </Button>
  );
}
