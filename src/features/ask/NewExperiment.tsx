"use client";

import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState, useTransition } from "react";
import type { Site } from "@/core/experiment/types";
import { CoordinateField } from "@/ui/CoordinateField";
import { holdEnter } from "@/ui/holdEnter";
import type { FluidKind } from "@/core/fluids/fluid";
import { QuantityField } from "@/ui/QuantityField";
import { startExperiment } from "./startActions";

/** Begin with the question: name, what you want to know, where the bench stands. Everything else has a default to change later. */
export function NewExperiment({ sites, zones }: { sites: Site[]; zones: string[] }) {
  const router = useRouter();
  const [name, setName] = useState("");
  const [question, setQuestion] = useState("");
  const [fluid, setFluid] = useState<FluidKind>("air");
  const [siteId, setSiteId] = useState<number | "new">(sites[0]?.id ?? "new");
  const [site, setSite] = useState({ name: "", latitude: 46, longitude: 9, altitudeM: 400, zone: "Europe/Zurich" });
  const [error, setError] = useState<string | null>(null);
  const [busy, start] = useTransition();
  const submit = () =>
    start(async () => {
      const result = await startExperiment({ name, question, fluid, site: siteId === "new" ? site : siteId });
      if (!result.ok) return setError(result.error);
      router.push(`/experiments/${result.id}/build`);
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
      <h1 className="sentence">What do you want to know?</h1>
      <div className="mt-3 grid grid-cols-1 gap-3 sm:grid-cols-2">
        <label className="text-[13px] font-semibold sm:col-span-2">
          Question
          <textarea
            className="field mt-0.5"
            rows={2}
            maxLength={500}
            value={question}
            onChange={(e) => setQuestion(e.target.value)}
            placeholder="Does a second glass earn its place?"
          />
        </label>
        <label className="text-[13px] font-semibold">
          Name of the experiment
          <input
            className="field mt-0.5"
            required
            maxLength={120}
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
        </label>
        <label className="text-[13px] font-semibold">
          It heats
          <select
            className="field mt-0.5"
            aria-label="It heats"
            value={fluid}
            onChange={(e) => setFluid(e.target.value as FluidKind)}
          >
            <option value="air">air</option>
            <option value="water">water</option>
            <option value="glycol">water and glycol</option>
          </select>
        </label>
        <label className="text-[13px] font-semibold">
          Site
          <select
            className="field mt-0.5"
            aria-label="Site"
            value={siteId}
            onChange={(e) => setSiteId(e.target.value === "new" ? "new" : Number(e.target.value))}
          >
            {sites.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}
              </option>
            ))}
            <option value="new">a new site</option>
          </select>
        </label>
        {siteId === "new" && (
          <>
            <label className="text-[13px] font-semibold">
              Site’s name
              <input
                className="field mt-0.5"
                maxLength={120}
                value={site.name}
                onChange={(e) => setSite({ ...site, name: e.target.value })}
              />
            </label>
            <CoordinateField value={site} zone={site.zone} onChange={(c) => setSite({ ...site, ...c })} />
            <QuantityField
              label="Altitude"
              quantity="length"
              si={site.altitudeM}
              min={-430}
              max={6000}
              onChange={(altitudeM) => setSite({ ...site, altitudeM })}
            />
            <label className="text-[13px] font-semibold">
              Time zone
              <input
                className="field mt-0.5"
                list="new-zones"
                value={site.zone}
                onChange={(e) => setSite({ ...site, zone: e.target.value })}
              />
            </label>
            <datalist id="new-zones">
              {zones.map((z) => (
                <option key={z} value={z} />
              ))}
            </datalist>
          </>
        )}
      </div>
      {error && (
        <p role="alert" className="mt-2 font-semibold text-danger">
          {error}. Nothing was lost; mend it and go on.
        </p>
      )}
      <p className="mt-4 flex gap-3">
        <button type="submit" className="btn btn-main" disabled={busy || !name.trim()}>
          {busy ? "Starting …" : "Go on to draw the variants"}
        </button>
        <Link href="/" className="btn">
          Back to the bench
        </Link>
      </p>
    </form>
  );
}
