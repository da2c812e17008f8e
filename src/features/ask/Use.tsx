"use client";

import { MOUNTINGS, SEASONS } from "@/core/experiment/choices";
import type { ExperimentSettings } from "@/core/experiment/schema/settings";
import type { ChangeSettings } from "@/features/experiment/useSettings";
import { Choice } from "@/ui/Choice";
import { QuantityField } from "@/ui/QuantityField";

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

/** Where and how the winner will run; prediction, ranking and limits all follow it. */
export function Use({ settings, onChange }: { settings: ExperimentSettings; onChange: ChangeSettings }) {
  const { operatingPoint: p, ask } = settings;
  const point = (part: Partial<ExperimentSettings["operatingPoint"]>) =>
    onChange(({ operatingPoint }) => ({ operatingPoint: { ...operatingPoint, ...part } }));
  const use = (part: Partial<UseSettings>) =>
    onChange(({ ask }) => ({ ask: { ...ask, use: { ...ask.use, ...part } } }));
  return (
    <section>
      <div className="head">
        <h2>Where the winner will run</h2>
      </div>
      <div className="mt-1 grid grid-cols-2 gap-3 sm:grid-cols-3">
        <QuantityField
          label="Inlet"
          quantity="temperature"
          si={p.inletC}
          min={-60}
          max={120}
          onChange={(inletC) => point({ inletC })}
        />
        <QuantityField
          label="Outside"
          quantity="temperature"
          si={p.ambientC}
          min={-60}
          max={60}
          onChange={(ambientC) => point({ ambientC })}
        />
        <QuantityField
          label="Sun in plane"
          quantity="irradiance"
          si={p.irradianceWm2}
          min={50}
          max={1500}
          onChange={(irradianceWm2) => point({ irradianceWm2 })}
        />
        <QuantityField
          label="Flow per area"
          quantity="massFlowPerArea"
          si={p.flowPerArea}
          min={1e-4}
          max={1}
          onChange={(flowPerArea) => point({ flowPerArea })}
        />
        <QuantityField
          label="Wind"
          quantity="speed"
          si={ask.use.windMs}
          min={0}
          max={20}
          onChange={(windMs) => use({ windMs })}
        />
        <QuantityField
          label="Tilt"
          quantity="angle"
          si={ask.use.tilt}
          min={0}
          max={90}
          onChange={(tilt) => use({ tilt })}
        />
        <label className="text-[13px] font-semibold">
          Mounted
          <select
            className="field mt-0.5"
            value={ask.use.mounting}
            onChange={(e) => use({ mounting: e.target.value as UseSettings["mounting"] })}
          >
            {MOUNTINGS.map((m) => (
              <option key={m} value={m}>
                {MOUNTING_WORDS[m]}
              </option>
            ))}
          </select>
        </label>
        <label className="text-[13px] font-semibold">
          Season
          <select
            className="field mt-0.5"
            value={ask.use.season}
            onChange={(e) => use({ season: e.target.value as UseSettings["season"] })}
          >
            {SEASONS.map((m) => (
              <option key={m} value={m}>
                {SEASON_WORDS[m]}
              </option>
            ))}
          </select>
        </label>
        <QuantityField
          label="Coldest night"
          quantity="temperature"
          si={ask.use.lowestC}
          min={-70}
          max={40}
          onChange={(lowestC) => use({ lowestC })}
        />
        <QuantityField
          label="Hottest day"
          quantity="temperature"
          si={ask.use.hottestC}
          min={0}
          max={60}
          onChange={(hottestC) => use({ hottestC })}
        />
        <QuantityField
          label="Strongest sun"
          quantity="irradiance"
          si={ask.use.strongestWm2}
          min={300}
          max={1500}
          onChange={(strongestWm2) => use({ strongestWm2 })}
        />
      </div>
      <div className="mt-2 grid gap-1">
        <Choice
          label="Area"
          value={settings.areaBasis}
          options={[
            ["gross", "gross"],
            ["aperture", "aperture"],
            ["absorber", "covered"],
          ]}
          onChange={(areaBasis) => onChange({ areaBasis })}
        />
        <Choice
          label="Temperature"
          value={settings.basis}
          options={[
            ["mean", "mean fluid"],
            ["inlet", "inlet"],
          ]}
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
