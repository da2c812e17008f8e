"use client";

import { methodOf } from "@/core/method/list";
import { parseNumber } from "@/core/quantity/parseQuantity";
import { quantityText } from "@/core/quantity/format";
import type { PlanPatch, PlanSettings } from "@/core/experiment/schema/plan";
import type { PlanView } from "@/services/plan/plan";
import { usePreferences } from "@/ui/preferences";
import { NEED_WORDS, PROTOCOL_WORDS, RISK_WORDS } from "@/words/plan";
import { percent } from "@/words/sources";
import { useState } from "react";
import { chooseRules } from "@/features/experiment/actions";
import { useAct } from "@/ui/useAct";
import { Choice } from "@/ui/Choice";
import { PLAN_FIELDS } from "@/core/experiment/settingFields";
import { QuantityField } from "@/ui/QuantityField";
import { Head } from "@/ui/Head";

/** What the protocol yields, needs and risks, with its times from the slowest lane and the flow all lanes must share. */
export function ProtocolPanel({
  plan,
  settings,
  change,
}: {
  plan: PlanView;
  settings: PlanSettings;
  change: (patch: PlanPatch) => void;
}) {
  const { system } = usePreferences();
  const { busy, act } = useAct();
  const protocol = methodOf(settings.protocol);
  const words = PROTOCOL_WORDS[settings.protocol];
  const { timeConstant: tau, times, rules } = plan;
  const minutes = (s: number) => `${Math.round(s / 60)} min`;
  return (
    <section aria-labelledby="protocol" data-testid="protocol">
      <Head
        id="protocol"
        title={words.name}
        side={
          <>
            {words.hours}; {words.sky}
          </>
        }
      />
      <div className="grid grid-cols-1 gap-x-6 gap-y-2 pt-1 md:grid-cols-3">
        <div>
          <h3 className="font-semibold">It yields</h3>
          <p>{words.yields}</p>
          <div className="pt-1">
            <Choice
              label="Rules"
              value={rules.name}
              options={[
                ["standard", "standard"],
                ["backyard", "backyard"],
              ]}
              onChange={(name) => act(() => chooseRules(plan.experimentId, name))}
            />
          </div>
          <p className="side">
            {busy
              ? "Working it out …"
              : `At least ${quantityText(rules.minIrradiance, "irradiance", { system, figures: 3 })}, incidence factor ${rules.minModifier} or more, flow within ${percent(rules.flowBand)}; single limits are changed in Read.`}
          </p>
        </div>
        <div>
          <h3 className="font-semibold">It needs</h3>
          <ul className="ml-4 list-disc">
            {protocol.needs.map((n) => (
              <li key={n}>{NEED_WORDS[n]}</li>
            ))}
            {protocol.leastDays > 1 && <li>{protocol.leastDays} days at least</li>}
          </ul>
        </div>
        <div>
          <h3 className="font-semibold">Mind</h3>
          <ul className="ml-4 list-disc">
            {protocol.risks.map((r) => (
              <li key={r}>{RISK_WORDS[r]}</li>
            ))}
          </ul>
        </div>
      </div>
      <p className="pt-2">
        Settle {minutes(times.settleS)}, average {minutes(times.averageS)}:{" "}
        {tau.from === "assumed"
          ? `a time constant of ${Math.round(tau.seconds)} s is assumed until a design is drawn`
          : `lane ${tau.lane} is the slowest, time constant ${Math.round(tau.seconds)} s ${tau.from === "predicted" ? "predicted from its design" : "as given with its run"}`}
        . Every lane runs at {quantityText(plan.flowPerArea, "massFlowPerArea", { system, figures: 3 })}, equal within{" "}
        {percent(rules.flowBand)} before you begin:{" "}
        {plan.specimens
          .map(
            (s) =>
              `${s.letter} ${quantityText(plan.flowPerArea * s.box.widthM * s.box.lengthM, "massFlow", { system, figures: 3 })}`,
          )
          .join(", ")}
        .
      </p>
      <div className="flex flex-wrap items-end gap-3 pt-2">
        {settings.protocol === "steady" && (
          <Levels levels={settings.levelsK} onChange={(levelsK) => change({ set: { levelsK } })} />
        )}
        <Minutes label="A swap takes" of="swapMin" {...{ settings, change }} />
        <Minutes label="Checks take" of="checkMin" {...{ settings, change }} />
        <label className="flex min-h-8 items-center gap-2 text-[13.5px]">
          <input
            type="checkbox"
            checked={settings.calibrate}
            onChange={(e) => change({ set: { calibrate: e.target.checked } })}
          />{" "}
          Baths before and after
        </label>
      </div>
    </section>
  );
}

function Levels({ levels, onChange }: { levels: readonly number[]; onChange: (levels: number[]) => void }) {
  const [draft, setDraft] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const commit = (text: string) => {
    const values = text
      .split(/[;\s]+/)
      .filter(Boolean)
      .map((t) => parseNumber(t.replace(/,$/, ""), true));
    if (
      values.length === 0 ||
      values.length > 6 ||
      values.some((v) => !v.ok || !/^K?$/.test(v.rest.trim()) || v.value < 0 || v.value > 80)
    )
      return setProblem("One to six numbers from 0 to 80, with spaces between: 0 15 30.");
    setProblem(null);
    setDraft(null);
    onChange(values.map((v) => (v.ok ? v.value : 0)));
  };
  return (
    <label className="w-[190px] text-[13px] font-semibold">
      Inlet above outside, K
      <input
        className="field mt-0.5"
        value={draft ?? levels.join(" ")}
        aria-invalid={problem !== null}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={(e) => draft !== null && commit(e.target.value)}
        onKeyDown={(e) => e.key === "Enter" && commit(e.currentTarget.value)}
      />
      {problem && (
        <span role="alert" className="text-[12.5px] text-danger">
          {problem}
        </span>
      )}
    </label>
  );
}

/** A time kept in whole minutes, typed in any unit. */
const Minutes = ({
  label,
  of,
  settings,
  change,
}: {
  label: string;
  of: "swapMin" | "checkMin";
  settings: PlanSettings;
  change: (patch: PlanPatch) => void;
}) => (
  <div className="w-[128px]">
    <QuantityField
      label={label}
      quantity="duration"
      si={settings[of] * 60}
      min={PLAN_FIELDS[of].min * 60}
      max={PLAN_FIELDS[of].max * 60}
      onChange={(seconds) => change({ set: { [of]: Math.round(seconds / 60) } })}
    />
  </div>
);
