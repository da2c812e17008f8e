"use client";

import type { FigureName, Operating, Prediction } from "@/core/collector/prediction";
import { quantityText } from "@/core/quantity/format";
import { usePreferences } from "@/ui/preferences";
import { Figure } from "@/ui/Working";
import { FIGURE_META, figureData, predictedWorking } from "@/features/experiment/figures";
import { Head } from "@/ui/Head";

/** In the order a person asks. */
const SHOWN: FigureName[] = [
  "heatPerArea",
  "heat",
  "heatPerMetre",
  "outlet",
  "efficiency",
  "eta0",
  "a1",
  "a2",
  "stagnation",
  "stagnationHere",
  "stagnationMirror",
  "pressure",
  "fanPower",
  "netHeat",
  "timeConstant",
  "heatCapacity",
  "plateMean",
  "transmittanceAbsorptance",
  "efficiencyFactor",
  "removalFactor",
  "collectorLoss",
  "arrayOutlet",
  "arrayHeat",
];
const ALWAYS = 12;

/** Predicted figures, each with its ±, each opening its working, and another variant's beside it. */
export function Predicted({
  prediction,
  letter,
  operating,
  beside,
  besideLetter,
  stale,
}: {
  prediction: Prediction | null;
  letter: string;
  operating: Operating;
  beside: Prediction | null;
  besideLetter: string | null;
  stale: boolean;
}) {
  const names = SHOWN.filter((n) => prediction?.figures[n]);
  return (
    <section aria-labelledby="predicted" data-testid="predicted" data-busy={stale}>
      <Head
        id="predicted"
        title="Predicted"
        side={<>model, 95 %{besideLetter ? `; ${besideLetter} beside it` : ""}</>}
      />
      {!prediction && (
        <p className="side py-2" role="status">
          {stale ? "Working it out …" : "Nothing to predict until the marked layers are mended."}
        </p>
      )}
      {prediction && <Rows names={names.slice(0, ALWAYS)} {...{ prediction, letter, operating, beside }} />}
      {prediction && names.length > ALWAYS && (
        <details>
          <summary className="cursor-pointer py-1 text-[13px] font-semibold text-action">
            {names.length - ALWAYS} more figures
          </summary>
          <Rows names={names.slice(ALWAYS)} {...{ prediction, letter, operating, beside }} />
        </details>
      )}
    </section>
  );
}

function Rows({
  names,
  prediction,
  letter,
  operating,
  beside,
}: {
  names: FigureName[];
  prediction: Prediction;
  letter: string;
  operating: Operating;
  beside: Prediction | null;
}) {
  const { system } = usePreferences();
  return (
    <dl>
      {names.map((n) => {
        const other = beside ? figureData(beside, n) : null;
        return (
          <div key={n} className="flex items-baseline gap-2 border-b border-hair py-[2.5px]">
            <dt className="min-w-0 flex-1 truncate text-[13.5px]">{FIGURE_META[n].label}</dt>
            <dd className="whitespace-nowrap text-right text-[14px]" data-figure={n}>
              <Figure
                figure={figureData(prediction, n)!}
                opens={{ figure: "predicted", letter, name: n }}
                local={() => predictedWorking(prediction, n, operating, letter)}
              />
            </dd>
            {beside && (
              <dd className="w-16 whitespace-nowrap text-right text-[12.5px] text-ink-3">
                {other
                  ? quantityText(other.si, other.quantity, { system, expanded: other.expanded ?? undefined })
                      .replace(/ ± .*$/u, "")
                      .replace(/ [^\d\s]*$/u, "")
                  : "–"}
              </dd>
            )}
          </div>
        );
      })}
    </dl>
  );
}
