"use client";

import type { Prediction } from "@/core/collector/prediction";
import { quantityText } from "@/core/quantity/format";
import type { QuantityId } from "@/core/quantity/quantities";
import { DIFFERENCE_UNITS } from "@/core/experiment/choices";
import type { ExperimentSettings } from "@/core/experiment/schema/settings";
import { usePreferences } from "@/ui/preferences";
import { QuantityField } from "@/ui/QuantityField";
import { Select } from "@/ui/form/Select";
import { Head } from "@/ui/Head";

type Unit = (typeof DIFFERENCE_UNITS)[number];
const UNIT_WORDS: Record<Unit, string> = {
  heatPerArea: "heat per area",
  heat: "heat of a box",
  efficiency: "points of efficiency",
  share: "share of the heat",
};
const QUANTITY: Record<Unit, QuantityId> = {
  heatPerArea: "heatFlux",
  heat: "power",
  efficiency: "fraction",
  share: "fraction",
};

/** The smallest difference that would change what you build, in the unit you think in. Kept as heat per area at the operating point. */
export function Difference({
  settings,
  reference,
  onChange,
}: {
  settings: ExperimentSettings;
  reference: Prediction | null;
  onChange: (part: Partial<ExperimentSettings>) => void;
}) {
  const { system } = usePreferences();
  const unit = settings.ask.differenceUnit;
  // W/m² that one SI unit of the chosen kind stands for; a share and a box need a heat and an area to relate to.
  const per: Record<Unit, number | null> = {
    heatPerArea: 1,
    efficiency: settings.operatingPoint.irradianceWm2,
    heat: reference ? 1 / reference.areaM2 : null,
    share: reference?.figures.heatPerArea ? reference.figures.heatPerArea.value : null,
  };
  const factor = per[unit] ?? 1;
  const usable = DIFFERENCE_UNITS.filter((u) => per[u] !== null);
  return (
    <section>
      <Head title="Smallest difference that matters" />
      <div className="mt-1 grid grid-cols-2 gap-3">
        <QuantityField
          key={unit}
          label="Matters from"
          quantity={per[unit] === null ? "heatFlux" : QUANTITY[unit]}
          si={Number((settings.smallestDifference / factor).toPrecision(4))}
          min={0}
          max={500 / factor}
          onChange={(v) => onChange({ smallestDifference: v * factor })}
        />
        <Select
          label="said in"
          value={unit}
          options={usable.map((u) => [u, UNIT_WORDS[u]] as const)}
          onChange={(v) => onChange({ ask: { ...settings.ask, differenceUnit: v } })}
        />
      </div>
      {unit !== "heatPerArea" && (
        <p className="side mt-1">
          That is {quantityText(settings.smallestDifference, "heatFlux", { system, figures: 2 })} at your point
          {unit === "share" || unit === "heat" ? ", by the first variant’s prediction" : ""}.
        </p>
      )}
    </section>
  );
}
