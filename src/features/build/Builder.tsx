"use client";

import { useMemo, useState, type Dispatch, type SetStateAction } from "react";
import { billOf } from "@/core/collector/bill";
import { isBought, type Design } from "@/core/collector/design";
import type { Operating, Prediction } from "@/core/collector/prediction";
import type { Study } from "@/core/collector/study";
import type { Material } from "@/core/materials/material";
import { quantityText } from "@/core/quantity/format";
import type { Variant } from "@/core/experiment/records";
import { loadRevision } from "@/features/experiment/variantActions";
import { BoxEditor } from "./BoxEditor";
import { EnergyPath } from "./EnergyPath";
import { FlowChart } from "./FlowChart";
import { LayerEditor } from "./LayerEditor";
import { LayerTable } from "./LayerTable";
import { Notices } from "./Notices";
import { Predicted } from "./Predicted";
import { SectionView } from "./SectionView";
import { Sentence } from "./Sentence";
import { useStudy, type Studied } from "@/features/experiment/useStudy";
import { useAct } from "@/ui/useAct";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";
import { Problem } from "@/ui/Problem";
import { drawingState } from "@/words/build";
import type { DesignProblem } from "@/core/collector/validate";
import { useDrawing } from "./useDrawing";
import { useEdits } from "./useEdits";
import { Tools } from "./BuilderTools";

/** One variant on the drawing board: edit, see it move, keep it as a revision. */
export function Builder({
  experimentId,
  variant,
  reference,
  referenceStudy,
  operating,
  lowestC,
  known,
  library,
}: {
  experimentId: number;
  variant: Variant;
  /** The variant it is compared with; null when it stands alone. */
  reference: Variant | null;
  referenceStudy: Study | null;
  operating: Operating;
  lowestC: number;
  /** The study of the variant as kept, when the page brought it. */
  known: Study | null;
  library: ReadonlyMap<string, Material>;
}) {
  const { design, steps, error, busy, edit } = useDrawing(experimentId, variant);
  const [selected, setSelected] = useState<string | null>(
    () => design.layers.find((l) => l.kind === "absorber")?.id ?? null,
  );
  const studied = useStudy(design, operating, lowestC, known && { design: variant.design, value: known });
  // The last answer belongs to a design a moment older; problems are shown for the present one only.
  const study = studied.value;
  const current = studied.design === design;
  const layersFit = studied.design?.layers.length === design.layers.length && !study?.problems.length;
  const prediction = layersFit || !current ? (study?.prediction ?? null) : null;
  const fits = prediction && prediction.layers.length === design.layers.length ? prediction : null;
  const { undo, redo, set, move, remove, add } = useEdits({ edit, library, design, selected, setSelected });

  const layer = design.layers.find((l) => l.id === selected);
  const problems = study && current ? study.problems : [];
  return (
    <div className="grid grid-cols-1 gap-x-6 gap-y-3 lg:grid-cols-[minmax(0,1fr)_minmax(280px,312px)]">
      <div className="min-w-0">
        <Sentence
          operating={operating}
          study={study}
          design={design}
          variant={variant}
          reference={reference}
          referenceStudy={referenceStudy}
        />
        <Head
          title="Section"
          side={
            <>
              {drawingState(variant, { busy, error })}
              {design.sketch && ", a sketch: dimensions assumed"}
            </>
          }
          className="mt-1"
        >
          <Tools {...{ undo, steps, redo, set, design, experimentId, variant, busy, problems }} />
        </Head>
        <Problem>{error}</Problem>
        <SectionView
          design={design}
          lane={variant.letter}
          prediction={fits}
          limits={fits && study ? study.limits : []}
          selected={selected}
          inletC={operating.inletC}
          onSelect={setSelected}
          onMove={move}
          onRemove={remove}
        />
        <LayerTable
          design={design}
          letter={variant.letter}
          prediction={fits}
          limits={fits && study ? study.limits : []}
          problems={problems}
          selected={selected}
          operating={operating}
          onSelect={setSelected}
          onMove={move}
          onRemove={remove}
          onAdd={add}
        />
        <div className="no-print mt-3 grid gap-4">
          {layer && <LayerEditor design={design} layer={layer} materials={library} onChange={set} />}
          <BoxEditor design={design} materials={library} onChange={set} />
        </div>
        <Revisions experimentId={experimentId} variant={variant} onTake={set} />
      </div>
      <Beside
        {...{
          design,
          problems,
          fits,
          study,
          library,
          set,
          setSelected,
          studied,
          prediction,
          variant,
          operating,
          referenceStudy,
          reference,
        }}
      />
    </div>
  );
}

