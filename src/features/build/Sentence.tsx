"use client";

import type { Design } from "@/core/collector/design";
import type { Operating } from "@/core/collector/prediction";
import type { Study } from "@/core/collector/study";
import type { Variant } from "@/core/experiment/records";
import { quantityText } from "@/core/quantity/format";
import { differenceData, figureData, predictedWorking } from "@/features/experiment/figures";
import { usePreferences } from "@/ui/preferences";
import { Figure } from "@/ui/Working";
import { problemWords } from "@/words/build";
import { layerName } from "./names";

const WHEN_WORDS: Partial<Record<string, string>> = { use: "in use", mirror: "without flow, mirror on," };
const lowerFirst = (s: string): string => s[0].toLowerCase() + s.slice(1);

/** What is known, how surely, what stands against it: in one sentence. */
export function Sentence({
  study,
  design,
  variant,
  reference,
  referenceStudy,
  operating,
}: {
  operating: Operating;
  study: Study | null;
  design: Design;
  variant: Variant;
  reference: Variant | null;
  referenceStudy: Study | null;
}) {
  const { system } = usePreferences();
  if (!study) return <h1 className="sentence">Working out what {variant.name} should do …</h1>;
  if (study.problems.length) {
    const [first] = study.problems;
    const layer = design.layers.find((l) => l.id === first.layer);
    return (
      <h1 className="sentence text-danger">
        {problemWords(first, layer ? layerName(layer, design.materials) : "", design.materials, system)}
      </h1>
    );
  }
  const p = study.prediction!;
  const over = study.limits.find((l) => l.state === "over");
  const against =
    referenceStudy?.prediction && reference ? differenceData(referenceStudy.prediction, p, "heatPerArea") : null;
  const settled = against && Math.abs(against.si) > (against.expanded ?? 0);
  const more =
    against &&
    `${quantityText(Math.abs(against.si), "heatFlux", { expanded: against.expanded ?? undefined, system })} ${against.si > 0 ? "more" : "less"}`;
  return (
    <h1 className="sentence">
      {variant.name} should give{" "}
      <Figure
        figure={figureData(p, "heatPerArea")!}
        opens={{ figure: "predicted", letter: variant.letter, name: "heatPerArea", in: "sentence" }}
        local={() => predictedWorking(p, "heatPerArea", operating, variant.letter)}
      />{" "}
      at your point
      {against && settled && `, ${more} than ${reference?.letter}`}
      {against && !settled && `; the model cannot tell it from ${reference?.letter}`}
      {over ? (
        <>
          , but{" "}
          <span className="text-danger">
            {WHEN_WORDS[over.worstCase] ?? "without flow"} its{" "}
            {over.what === "coating"
              ? "coating"
              : lowerFirst(
                  layerName(design.layers.find((l) => l.id === over.layer) ?? design.layers[0], design.materials),
                )}{" "}
            reaches {quantityText(over.worstC, "temperature", { expanded: over.plusMinusK, system })}, limit{" "}
            {quantityText(over.limitC, "temperature", { system, figures: 3 })}.
          </span>
        </>
      ) : (
        "."
      )}
    </h1>
  );
}
