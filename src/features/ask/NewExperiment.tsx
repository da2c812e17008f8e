"use client";

import { zodResolver } from "@hookform/resolvers/zod";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { Controller, useForm, useWatch, type Control } from "react-hook-form";
import { newExperimentSchema, type NewExperimentAsked } from "@/core/experiment/schema/asked";
import type { Site } from "@/core/experiment/types";
import { CoordinateField } from "@/ui/CoordinateField";
import { SelectField, SiField, TextField } from "@/ui/form/fields";
import { holdEnter } from "@/ui/holdEnter";
import { answered } from "@/ui/useAct";
import { unsaidOfSite } from "@/words/site";
import { startExperiment } from "./startActions";

/** Sun, air and clock hang on the place: none is assumed. */
const NEW_SITE = { name: "", latitude: NaN, longitude: NaN, altitudeM: NaN, zone: "" };
type NewControl = Control<NewExperimentAsked>;

/** Begin with the question: name, what you want to know, where the bench stands. Everything else has a default to change later. */
export function NewExperiment({ sites, zones }: { sites: Site[]; zones: string[] }) {
  const router = useRouter();
  const [refusal, setRefusal] = useState<string | null>(null);
  const { control, handleSubmit, formState } = useForm<NewExperimentAsked>({
    resolver: zodResolver(newExperimentSchema),
    defaultValues: { name: "", question: "", fluid: "air", site: sites[0]?.id ?? NEW_SITE },
  });
  const [name, site] = useWatch({ control, name: ["name", "site"] });
  const submit = handleSubmit(async (asked) => {
    const result = await answered(startExperiment(asked));
    if (result.ok) router.push(`/experiments/${result.id}/build`);
    else setRefusal(result.error);
  });
  const fields: NewControl = control;
  const unsaid = typeof site === "number" ? null : unsaidOfSite(site);
  return (
    <form className="max-w-3xl px-4 py-4 sm:px-6" onKeyDown={holdEnter} onSubmit={(e) => void submit(e)}>
      <h1 className="sentence">What do you want to know?</h1>
      <div className="mt-3 grid grid-cols-1 gap-3 sm:grid-cols-2">
        <TextField
          control={fields}
          name="question"
          label="Question"
          place="sm:col-span-2"
          rows={2}
          maxLength={500}
          placeholder="Does a second glass earn its place?"
        />
        <TextField control={fields} name="name" label="Name of the experiment" maxLength={120} />
        <SelectField
          control={fields}
          name="fluid"
          label="It heats"
          options={[
            ["air", "air"],
            ["water", "water"],
            ["glycol", "water and glycol"],
          ]}
        />
        <Controller
          control={control}
          name="site"
          render={({ field }) => (
            <label className="text-[13px] font-semibold">
              Site
              <select
                className="field mt-0.5"
                aria-label="Site"
                value={typeof field.value === "number" ? field.value : "new"}
                onChange={(e) => field.onChange(e.target.value === "new" ? NEW_SITE : Number(e.target.value))}
              >
                {sites.map((s) => (
                  <option key={s.id} value={s.id}>
                    {s.name}
                  </option>
                ))}
                <option value="new">a new site</option>
              </select>
            </label>
          )}
        />
        {typeof site !== "number" && <NewSiteFields control={fields} zones={zones} />}
      </div>
      {refusal && (
        <p role="alert" className="mt-2 font-semibold text-danger">
          {refusal}. Nothing was lost; mend it and go on.
        </p>
      )}
      {unsaid && <p className="mt-2 font-semibold text-danger">{unsaid}</p>}
      <p className="mt-4 flex gap-3">
        <button
          type="submit"
          className="btn btn-main"
          disabled={formState.isSubmitting || !name.trim() || unsaid !== null}
        >
          {formState.isSubmitting ? "Starting …" : "Go on to draw the variants"}
        </button>
        <Link href="/" className="btn">
          Back to the bench
        </Link>
      </p>
      <WhatFollows />
    </form>
  );
}

const FOLLOWS: readonly [step: string, what: string][] = [
  ["Ask", "which factor is under test, what stays equal, where the winner will be used"],
  ["Build", "draw the variants: section, predicted curve, bill and checklist"],
  ["Prove", "calibrate the probes, the flow and the sun sensor; see which one matters most"],
  ["Plan", "how many days it takes, swaps, and dates with enough sun"],
  ["Run", "import the log, or read by hand"],
  ["Read", "what the readings give, window by window and day by day"],
  ["Judge", "which variant is better, by how much, and how sure that is"],
  ["Apply", "what the winner is worth over a season"],
];

/** The path before it is walked: nobody has to fill in all of it. */
function WhatFollows() {
  return (
    <section aria-labelledby="follows" className="mt-6">
      <div className="head">
        <h2 id="follows">What follows</h2>
        <span className="side">in this order, none of it forced; a log in hand can be imported at once</span>
      </div>
      <ol>
        {FOLLOWS.map(([step, what]) => (
          <li key={step} className="grid grid-cols-[4.5rem_1fr] border-b border-hair py-1">
            <b className="font-semibold">{step}</b>
            <span className="text-ink-2">{what}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}

function NewSiteFields({ control, zones }: { control: NewControl; zones: string[] }) {
  return (
    <>
      <TextField control={control} name="site.name" label="Site’s name" maxLength={120} />
      <Controller
        control={control}
        name="site"
        render={({ field }) => {
          if (typeof field.value === "number") return <></>;
          const site = field.value;
          return <CoordinateField value={site} zone={site.zone} onChange={(c) => field.onChange({ ...site, ...c })} />;
        }}
      />
      <SiField control={control} name="site.altitudeM" label="Altitude" quantity="length" min={-430} max={6000} />
      <TextField control={control} name="site.zone" label="Time zone" list="new-zones" />
      <datalist id="new-zones">
        {zones.map((z) => (
          <option key={z} value={z} />
        ))}
      </datalist>
    </>
  );
}
