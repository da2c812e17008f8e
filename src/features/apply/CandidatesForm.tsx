"use client";

import type { ApplySettings } from "@/core/season/schema";
import type { Origin } from "@/core/season/origins";
import type { ApplyView } from "@/services/apply/applyView";
import type { CandidateView } from "@/services/apply/candidates";
import { LaneMark } from "@/ui/LaneMark";
import { QuantityFields, type Asked } from "@/ui/form/QuantityFields";
import { optionsOf, Select, Tick } from "@/ui/form/Select";
import { GAP_WORDS, ORIGIN_WORDS } from "@/words/apply";
import { ORIGIN_ORDER, originOf } from "@/services/apply/seasonJob";

/** Which variants enter the year, and how the curve of each is known. */
export function CandidatesForm({
  apply,
  settings,
  change,
}: {
  apply: ApplyView;
  settings: ApplySettings;
  change: (part: Partial<ApplySettings>) => void;
}) {
  const { left, origins } = settings;
  return (
    <fieldset>
      <legend className="text-[13.5px] font-[650]">Variants and their curves</legend>
      {apply.candidates.map((c) => {
        const taken = !left.includes(c.key);
        const own = originOf(c, apply, settings);
        return (
          <div key={c.key} className="mt-1 border-b border-hair pb-1.5">
            <label className="flex items-center gap-2 text-[13.5px] font-semibold">
              <input
                type="checkbox"
                className="size-4"
                checked={taken}
                onChange={() => change({ left: taken ? [...left, c.key] : left.filter((k) => k !== c.key) })}
              />
              {c.letters.map((l) => (
                <LaneMark key={l} lane={l} size={12} />
              ))}
              {c.name}
            </label>
            {taken && c.origins.length > 1 && (
              <Select
                label={`Curve of ${c.key}`}
                value={own!.origin}
                options={ORIGIN_ORDER.filter((o) => c.origins.some((k) => k.origin === o)).map(
                  (o) => [o, ORIGIN_WORDS[o]] as const,
                )}
                onChange={(origin: Origin) => change({ origins: { ...origins, [c.key]: origin } })}
              />
            )}
            {taken && c.origins.length === 1 && <p className="side">{ORIGIN_WORDS[c.origins[0].origin]}</p>}
            {taken && own === null && (
              <p className="side">Left out: {[...new Set(c.gaps.map((g) => GAP_WORDS[g.why]))].join("; ")}.</p>
            )}
            {taken && own && <Notes view={c} origin={own.origin} />}
          </div>
        );
      })}
      <Typed typed={settings.typed} change={change} />
    </fieldset>
  );
}

/** What is to be known of a curve that is used. */
function Notes({ view, origin }: { view: CandidateView; origin: Origin }) {
  const lines = [
    origin === "prediction" &&
      view.origins.length > 1 &&
      "Its drawing, though it was tested: so it rests on the same ground as what stands beside it.",
    origin === "condition" && "Tested at one condition: its loss is the drawing’s, ± a quarter, so its band is wide.",
    view.flowFollows && "Its flow follows the sun; here it is taken as it was when tested or drawn.",
    view.fanUnknown && "Nothing drawn says what its fan takes: none is counted.",
  ].filter((l) => l !== false);
  return lines.map((l) => (
    <p key={l} className="side">
      {l}
    </p>
  ));
}

const NEW = {
  name: "another collector",
  eta0: 0.75,
  a1: 4,
  a2: 0.01,
  basis: "mean" as const,
  areaM2: 2,
  b0: 0.1,
  capacityJM2K: 8000,
  massFlowKgS: 0.04,
  powerW: 10,
  cost: 0,
};

type TypedCurve = NonNullable<ApplySettings["typed"]>;
const TYPED: Asked<TypedCurve>[] = [
  { key: "eta0", label: "η0", quantity: "fraction", min: 0.01, max: 1.2 },
  { key: "a1", label: "a1", quantity: "lossCoefficient", min: 0, max: 60 },
  { key: "a2", label: "a2", quantity: "curvature", min: 0, max: 1 },
  { key: "areaM2", label: "Area of one box", quantity: "area", min: 0.05, max: 400 },
  { key: "massFlowKgS", label: "Flow of one box", quantity: "massFlow", min: 0.0001, max: 20 },
  { key: "b0", label: "Incidence b0", quantity: "number", min: -0.2, max: 0.5 },
  { key: "capacityJM2K", label: "Heat held", quantity: "heatCapacityPerArea", min: 100, max: 200000 },
  { key: "powerW", label: "Fan", quantity: "power", min: 0, max: 10000 },
  { key: "cost", label: "Cost of one box", quantity: "number", min: 0, max: 1e7 },
];

/** A curve from a data sheet, to stand beside the own ones. */
function Typed({ typed, change }: { typed: ApplySettings["typed"]; change: (part: Partial<ApplySettings>) => void }) {
  const set = (part: Partial<TypedCurve>) => typed && change({ typed: { ...typed, ...part } });
  return (
    <details className="mt-1" open={typed !== null}>
      <summary className="cursor-pointer text-[13px] font-semibold text-action">A curve typed in</summary>
      <Tick
        label="put it beside the others"
        checked={typed !== null}
        onChange={(on) => change({ typed: on ? NEW : null })}
      />
      {typed && (
        <div className="mt-1 grid grid-cols-2 gap-x-3 gap-y-2">
          <label className="text-[13px] font-semibold">
            Name
            <input
              aria-label="Name of the typed curve"
              className="field mt-0.5"
              defaultValue={typed.name}
              maxLength={60}
              onBlur={(e) => e.target.value.trim() && set({ name: e.target.value.trim() })}
            />
          </label>
          <Select
            label="Stated over"
            value={typed.basis}
            options={optionsOf({ mean: "mean fluid temperature", inlet: "inlet temperature" })}
            onChange={(basis) => set({ basis })}
          />
          <QuantityFields of={TYPED} value={typed} set={set} />
        </div>
      )}
    </details>
  );
}
