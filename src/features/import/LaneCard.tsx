"use client";

import { ABSORBER_FORMS, FORMS } from "@/core/collector/form/list";
import { FLUID_KINDS, fluidOf } from "@/core/fluids/fluid";
import { designFromOutline } from "@/core/collector/outline";
import type { QuantityId } from "@/core/quantity/quantities";
import { Badge } from "@/ui/Badge";
import { FORM_WORDS } from "@/words/forms";
import { Choice } from "@/ui/Choice";
import { LaneMark } from "@/ui/LaneMark";
import { FluidField } from "@/ui/FluidField";
import { QuantityField } from "@/ui/QuantityField";
import { FlowChanges } from "./FlowChanges";
import { STATED, WIDE, type FlowKind, type LaneDraft } from "./laneDraft";
import { Select } from "@/ui/form/Select";
import { TextField } from "@/ui/form/fields";

/** A form says whether it carries air or a liquid; those that take either begin with water. */
const withForm = (absorber: LaneDraft["absorber"]): Pick<LaneDraft, "absorber" | "fluid"> => ({
  absorber,
  fluid: fluidOf(FORMS[absorber].carries === "air" ? "air" : "water"),
});

/** Only for the badge's picture, m². */
const ORDINARY_AREA = 2;
const LIQUIDS = ["water", "glycol"] as const;

/** What a lane is and how it was measured. Known lanes keep their design; place and instruments belong to the run. */
export function LaneCard({
  letter,
  lane,
  known,
  flow,
  askHeatBy = false,
  day = "",
  others,
  onChange,
}: {
  letter: string;
  lane: LaneDraft;
  known: boolean;
  flow: FlowKind;
  /** A tank and both ends were logged, and no flow. */
  askHeatBy?: boolean;
  /** First day of the log. */
  day?: string;
  others: readonly string[];
  onChange: (lane: LaneDraft) => void;
}) {
  const set = (change: Partial<LaneDraft>) => onChange({ ...lane, ...change });
  const copy = lane.copyOf !== null;
  return (
    <fieldset className="border-b border-ink py-3">
      <legend className="float-left mr-4 flex items-center gap-3 text-[15px] font-[650]">
        <LaneMark lane={letter} size={16} />{" "}
        <Badge lane={letter} design={designFromOutline({ ...lane, grossAreaM2: lane.grossAreaM2 ?? ORDINARY_AREA })} />{" "}
        {known || copy ? lane.name : ""}
      </legend>
      <div className="clear-left grid grid-cols-2 gap-3 pt-2 md:grid-cols-4 xl:grid-cols-6">
        {!known && <NewLane {...{ lane, others, set, copy }} />}
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
        {askHeatBy && (
          <Select
            label="Heat counted by"
            value={lane.heatBy ?? ""}
            options={[
              ...(lane.heatBy === null ? [["", "say which"] as const] : []),
              ["tank", "the tank’s warming"],
              ["flow", "a flow that is known"],
            ]}
            onChange={(v) => set({ heatBy: (v || null) as LaneDraft["heatBy"] })}
          />
        )}
        {flow === "tank" && <TankFields lane={lane} set={set} />}
        {flow === "constant" && (!askHeatBy || lane.heatBy === "flow") && <StatedFlow lane={lane} set={set} />}
        {flow === "constant" && lane.stated !== null && <FlowChanges {...{ lane, set, letter, day }} />}
        {(flow === "speed" || (flow === "constant" && lane.statedAs === "speed")) && (
          <DuctFields lane={lane} set={set} />
        )}
        {flow !== "tank" && (
          <QuantityField
            label={flow === "constant" ? "Flow good to ±" : "Flow meter good to ±"}
            quantity="fraction"
            si={lane.meterLimitShare}
            min={0}
            max={1}
            hint={flow === "constant" ? "a rating: ± 40 %" : `empty: ± ${100 * WIDE.meterShare} %`}
            onChange={(meterLimitShare) => set({ meterLimitShare })}
            onClear={() => set({ meterLimitShare: null })}
          />
        )}
        <QuantityField
          label="Probes good to ±"
          quantity="temperatureDifference"
          si={lane.probeLimitK}
          min={0}
          max={20}
          hint={`empty: ± ${WIDE.probeK} K`}
          onChange={(probeLimitK) => set({ probeLimitK })}
          onClear={() => set({ probeLimitK: null })}
        />
        {lane.fluid.kind === "air" && flow !== "tank" && (
          <div className="col-span-2 self-end">
            <Choice
              label="Flow metered in the"
              value={lane.meterAt ?? ("" as "inlet")}
              options={[
                ["inlet", "inlet"],
                ["outlet", "outlet"],
              ]}
              onChange={(meterAt) => set({ meterAt })}
            />
          </div>
        )}
      </div>
      <details className="pt-2">
        <summary className="cursor-pointer text-[13.5px] font-semibold text-action">More of this lane</summary>
        <MoreFields lane={lane} set={set} copy={copy} />
      </details>
    </fieldset>
  );
}

/** The water whose warming tells the heat. */
function TankFields({ lane, set }: { lane: LaneDraft; set: (change: Partial<LaneDraft>) => void }) {
  return (
    <>
      <QuantityField
        label="Water in its tank"
        quantity="mass"
        si={lane.tankKg}
        min={0.5}
        max={100_000}
        hint="with hoses and box; 1 litre is 1 kg"
        onChange={(tankKg) => set({ tankKg })}
        onClear={() => set({ tankKg: null })}
      />
      <QuantityField
        label="Water good to ±"
        quantity="fraction"
        si={lane.tankLimitShare}
        min={0}
        max={1}
        hint={`empty: ± ${100 * WIDE.tankShare} %`}
        onChange={(tankLimitShare) => set({ tankLimitShare })}
        onClear={() => set({ tankLimitShare: null })}
      />
    </>
  );
}

