"use client";

import type { ExperimentSettings } from "@/core/experiment/schema/settings";
import { useSettings } from "@/features/experiment/useSettings";
import type { ExperimentView } from "@/services/page/views";
import { quantityText } from "@/core/quantity/format";
import { usePreferences } from "@/ui/preferences";
import { QuantityField } from "@/ui/QuantityField";
import { Choice } from "@/ui/Choice";

/** Where the winner will be used: a change here ranks anew at once. */
export function OperatingPoint({ view }: { view: ExperimentView }) {
  const { head } = view;
  const { settings, change, busy } = useSettings(head);
  const point = (part: Partial<ExperimentSettings["operatingPoint"]>) =>
    change(({ operatingPoint }) => ({ operatingPoint: { ...operatingPoint, ...part } }));
  return (
    <section aria-labelledby="point" className="no-print">
      <div className="head">
        <h3 id="point">Your operating point</h3>
        <span className="side" role="status">
          {busy ? "ranking anew …" : "type with any unit; the ranking follows"}
        </span>
      </div>
      {view.way === "tested" && (
        <p className="mt-1 text-ink-2">
          No curve of every lane reaches this point, so the answer stands as tested and does not move with it.
        </p>
      )}
      <Slope view={view} />
      <div className="mt-2 grid grid-cols-[repeat(auto-fit,minmax(124px,1fr))] gap-3">
        <QuantityField
          label="Inlet"
          quantity="temperature"
          si={settings.operatingPoint.inletC}
          min={-60}
          max={120}
          onChange={(inletC) => point({ inletC })}
        />
        <QuantityField
          label="Outside"
          quantity="temperature"
          si={settings.operatingPoint.ambientC}
          min={-60}
          max={60}
          onChange={(ambientC) => point({ ambientC })}
        />
        <QuantityField
          label="Sun in plane"
          quantity="irradiance"
          si={settings.operatingPoint.irradianceWm2}
          min={50}
          max={1500}
          onChange={(irradianceWm2) => point({ irradianceWm2 })}
        />
        <QuantityField
          label="Flow per area"
          quantity="massFlowPerArea"
          si={settings.operatingPoint.flowPerArea}
          min={1e-4}
          max={1}
          onChange={(flowPerArea) => point({ flowPerArea })}
        />
        <QuantityField
          label="Matters from"
          quantity="heatFlux"
          si={settings.smallestDifference}
          min={0}
          max={500}
          onChange={(smallestDifference) => change({ smallestDifference })}
        />
        {Object.keys(view.fans).length > 0 && (
          <QuantityField
            label="Fan’s electricity ×"
            quantity="number"
            si={settings.electricityWeight}
            min={0}
            max={5}
            onChange={(electricityWeight) => change({ electricityWeight })}
          />
        )}
      </div>
      <div className="mt-2 flex flex-wrap gap-x-6 gap-y-2">
        <Choice
          label="Area"
          value={settings.areaBasis}
          options={[
            ["gross", "gross"],
            ["aperture", "aperture"],
            ["absorber", "absorber"],
          ]}
          onChange={(areaBasis) => change({ areaBasis })}
        />
        <Choice
          label="Temperature"
          value={settings.basis}
          options={[
            ["mean", "mean fluid"],
            ["inlet", "inlet"],
          ]}
          onChange={(basis) => change({ basis })}
        />
        {view.way === "point" && (
          <Choice
            label="Flow"
            value={settings.flowWay}
            options={[
              ["perArea", "one per area"],
              ["rise", "one rise"],
              ["fan", "each its own fan’s"],
            ]}
            onChange={(flowWay) => change({ flowWay })}
          />
        )}
      </div>
      <Flows view={view} />
    </section>
  );
}

/** What the drawings' slopes make of the tested levels at this point. */
function Slope({ view: { slope } }: { view: ExperimentView }) {
  const { system } = usePreferences();
  if (!slope || slope.length === 0) return null;
  return (
    <p className="mt-1" data-testid="slope">
      By the slopes the drawings predict:{" "}
      {slope
        .map(({ a, b, difference: { si, expanded } }) => {
          const [more, less] = si >= 0 ? [a, b] : [b, a];
          const by = quantityText(Math.abs(si), "heatFlux", { system, expanded: expanded ?? undefined });
          return `${more} ${by} over ${less}`;
        })
        .join("; ")}
      . <span className="side">Levels measured, the way here predicted: no answer, but what to expect of one.</span>
    </p>
  );
}

/** Which flow each lane is compared at, where that is not the one it was tested at. */
function Flows({ view: { flows, head, way } }: { view: ExperimentView }) {
  const { system } = usePreferences();
  const show = (si: number) => quantityText(si, "massFlowPerArea", { system, figures: 2 });
  const far = flows.filter((f) => f.tested !== null && Math.abs(f.compared / f.tested - 1) > 0.05);
  if (way === "tested" || (head.settings.flowWay === "perArea" && far.length === 0)) return null;
  const shown = head.settings.flowWay === "perArea" ? far : flows;
  return (
    <p className="side mt-1" data-testid="flows">
      Compared at{" "}
      {shown
        .map((f) => `${f.lane} ${show(f.compared)}${f.tested === null ? "" : `, tested at ${show(f.tested)}`}`)
        .join("; ")}
      .
    </p>
  );
}
