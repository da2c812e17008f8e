"use client";

import type { ExperimentSettings } from "@/core/experiment/schema/settings";
import { changeSettings } from "@/features/experiment/actions";
import type { ExperimentView } from "@/services/views";
import { QuantityField } from "@/ui/QuantityField";
import { Choice } from "@/ui/Choice";
import { useAct } from "@/ui/useAct";

/** Where the winner will be used: a change here ranks anew at once. */
export function OperatingPoint({ view }: { view: ExperimentView }) {
  const { head } = view;
  const { settings } = head;
  const { busy, act } = useAct();
  const change = (part: Partial<ExperimentSettings>) => act(() => changeSettings(head.id, part));
  const point = (part: Partial<ExperimentSettings["operatingPoint"]>) =>
    change({ operatingPoint: { ...settings.operatingPoint, ...part } });
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
      </div>
    </section>
  );
}