function StatedFlow({ lane, set }: { lane: LaneDraft; set: (change: Partial<LaneDraft>) => void }) {
  return (
    <>
      <Select
        label="Flow, not logged, known as"
        value={lane.statedAs}
        options={[
          ["volume", "a volume (bag, bucket, fan’s rating)"],
          ["speed", "a speed in the duct"],
          ["mass", "a mass"],
        ]}
        onChange={(v) => set({ statedAs: v, stated: null })}
      />
      <QuantityField
        key={lane.statedAs}
        label="It was"
        quantity={STATED[lane.statedAs]}
        si={lane.stated}
        min={1e-7}
        max={60}
        hint="one figure for the whole run; 12 CFM, 5 L/min"
        onChange={(stated) => set({ stated })}
        onClear={() => set({ stated: null })}
      />
    </>
  );
}

/** What is asked of a lane that the experiment does not know yet. */
function NewLane({
  lane,
  others,
  set,
  copy,
}: {
  lane: LaneDraft;
  others: readonly string[];
  set: (change: Partial<LaneDraft>) => void;
  copy: boolean;
}) {
  return (
    <>
      <Select
        label="Copy of"
        value={lane.copyOf ?? ""}
        options={[["", "a design of its own"], ...others.map((o) => [o, `lane ${o} (identical pair)`] as const)]}
        onChange={(v) => set({ copyOf: v || null })}
      />
      {!copy && (
        <>
          <TextField label="Name" value={lane.name} maxLength={120} onChange={(v) => set({ name: v })} />
          <Select
            label="Absorber"
            value={lane.absorber}
            options={ABSORBER_FORMS.map((f) => [f, FORM_WORDS[f]] as const)}
            onChange={(v) => set(withForm(v))}
          />
          <Select
            label="Glazings"
            value={lane.covers}
            options={[
              [0, "none"],
              [1, "one"],
              [2, "two"],
            ]}
            onChange={(v) => set({ covers: v })}
          />
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
  );
}

/** The duct a speed is read in. */
function DuctFields({ lane, set }: { lane: LaneDraft; set: (change: Partial<LaneDraft>) => void }) {
  const size = (label: string, name: "diameterM" | "widthM" | "heightM", max: number) => (
    <QuantityField
      label={label}
      quantity="smallLength"
      si={lane[name]}
      min={0.005}
      max={max}
      onChange={(value) => set({ [name]: value })}
    />
  );
  return (
    <>
      <Select
        label="Duct"
        value={lane.ductKind}
        options={[
          ["round", "round"],
          ["rectangular", "rectangular"],
        ]}
        onChange={(v) => set({ ductKind: v })}
      />
      {lane.ductKind === "round" ? (
        size("Inner diameter", "diameterM", 3)
      ) : (
        <>
          {size("Inner width", "widthM", 5)}
          {size("Inner height", "heightM", 5)}
        </>
      )}
      <QuantityField
        label="Mean ÷ read speed"
        quantity="number"
        si={lane.profileFactor}
        min={0.3}
        max={1.3}
        hint={`1 for a traverse; empty: ${WIDE.profileFactor} ± ${WIDE.profileLimit}`}
        onChange={(profileFactor) => set({ profileFactor })}
        onClear={() => set({ profileFactor: null })}
      />
    </>
  );
}

type More =
  "areaLimitShare" | "ductLimitM" | "profileLimit" | "timeConstantS" | "b0" | "b0Across" | "b0Limit" | "fanPowerW";
/** What a careful builder knows besides; each may stay empty. */
const MORE: readonly [name: More, label: string, quantity: QuantityId, min: number, max: number, empty: string][] = [
  ["areaLimitShare", "Area good to ±", "fraction", 0, 0.5, `± ${100 * WIDE.areaShare} %`],
  ["ductLimitM", "Duct good to ±", "smallLength", 0, 0.1, `± ${1000 * WIDE.ductM} mm`],
  ["profileLimit", "Mean ÷ read good to ±", "number", 0, 0.5, `± ${WIDE.profileLimit}`],
  ["timeConstantS", "Time constant", "duration", 0, 14400, "as drawn"],
  ["b0", "Incidence b0", "number", -0.5, 0.5, "by its covers"],
  ["b0Across", "b0 across tubes", "number", -1, 0.5, "as drawn"],
  ["b0Limit", "b0 good to ±", "number", 0, 0.5, `± ${WIDE.b0}`],
  ["fanPowerW", "Fan’s electric power", "power", 0, 5000, "as logged, else as drawn"],
];

function MoreFields({
  lane,
  set,
  copy,
}: {
  lane: LaneDraft;
  set: (change: Partial<LaneDraft>) => void;
  copy: boolean;
}) {
  return (
    <div className="grid grid-cols-2 gap-3 pt-2 md:grid-cols-4 xl:grid-cols-6">
      {MORE.filter(([name]) => !copy || name !== "areaLimitShare").map(([name, label, quantity, min, max, empty]) => (
        <QuantityField
          key={name}
          label={label}
          quantity={quantity}
          si={lane[name]}
          min={min}
          max={max}
          hint={`empty: ${empty}`}
          onChange={(value) => set({ [name]: value })}
          onClear={() => set({ [name]: null })}
        />
      ))}
      <QuantityField
        label="Fan’s power in the stream"
        quantity="fraction"
        si={lane.fanShare}
        min={0}
        max={1}
        hint="of its logged power, between the probes"
        onChange={(fanShare) => set({ fanShare })}
      />
    </div>
  );
}
