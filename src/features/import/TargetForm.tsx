"use client";

import type { ExperimentHead, Site } from "@/core/experiment/types";
import type { ChannelKind } from "@/core/log/channel";
import { Choice } from "@/ui/Choice";
import { CoordinateField } from "@/ui/CoordinateField";
import { QuantityField } from "@/ui/QuantityField";
import { oneInlet, siteFigures, type ImportDraft } from "./draft";
import { WIDE } from "./laneDraft";
import { QuantityFields } from "@/ui/form/QuantityFields";
import { Select } from "@/ui/form/Select";
import { TextField } from "@/ui/form/fields";

const MOUNTED = [
  ["plane", "in the collector plane"],
  ["horizontal", "horizontal"],
] as const;
/** A horizontal sensor does not see it; the boxes do. */
const GROUNDS = [
  [0, "as the site says; snow where it froze"],
  [0.2, "grass, soil, pavement: 20 %"],
  [0.5, "old snow: 50 %"],
  [0.8, "fresh snow: 80 %"],
] as const;
const INLET_AIR = [
  ["other", "of a room, a loop or a heater"],
  ["outside", "outside air: it is the outside temperature too"],
] as const;
const WITHOUT_SENSOR = [
  ["plane", "compare by heat alone"],
  ["modelled", "modelled clear sky"],
] as const;

/** Where the run belongs, where the bench stands, how the sun was measured. */
export function TargetForm({
  draft,
  heads,
  sites,
  zones,
  byHand = false,
  onTarget,
  onChange,
}: {
  draft: ImportDraft;
  heads: readonly ExperimentHead[];
  sites: readonly Site[];
  zones: readonly string[];
  /** A sheet: it needs no sun, and its outside temperature only weighs the air. */
  byHand?: boolean;
  onTarget: (target: number | "new") => void;
  onChange: (change: Partial<ImportDraft>) => void;
}) {
  const logged = (kind: ChannelKind) => draft.files.some((f) => f.settings?.columns.some((c) => c.kind === kind));
  const site = (change: Partial<ImportDraft["site"]>) => onChange({ site: { ...draft.site, ...change } });
  return (
    <div className="grid grid-cols-1 gap-3 pt-2 sm:grid-cols-2 md:grid-cols-4">
      <Select
        label="Experiment"
        value={draft.target}
        options={[["new", "a new one"], ...heads.map((h) => [h.id, h.name] as const)]}
        onChange={(v) => onTarget(v === "new" ? "new" : v)}
      />
      {draft.target === "new" && <NewFields {...{ draft, onChange, sites, site, zones }} />}
      <QuantityFields
        of={[
          {
            key: "tilt",
            label: "Collector tilt",
            quantity: "angle",
            min: 0,
            max: 180,
            hint: "0° lies flat, 90° stands",
          },
          {
            key: "azimuth",
            label: "Collectors face",
            quantity: "angle",
            min: 0,
            max: 360,
            direction: true,
            hint: "South, SE or 180°",
          },
        ]}
        value={draft}
        set={onChange}
      />
      {logged("irradiance") && (
        <QuantityField
          label="Sun sensor good to ±"
          quantity="fraction"
          si={draft.sunLimitShare}
          min={0}
          max={1}
          hint={`empty: ± ${100 * WIDE.sunShare} %`}
          onChange={(sunLimitShare) => onChange({ sunLimitShare })}
          onClear={() => onChange({ sunLimitShare: null })}
        />
      )}
      {logged("ambient") && !byHand && (
        <QuantityField
          label="Outside probe good to ±"
          quantity="temperatureDifference"
          si={draft.ambientLimitK}
          min={0}
          max={20}
          hint={`empty: ± ${WIDE.outsideK} K`}
          onChange={(ambientLimitK) => onChange({ ambientLimitK })}
          onClear={() => onChange({ ambientLimitK: null })}
        />
      )}
      {(logged("irradiance") || !byHand) && (
        <div className="sm:col-span-2">
          <Choice
            label={logged("irradiance") ? "Sun sensor mounted" : "No sun sensor logged"}
            value={draft.sunMounting ?? ("" as NonNullable<ImportDraft["sunMounting"]>)}
            options={logged("irradiance") ? MOUNTED : WITHOUT_SENSOR}
            onChange={(sunMounting) => onChange({ sunMounting })}
          />
        </div>
      )}
      {oneInlet(draft) && (
        <Select
          label="Air that enters the boxes"
          value={draft.inletOutside ? "outside" : "other"}
          options={INLET_AIR}
          onChange={(v) => onChange({ inletOutside: v === "outside" })}
        />
      )}
      {logged("irradiance") && draft.sunMounting === "horizontal" && <BeforeTheBoxes {...{ draft, onChange }} />}
      <TextField
        label="Note on this run"
        place="sm:col-span-2"
        value={draft.note}
        maxLength={500}
        onChange={(v) => onChange({ note: v })}
      />
    </div>
  );
}

