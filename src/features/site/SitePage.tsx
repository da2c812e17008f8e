"use client";

import { Plus } from "lucide-react";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "@/ui/toast";
import { standardPressure } from "@/core/fluids/moistAir";
import { isZone } from "@/core/log/zone";
import { quantityText } from "@/core/quantity/format";
import { CLIMATES } from "@/core/site/climates";
import { SKY_MODELS, type SkyModel } from "@/core/sun/clearSky";
import type { OwnClimate } from "@/core/experiment/records";
import type { Site } from "@/core/experiment/types";
import { usePreferences } from "@/ui/preferences";
import { CoordinateField } from "@/ui/CoordinateField";
import { QuantityField } from "@/ui/QuantityField";
import { NotKept } from "@/ui/NotKept";
import { useChanged } from "@/ui/useChanged";
import { keepSite } from "./actions";
import { ByMonth } from "./ByMonth";
import { ClimatePanel } from "./ClimatePanel";
import { Obstacles } from "./Obstacles";
import { Skyline } from "./Skyline";
import { SunViews } from "./SunViews";
import { Select } from "@/ui/form/Select";
import type { UnitSystem } from "@/core/quantity/quantities";

const MODEL_WORDS: Record<SkyModel, string> = {
  isotropic: "isotropic: a dull, even sky",
  hayDavies: "Hay–Davies: brighter about the sun",
  perez: "Perez: brighter about the sun and at the horizon",
};

/** A place: where, its sun over skyline and obstacles, its air, ground and climate. */
export function SitePage({
  site: kept,
  sites,
  climates,
  zones,
  nowMs,
}: {
  site: Site;
  sites: { id: number; name: string }[];
  climates: OwnClimate[];
  zones: string[];
  nowMs: number;
}) {
  const router = useRouter();
  const { system } = usePreferences();
  const { shown: site, error, busy, change } = useChanged(kept, (next, before) => keepSite(kept.id, next, before));
  const save = (next: (now: Site) => Site) =>
    change(next, (undo) => toast("Kept.", { id: "site", action: { label: "Undo", onClick: undo } }));
  const set = (part: Partial<Site>) => save((now) => ({ ...now, ...part }));
  const detail = (part: Partial<Site["detail"]>) => save((now) => ({ ...now, detail: { ...now.detail, ...part } }));
  const chosen = site.detail.climate;
  const climate =
    (chosen?.kind === "shipped"
      ? CLIMATES.find((c) => c.name === chosen.name)
      : climates.find((c) => c.id === chosen?.id)) ?? null;
  const pressure = standardPressure(site.altitudeM);
  return (
    <div className="grid grid-cols-1 gap-4 px-4 py-4 sm:px-6">
      <div className="flex flex-wrap items-end gap-3">
        <h1 className="sentence mr-auto">
          {site.name}
          {site.detail.horizon.length ? "" : ", with a free horizon"}
          {climate ? "" : ", without a climate yet"}.
        </h1>
        {sites.length > 1 && (
          <Select
            label="Site"
            value={site.id}
            options={sites.map((s) => [s.id, s.name] as const)}
            onChange={(v) => router.push(`/site/${v}`)}
          />
        )}
        <Link className="btn" href="/site?add=1">
          <Plus size={14} aria-hidden /> Another site
        </Link>
      </div>
      <NotKept error={error} busy={busy} />
      <PlaceFields {...{ site, nowMs, set, zones, pressure, system, detail }} />
      <SunViews site={site} climate={climate} nowMs={nowMs} />
      <div className="grid grid-cols-1 gap-x-8 gap-y-4 xl:grid-cols-2">
        <Skyline
          horizon={site.detail.horizon}
          zone={site.zone}
          place={site}
          onChange={(horizon) => detail({ horizon })}
        />
        <Obstacles
          obstacles={site.detail.obstacles}
          azimuth={site.latitude < 0 ? 0 : 180}
          onChange={(obstacles) => detail({ obstacles: [...obstacles] })}
        />
      </div>
      <ClimatePanel site={site} climate={climate} own={climates} onChoose={(c) => detail({ climate: c })} />
      <ByMonth site={site} climate={climate} onChange={(part) => detail(part)} />
    </div>
  );
}

function PlaceFields({
  site,
  nowMs,
  set,
  zones,
  pressure,
  system,
  detail,
}: {
  site: Site;
  nowMs: number;
  set: (part: Partial<Site>) => void;
  zones: string[];
  pressure: number;
  system: UnitSystem;
  detail: (part: Partial<Site["detail"]>) => void;
}) {
  return (
    <div className="grid grid-cols-1 gap-3 sm:grid-cols-3 lg:grid-cols-6">
      <div className="sm:col-span-2">
        <CoordinateField value={site} zone={site.zone} atMs={nowMs} onChange={set} />
      </div>
      <QuantityField
        label="Altitude"
        quantity="length"
        si={site.altitudeM}
        min={-430}
        max={6000}
        onChange={(altitudeM) => set({ altitudeM })}
      />
      <ZoneField key={site.zone} zone={site.zone} zones={zones} onChange={(zone) => set({ zone })} />
      <QuantityField
        label="Air pressure"
        quantity="pressure"
        si={site.detail.pressurePa ?? pressure}
        min={40000}
        max={110000}
        hint={
          site.detail.pressurePa === null
            ? "from the altitude"
            : `altitude alone: ${quantityText(pressure, "pressure", { system, figures: 3 })}`
        }
        onChange={(pressurePa) => detail({ pressurePa })}
      />
      <Select
        label="Sky light"
        value={site.detail.skyModel}
        options={SKY_MODELS.map((m) => [m, MODEL_WORDS[m]] as const)}
        onChange={(v) => detail({ skyModel: v })}
      />
    </div>
  );
}

function ZoneField({ zone, zones, onChange }: { zone: string; zones: string[]; onChange: (zone: string) => void }) {
  const [draft, setDraft] = useState(zone);
  const [bad, setBad] = useState(false);
  const commit = () => {
    const known = isZone(draft.trim());
    setBad(!known);
    if (known && draft.trim() !== zone) onChange(draft.trim());
  };
  return (
    <label className="text-[13px] font-semibold">
      Time zone
      <input
        className="field mt-0.5"
        list="zones"
        value={draft}
        aria-invalid={bad}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={commit}
        onKeyDown={(e) => e.key === "Enter" && commit()}
      />
      <datalist id="zones">
        {zones.map((z) => (
          <option key={z} value={z} />
        ))}
      </datalist>
      {bad && (
        <span role="alert" className="text-[12.5px] text-danger">
          This zone is not known. Use a name like Europe/Zurich, or UTC+01:00.
        </span>
      )}
    </label>
  );
}
