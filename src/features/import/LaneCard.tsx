"use client";

import { ABSORBER_FORMS, FORMS } from "@/core/collector/form/list";
import { FLUID_KINDS, fluidOf } from "@/core/fluids/fluid";
import { designFromOutline } from "@/core/collector/outline";
import { Badge } from "@/ui/Badge";
import { FORM_WORDS } from "@/words/forms";
import { Choice } from "@/ui/Choice";
import { LaneMark } from "@/ui/LaneMark";
import { FluidField } from "@/ui/FluidField";
import { QuantityField } from "@/ui/QuantityField";
import type { LaneDraft } from "./draft";

/** A form says whether it carries air or a liquid; those that take either begin with water. */
const withForm = (absorber: LaneDraft["absorber"]): Pick<LaneDraft, "absorber" | "fluid"> => ({
  absorber,
  fluid: fluidOf(FORMS[absorber].carries === "air" ? "air" : "water"),
});

const LIQUIDS = ["water", "glycol"] as const;

/** What a lane is and how it was measured. Known lanes keep their design; place and instruments belong to the run. */
export function LaneCard({
  letter,
  lane,
  known,
  flow,
  others,
  onChange,
}: {
  letter: string;
  lane: LaneDraft;
  known: boolean;
  flow: "speed" | "volume" | "mass" | "constant";
  others: readonly string[];
  onChange: (lane: LaneDraft) => void;
}) {
  const set = (change: Partial<LaneDraft>) => onChange({ ...lane, ...change });
  const copy = lane.copyOf !== null;
  return (
    <fieldset className="border-b border-ink py-3">
      <legend className="float-left mr-4 flex items-center gap-3 text-[15px] font-[650]">
        <LaneMark lane={letter} size={16} /> <Badge lane={letter} design={designFromOutline(lane)} />{" "}
        {known || copy ? lane.name : ""}
      </legend>
      <div className="clear-left grid grid-cols-2 gap-3 pt-2 md:grid-cols-4 xl:grid-cols-6">
        {!known && (
          <>
            <label className="text-[13px] font-semibold">
              Copy of
              <select
                className="field mt-0.5"
                value={lane.copyOf ?? ""}
                onChange={(e) => set({ copyOf: e.target.value || null })}
              >
                <option value="">a design of its own</option>
                {others.map((o) => (
                  <option key={o} value={o}>
                    lane {o} (identical pair)
                  </option>
                ))}
              </select>
            </label>
            {!copy && (
              <>
                <label className="text-[13px] font-semibold">
                  Name
                  <input
                    className="field mt-0.5"
                    value={lane.name}
                    maxLength={120}
                    onChange={(e) => set({ name: e.target.value })}
                  />
                </label>
                <label className="text-[13px] font-semibold">
                  Absorber
                  <select
                    className="field mt-0.5"
                    value={lane.absorber}
                    onChange={(e) => set(withForm(e.target.value as LaneDraft["absorber"]))}
                  >
                    {ABSORBER_FORMS.map((f) => (
                      <option key={f} value={f}>
                        {FORM_WORDS[f]}
                      </option>
                    ))}
                  </select>
                </label>
                <label className="text-[13px] font-semibold">
                  Glazings
                  <select
                    className="field mt-0.5"
                    value={lane.covers}
                    onChange={(e) => set({ covers: Number(e.target.value) })}
                  >
                    <option value={0}>none</option>
                    <option value={1}>one</option>
                    <option value={2}>two</option>
                  </select>
                </label>
                <QuantityField
                  label="Gross area"
                  quantity="area"
                  si={lane.grossAreaM2}
                  min={0.01}
                  max={200}
                  onChange={(grossAreaM2) => set({ grossAreaM2 })}
                />
              </>
            )}
          </>
        )}
        {!copy && FORMS[lane.absorber].carries !== "air" && (
          <FluidField
            fluid={lane.fluid}
            kinds={FORMS[lane.absorber].carries === "either" ? FLUID_KINDS : LIQUIDS}
            onChange={(fluid) => set({ fluid })}
          />
        )}
        {!copy && FORMS[lane.absorber].carries === "air" && (
          <p className="text-[13px] font-semibold">
            Fluid<span className="mt-1.5 block font-normal">air, by the absorber</span>
          </p>
        )}
        <label className="text-[13px] font-semibold">
          Place on the bench
          <input
            className="field mt-0.5"
            type="number"
            min={1}
            max={24}
            value={lane.station}
            onChange={(e) => set({ station: Math.max(1, Math.min(24, Number(e.target.value) || 1)) })}
          />
        </label>
        {flow === "speed" && (
          <>
            <label className="text-[13px] font-semibold">
              Duct
              <select
                className="field mt-0.5"
                value={lane.ductKind}
                onChange={(e) => set({ ductKind: e.target.value as "round" })}
              >
                <option value="round">round</option>
                <option value="rectangular">rectangular</option>
              </select>
            </label>
            {lane.ductKind === "round" ? (
              <QuantityField
                label="Inner diameter"
                quantity="smallLength"
                si={lane.diameterM}
                min={0.005}
                max={3}
                onChange={(diameterM) => set({ diameterM })}
              />
            ) : (
              <>
                <QuantityField
                  label="Inner width"
                  quantity="smallLength"
                  si={lane.widthM}
                  min={0.005}
                  max={5}
                  onChange={(widthM) => set({ widthM })}
                />
                <QuantityField
                  label="Inner height"
                  quantity="smallLength"
                  si={lane.heightM}
                  min={0.005}
                  max={5}
                  onChange={(heightM) => set({ heightM })}
                />
              </>
            )}
            <QuantityField
              label="Mean ÷ read speed"
              quantity="number"
              si={lane.profileFactor}
              min={0.3}
              max={1.3}
              hint="0.8 to 0.9 on the axis, 1 for a traverse"
              onChange={(profileFactor) => set({ profileFactor })}
            />
            <QuantityField
              label="… good to ±"
              quantity="number"
              si={lane.profileLimit}
              min={0}
              max={0.5}
              onChange={(profileLimit) => set({ profileLimit })}
            />
          </>
        )}
        {flow === "constant" && (
          <QuantityField
            label="Mass flow, not logged"
            quantity="massFlow"
            si={lane.massFlowKgPerS}
            min={1e-6}
            max={10}
            onChange={(massFlowKgPerS) => set({ massFlowKgPerS })}
          />
        )}
        <QuantityField
          label={flow === "constant" ? "Flow good to ±" : "Flow meter good to ±"}
          quantity="fraction"
          si={lane.meterLimitShare}
          min={0}
          max={1}
          onChange={(meterLimitShare) => set({ meterLimitShare })}
        />
        <QuantityField
          label="Probes good to ±"
          quantity="temperatureDifference"
          si={lane.probeLimitK}
          min={0}
          max={20}
          onChange={(probeLimitK) => set({ probeLimitK })}
        />
        <QuantityField
          label="Time constant"
          quantity="duration"
          si={lane.timeConstantS}
          min={0}
          max={14400}
          hint="how fast the box follows the sun"
          onChange={(timeConstantS) => set({ timeConstantS })}
        />
        <div className="col-span-2 self-end">
          <Choice
            label="Flow meter in the"
            value={lane.meterAt}
            options={[
              ["inlet", "inlet"],
              ["outlet", "outlet"],
            ]}
            onChange={(meterAt) => set({ meterAt })}
          />
        </div>
      </div>
    </fieldset>
  );
}
