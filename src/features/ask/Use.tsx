"use client";

import { MOUNTINGS, SEASONS } from "@/core/experiment/choices";
import { USE_FIELDS } from "@/core/experiment/settingFields";
import type { ExperimentSettings } from "@/core/experiment/schema/settings";
import type { ChangeSettings } from "@/features/experiment/useSettings";
import { Choice } from "@/ui/Choice";
import { askedOf, QuantityFields } from "@/ui/form/QuantityFields";
import { POINT_ASKED } from "@/features/experiment/pointFields";
import { optionsOf, Select } from "@/ui/form/Select";
import { Head } from "@/ui/Head";
import { AREA_WORDS, BASIS_WORDS } from "@/words/areas";

type UseSettings = ExperimentSettings["ask"]["use"];
const MOUNTING_WORDS: Record<UseSettings["mounting"], string> = {
  wall: "on a wall",
  roof: "on a roof",
  ground: "on the ground",
  window: "in a window",
};
const SEASON_WORDS: Record<UseSettings["season"], string> = {
  winter: "winter",
  between: "spring and autumn",
  summer: "summer",
  year: "all year",
};

const STANDS = askedOf(USE_FIELDS, { windMs: "Wind", tilt: "Tilt" });
const EXTREMES = askedOf(USE_FIELDS, {
  lowestC: "Coldest night",
  hottestC: "Hottest day",
  strongestWm2: "Strongest sun",
});

/** Where and how the winner will run; prediction, ranking and limits all follow it. */
export function Use({ settings, onChange }: { settings: ExperimentSettings; onChange: ChangeSettings }) {
  const { operatingPoint: p, ask } = settings;
  const point = (part: Partial<ExperimentSettings["operatingPoint"]>) =>
    onChange(({ operatingPoint }) => ({ operatingPoint: { ...operatingPoint, ...part } }));
  const use = (part: Partial<UseSettings>) =>
    onChange(({ ask }) => ({ ask: { ...ask, use: { ...ask.use, ...part } } }));
  return (
    <section>
      <Head title="Where the winner will run" />
      <div className="mt-1 grid grid-cols-2 gap-3 sm:grid-cols-3">
        <QuantityFields of={POINT_ASKED} value={p} set={point} />
        <QuantityFields of={STANDS} value={ask.use} set={use} />
        <Select
          label="Mounted"
          value={ask.use.mounting}
          options={optionsOf(MOUNTING_WORDS, MOUNTINGS)}
          onChange={(v) => use({ mounting: v })}
        />
        <Select
          label="Season"
          value={ask.use.season}
          options={optionsOf(SEASON_WORDS, SEASONS)}
          onChange={(v) => use({ season: v })}
        />
        <QuantityFields of={EXTREMES} value={ask.use} set={use} />
      </div>
      <div className="mt-2 grid gap-1">
        <Choice
          label="Area"
          value={settings.areaBasis}
          options={optionsOf(AREA_WORDS)}
          onChange={(areaBasis) => onChange({ areaBasis })}
        />
        <Choice
          label="Temperature"
          value={settings.basis}
          options={optionsOf(BASIS_WORDS)}
          onChange={(basis) => onChange({ basis })}
        />
      </div>
      {ask.use.mounting === "roof" && (
        <p className="side mt-1">
          Work on a roof needs fall protection; leave it to a licensed trade where you are not sure.
        </p>
      )}
    </section>
  );
}