/** What a horizontal sensor does not see and the boxes do: the ground, and snow, which comes and goes within a run. */
function BeforeTheBoxes({ draft, onChange }: { draft: ImportDraft; onChange: (change: Partial<ImportDraft>) => void }) {
  const snow = draft.snow ?? { from: "", until: "" };
  const field = (label: string, name: "from" | "until") => (
    <TextField
      label={label}
      type="date"
      value={snow[name]}
      onChange={(v) => onChange({ snow: { ...snow, [name]: v } })}
    />
  );
  return (
    <>
      <Select
        label="Ground before the boxes"
        value={draft.groundReflectance ?? 0}
        options={GROUNDS}
        onChange={(ground) => onChange({ groundReflectance: ground || null })}
      />
      {field("Snow before the boxes from", "from")}
      {field("and until", "until")}
    </>
  );
}

/** What a new experiment needs besides its readings: name, heated fluid, and where it stands. */
function NewFields({
  draft,
  onChange,
  sites,
  site,
  zones,
}: {
  draft: ImportDraft;
  onChange: (change: Partial<ImportDraft>) => void;
  sites: readonly Site[];
  site: (change: Partial<ImportDraft["site"]>) => void;
  zones: readonly string[];
}) {
  return (
    <>
      <TextField
        label="Name"
        value={draft.name}
        maxLength={120}
        placeholder="Mesh against flat sheet"
        onChange={(v) => onChange({ name: v })}
      />
      <TextField
        label="Question"
        place="md:col-span-2"
        value={draft.question}
        maxLength={500}
        placeholder="Which of the two gives more heat per square metre?"
        onChange={(v) => onChange({ question: v })}
      />
      <label className="text-[13px] font-semibold">
        Site
        <select
          className="field mt-0.5"
          value={draft.siteId ?? ""}
          onChange={(e) => onChange({ siteId: e.target.value === "new" ? "new" : Number(e.target.value) })}
        >
          {draft.siteId === null && <option value="">which?</option>}
          {sites.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
          <option value="new">a new site</option>
        </select>
      </label>
      {draft.siteId === "new" && (
        <>
          <TextField label="Site’s name" value={draft.site.name} maxLength={120} onChange={(v) => site({ name: v })} />
          <CoordinateField value={siteFigures(draft)} zone={draft.site.zone} onChange={site} />
          <QuantityField
            label="Altitude"
            quantity="length"
            si={draft.site.altitudeM}
            min={-430}
            max={6000}
            onChange={(altitudeM) => site({ altitudeM })}
          />
          <TextField
            label="Site’s time zone"
            list="site-zones"
            defaultValue={draft.site.zone}
            onChange={(v) => site({ zone: v.trim() })}
          />
          <datalist id="site-zones">
            {zones.map((z) => (
              <option key={z} value={z} />
            ))}
          </datalist>
        </>
      )}
    </>
  );
}
