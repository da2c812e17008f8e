"use client";

import type { ExperimentSettings } from "@/core/experiment/schema/settings";
import { useSettings } from "@/features/experiment/useSettings";
import type { ExperimentView } from "@/services/page/views";
import { quantityText } from "@/core/quantity/format";
import { usePreferences } from "@/ui/preferences";
import { JUDGE_FIELDS } from "@/core/experiment/settingFields";
import { POINT_ASKED } from "@/features/experiment/pointFields";
import { Choice } from "@/ui/Choice";
import { askedOf, QuantityFields } from "@/ui/form/QuantityFields";
import { Head } from "@/ui/Head";
import { AREA_WORDS, BASIS_WORDS } from "@/words/areas";
import { optionsOf } from "@/ui/form/Select";

const MATTERS = askedOf(JUDGE_FIELDS, { smallestDifference: "Matters from" });
const ELECTRICITY = askedOf(JUDGE_FIELDS, { electricityWeight: "Fan’s electricity ×" });

/** Where the winner will be used: a change here ranks anew at once. */
export function OperatingPoint({ view }: { view: ExperimentView }) {
  const { head } = view;
  const { settings, change, busy } = useSettings(head);
  const point = (part: Partial<ExperimentSettings["operatingPoint"]>) =>
    change(({ operatingPoint }) => ({ operatingPoint: { ...operatingPoint, ...part } }));
  return (
    <section aria-labelledby="point" className="no-print">
      <Head
        id="point"
        title="Your operating point"
        status={busy ? "ranking anew …" : "type with any unit; the ranking follows"}
        small
      />
      {view.way === "tested" && (
        <p className="mt-1 text-ink-2">
          {view.verdict.kind === "daylight"
            ? "No curve of every lane reaches this point. All daylight’s answer moves with it; ranking and differences stand as tested."
            : "No curve of every lane reaches this point, so the answer stands as tested and does not move with it."}
        </p>
      )}
      <Slope view={view} />
      <div className="mt-2 grid grid-cols-[repeat(auto-fit,minmax(124px,1fr))] gap-3">
        <QuantityFields of={POINT_ASKED} value={settings.operatingPoint} set={point} />
        <QuantityFields of={MATTERS} value={settings} set={change} />
        {Object.keys(view.fans).length > 0 && <QuantityFields of={ELECTRICITY} value={settings} set={change} />}
      </div>
      <div className="mt-2 flex flex-wrap gap-x-6 gap-y-2">
        <Choice
          label="Area"
          value={settings.areaBasis}
          options={optionsOf(AREA_WORDS)}
          onChange={(areaBasis) => change({ areaBasis })}
        />
        <Choice
          label="Temperature"
          value={settings.basis}
          options={optionsOf(BASIS_WORDS)}
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