/** What the drawing is predicted to give, and the layer or box in hand. */
function Beside({
  design,
  problems,
  fits,
  study,
  library,
  set,
  setSelected,
  studied,
  prediction,
  variant,
  operating,
  referenceStudy,
  reference,
}: {
  design: Design;
  problems: DesignProblem[];
  fits: Prediction | null;
  study: Study | null;
  library: ReadonlyMap<string, Material>;
  set: (next: Design) => void;
  setSelected: Dispatch<SetStateAction<string | null>>;
  studied: Studied;
  prediction: Prediction | null;
  variant: Variant;
  operating: Operating;
  referenceStudy: Study | null;
  reference: Variant | null;
}) {
  return (
    <aside className="grid min-w-0 grid-cols-1 content-start gap-3" aria-label="Predicted figures, limits and flow">
      <Notices
        design={design}
        problems={problems}
        limits={fits && study ? study.limits : []}
        hazards={fits && study ? study.hazards : []}
        library={library}
        onChange={set}
        onSelect={setSelected}
      />
      {studied.error && (
        <p role="alert" className="text-danger">
          {studied.error}
        </p>
      )}
      <Predicted
        prediction={prediction}
        letter={variant.letter}
        operating={operating}
        beside={referenceStudy?.prediction ?? null}
        besideLetter={reference?.letter ?? null}
        stale={studied.busy}
      />
      {prediction && <EnergyPath prediction={prediction} />}
      {prediction && !prediction.fanEnough && (
        <p className="border-l-4 border-doubt-line pl-2 text-[13px]">
          <b className="font-[650] text-doubt">This fan cannot bring your flow.</b> It brings{" "}
          {flowText(prediction.drivenFlow)}; take a stronger one, a wider path, or less flow.
        </p>
      )}
      {!isBought(design) && <FlowChart design={design} lane={variant.letter} operating={operating} />}
      <Cost design={design} variant={variant} />
    </aside>
  );
}

const flowText = (si: number) => quantityText(si, "massFlow", { figures: 2 });

function Cost({ design, variant }: { design: Design; variant: Variant }) {
  const bill = useMemo(() => {
    try {
      return billOf(design, variant.bill);
    } catch {
      // A half-typed design may name nothing that can be counted.
      return null;
    }
  }, [design, variant.bill]);
  if (!bill || !Number.isFinite(bill.first)) return null;
  return (
    <p className="border-t-[1.5px] border-ink pt-1 text-[13.5px]">
      Material: first unit{" "}
      <b className="font-[650]">
        {Math.round(bill.first)} {bill.currency}
      </b>
      , each more{" "}
      <b className="font-[650]">
        {Math.round(bill.repeat)} {bill.currency}
      </b>
      ; {bill.hoursFirst} h, then {bill.hoursRepeat} h.
    </p>
  );
}

function Revisions({ variant, onTake }: { experimentId: number; variant: Variant; onTake: (design: Design) => void }) {
  const { busy, ask } = useAct();
  if (variant.revisions.length < 2) return null;
  return (
    <details className="no-print mt-4">
      <summary className="cursor-pointer font-semibold text-action">{variant.revisions.length} revisions</summary>
      <ul className="mt-1">
        {variant.revisions.toReversed().map((r) => (
          <li key={r.revision} className="flex flex-wrap items-baseline gap-x-3 border-b border-hair py-1">
            <b className="font-[650]">Revision {r.revision}</b>
            <span className="side">{new Date(r.createdAt).toISOString().slice(0, 16).replace("T", " ")} UTC</span>
            <span>
              {r.note}
              {variant.workingFrom && r.revision === variant.revision && "in progress"}
              {variant.specimens
                .filter((s) => s.revision === r.revision)
                .map((s) => ` Specimen ${s.number} is built to it.`)}
            </span>
            {r.revision !== variant.revision && (
              <Button
                kind="plain"
                disabled={busy}
                onClick={() =>
                  ask(
                    () => loadRevision(variant.id, r.revision),
                    (old) => old && onTake(old),
                  )
                }
              >
                Take it up as a draft
              </Button>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
