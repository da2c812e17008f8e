"use client";

import Link from "next/link";
import type { ApplySettings } from "@/core/season/schema";
import type { ApplyView } from "@/services/apply/applyView";
import { QuantityField } from "@/ui/QuantityField";
import { Select, Tick } from "@/ui/form/Select";

/** Which weather, and what stands in its way. */
export function WeatherForm({
  apply,
  settings,
  change,
}: {
  apply: ApplyView;
  settings: ApplySettings;
  change: (part: Partial<ApplySettings>) => void;
}) {
  const { weather, without } = settings;
  const { obstacles } = apply.site.detail;
  return (
    <fieldset>
      <legend className="text-[13.5px] font-[650]">Weather and shade</legend>
      <Select
        label="Weather"
        hideLabel
        value={weather.kind === "hours" ? String(weather.climateId) : "monthly"}
        options={[
          ["monthly", `monthly means: ${apply.climate?.name ?? "none chosen"}`],
          ...apply.hourly.map((h) => [String(h.id), `hours of ${h.name}`] as const),
        ]}
        onChange={(v) =>
          change({ weather: v === "monthly" ? { kind: "monthly" } : { kind: "hours", climateId: Number(v) } })
        }
      />
      <p className="side">
        Climates and typical-weather files belong to{" "}
        <Link className="underline" href={`/site/${apply.site.id}`}>
          the site
        </Link>
        .
      </p>
      {weather.kind === "monthly" && (
        <QuantityField
          label="Seed of its days"
          quantity="number"
          si={settings.seed}
          min={1}
          max={999999}
          hint="the same seed, the same days for all variants"
          onChange={(seed) => change({ seed: Math.round(seed) })}
        />
      )}
      {obstacles.map((o) => (
        <Tick
          key={o.id}
          label={`${o.name} stands`}
          checked={!without.includes(o.id)}
          onChange={(on) => change({ without: on ? without.filter((id) => id !== o.id) : [...without, o.id] })}
        />
      ))}
    </fieldset>
  );
}
