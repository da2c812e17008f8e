"use client";

import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import type { NewExperimentAsked } from "@/core/experiment/schema/asked";
import type { Site } from "@/core/experiment/types";
import { CoordinateField } from "@/ui/CoordinateField";
import { TextField } from "@/ui/form/fields";
import { Select } from "@/ui/form/Select";
import { useChecked } from "@/ui/form/useChecked";
import { QuantityField } from "@/ui/QuantityField";
import { holdEnter } from "@/ui/holdEnter";
import { answered } from "@/ui/useAct";
import { unsaidOfSite } from "@/words/site";
import { startExperiment } from "./startActions";
import { Problem } from "@/ui/Problem";
import { Button } from "@/ui/Button";
import { Head } from "@/ui/Head";

/** Sun, air and clock hang on the place: none is assumed. */
const NEW_SITE = { name: "", latitude: NaN, longitude: NaN, altitudeM: NaN, zone: "" };
const schema = () => import("@/core/experiment/schema/asked").then((m) => m.newExperimentSchema);
type AskedSite = Exclude<NewExperimentAsked["site"], number>;

/** Begin with the question: name, what you want to know, where the bench stands. Everything else has a default to change later. */
export function NewExperiment({ sites, zones }: { sites: Site[]; zones: string[] }) {
  const router = useRouter();
  const [refusal, setRefusal] = useState<string | null>(null);
  const { values, set, problems, busy, sent } = useChecked<NewExperimentAsked>(schema, {
    name: "",
    question: "",
    fluid: "air",
    site: sites[0]?.id ?? NEW_SITE,
  });
  const { site } = values;
  const submit = sent(async (asked) => {
    const result = await answered(startExperiment(asked));
    if (result.ok) router.push(`/experiments/${result.id}/build`);
    else setRefusal(result.error);
  });
  const unsaid = typeof site === "number" ? null : unsaidOfSite(site);
  return (
    <form className="max-w-3xl px-4 py-4 sm:px-6" onKeyDown={holdEnter} onSubmit={(e) => void submit(e)}>
      <h1 className="sentence">What do you want to know?</h1>
      <div className="mt-3 grid grid-cols-1 gap-3 sm:grid-cols-2">
        <TextField
          label="Question"
          value={values.question}
          problem={problems.question}
          onChange={(question) => set({ question })}
          place="sm:col-span-2"
          rows={2}
          maxLength={500}
          placeholder="Does a second glass earn its place?"
        />
        <TextField
          label="Name of the experiment"
          maxLength={120}
          value={values.name}
          problem={problems.name}
          onChange={(name) => set({ name })}
        />
        <Select
          label="It heats"
          value={values.fluid}
          options={[
            ["air", "air"],
            ["water", "water"],
            ["glycol", "water and glycol"],
          ]}
          onChange={(fluid) => set({ fluid })}
        />
        <Select<number | "new">
          label="Site"
          value={typeof site === "number" ? site : "new"}
          options={[...sites.map((s) => [s.id, s.name] as const), ["new", "a new site"]]}
          onChange={(id) => set({ site: id === "new" ? NEW_SITE : id })}
        />
        {typeof site !== "number" && (
          <NewSiteFields {...{ site, zones, problems }} onChange={(part) => set({ site: { ...site, ...part } })} />
        )}
      </div>
      {refusal && <Problem className="mt-2">{refusal}. Nothing was lost; mend it and go on.</Problem>}
      {unsaid && <p className="mt-2 font-semibold text-danger">{unsaid}</p>}
      <p className="mt-4 flex gap-3">
        <Button kind="main" type="submit" disabled={busy || !values.name.trim() || unsaid !== null}>
          {busy ? "Starting …" : "Go on to draw the variants"}
        </Button>
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
      <Head
        id="follows"
        title="What follows"
        side="in this order, none of it forced; a log in hand can be imported at once"
      />
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

function NewSiteFields({
  site,
  zones,
  problems,
  onChange,
}: {
  site: AskedSite;
  zones: string[];
  problems: Partial<Record<string, string>>;
  onChange: (part: Partial<AskedSite>) => void;
}) {
  return (
    <>
      <TextField
        label="Site’s name"
        maxLength={120}
        value={site.name}
        problem={problems["site.name"]}
        onChange={(name) => onChange({ name })}
      />
      <CoordinateField value={site} zone={site.zone} onChange={onChange} />
      <QuantityField
        label="Altitude"
        quantity="length"
        min={-430}
        max={6000}
        si={Number.isNaN(site.altitudeM) ? null : site.altitudeM}
        onChange={(altitudeM) => onChange({ altitudeM })}
      />
      <TextField
        label="Time zone"
        list="new-zones"
        value={site.zone}
        problem={problems["site.zone"]}
        onChange={(zone) => onChange({ zone })}
      />
      <datalist id="new-zones">
        {zones.map((z) => (
          <option key={z} value={z} />
        ))}
      </datalist>
    </>
  );
}
