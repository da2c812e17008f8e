"use client";

import Link from "next/link";
import type { ApplySettings } from "@/core/experiment/schema/apply";
import type { ApplyView } from "@/services/apply/applyView";
import { QuantityField } from "@/ui/QuantityField";

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
      <select
        aria-label="Weather"
        className="field mt-1"
        value={weather.kind === "hours" ? String(weather.climateId) : "monthly"}
        onChange={(e) =>
          change({
            weather:
              e.target.value === "monthly" ? { kind: "monthly" } : { kind: "hours", climateId: Number(e.target.value) },
          })
        }
      >
        <option value="monthly">monthly means: {apply.climate?.name ?? "none chosen"}</option>
        {apply.hourly.map((h) => (
          <option key={h.id} value={h.id}>
            hours of {h.name}
          </option>
        ))}
      </select>
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
        <label key={o.id} className="mt-1 flex items-center gap-2 text-[13px] font-semibold">
          <input
            type="checkbox"
            className="size-4"
            checked={!without.includes(o.id)}
            onChange={(e) =>
              change({ without: e.target.checked ? without.filter((id) => id !== o.id) : [...without, o.id] })
            }
          />
          {o.name} stands
        </label>
      ))}
    </fieldset>
  );
}
