"use client";

import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import { CoordinateField } from "@/ui/CoordinateField";
import { holdEnter } from "@/ui/holdEnter";
import { QuantityField } from "@/ui/QuantityField";
import { answered } from "@/ui/useAct";
import { unsaidOfSite } from "@/words/site";
import { startSite } from "./actions";
import { TextField } from "@/ui/form/fields";
import { Problem } from "@/ui/Problem";
import { Button } from "@/ui/Button";

/** A new place: where it is and which clock it keeps, none of it assumed. The rest has plain defaults. */
export function NewSite({ zones }: { zones: string[] }) {
  const router = useRouter();
  const [site, setSite] = useState({ name: "", latitude: NaN, longitude: NaN, altitudeM: NaN, zone: "" });
  const unsaid = unsaidOfSite(site);
  const [error, setError] = useState<string | null>(null);
  const [busy, start] = useTransition();
  const submit = () =>
    start(async () => {
      const result = await answered(startSite(site));
      if (!result.ok) return setError(result.error);
      router.push(`/site/${result.id}`);
    });
  return (
    <form
      className="max-w-3xl px-4 py-4 sm:px-6"
      onKeyDown={holdEnter}
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
    >
      <h1 className="sentence">Where does the bench stand?</h1>
      <div className="mt-3 grid grid-cols-1 gap-3 sm:grid-cols-2">
        <TextField
          label="Site’s name"
          required
          maxLength={120}
          value={site.name}
          onChange={(v) => setSite({ ...site, name: v })}
        />
        <TextField
          label="Time zone"
          list="site-zones"
          value={site.zone}
          onChange={(v) => setSite({ ...site, zone: v.trim() })}
        />
        <datalist id="site-zones">
          {zones.map((z) => (
            <option key={z} value={z} />
          ))}
        </datalist>
        <CoordinateField value={site} zone={site.zone} onChange={(c) => setSite({ ...site, ...c })} />
        <QuantityField
          label="Altitude"
          quantity="length"
          si={Number.isNaN(site.altitudeM) ? null : site.altitudeM}
          min={-430}
          max={6000}
          onChange={(altitudeM) => setSite({ ...site, altitudeM })}
        />
      </div>
      {error && <Problem className="mt-2">{error}. Nothing was lost; mend it and go on.</Problem>}
      {unsaid && site.name.trim() && <p className="mt-2 font-semibold text-danger">{unsaid}</p>}
      <p className="mt-4">
        <Button kind="main" type="submit" disabled={busy || unsaid !== null}>
          {busy ? "Keeping …" : "Keep this site"}
        </Button>
      </p>
    </form>
  );
}
