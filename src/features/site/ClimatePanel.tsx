"use client";

import { Download, FileUp } from "lucide-react";
import { useState, useTransition } from "react";
import { toast } from "@/ui/toast";
import { climateCsv, type Climate } from "@/core/site/climate";
import { CLIMATES } from "@/core/site/climates";
import { distanceKm } from "@/core/site/coordinates";
import { parseEpw } from "@/core/site/epw";
import type { OwnClimate } from "@/core/experiment/records";
import type { Site } from "@/core/experiment/types";
import { downloadUrl } from "@/ui/download";
import { epwSetAsideWords, epwWords } from "@/words/plan";
import { saidOf } from "@/ui/said";
import { uploadFile } from "@/ui/uploadFile";
import { useAct } from "@/ui/useAct";
import { keepClimateCsv, keepEpw, removeClimate } from "./actions";
import { TextField } from "@/ui/form/fields";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";
import { Problem } from "@/ui/Problem";

/** A year of hours takes two. */
const LARGEST_EPW = 8e6;
const LARGEST_CSV = 200_000;

type NotKept = Extract<Awaited<ReturnType<typeof keepEpw>>, { ok: false }>["problem"];

function climateProblem(problem: NotKept): string {
  if (problem.kind === "gone") return "it is no longer kept; drop it again.";
  if (problem.kind === "noLight")
    return "hours of irradiance or temperature are missing, so no month can be made of it.";
  return epwWords(problem);
}

/** Which climate the site is planned with: one that ships, twelve months from CSV, or a typical-weather file read whole. */
export function ClimatePanel({
  site,
  climate,
  own,
  onChoose,
}: {
  site: Site;
  climate: Climate | null;
  own: readonly OwnClimate[];
  onChoose: (climate: Site["detail"]["climate"]) => void;
}) {
  const { ownChosen, value, choose, busy, take, licence, setLicence, error } = useTaken({ site, own, onChoose });
  const { undoable } = useAct();
  const remove = (c: OwnClimate) => {
    if (ownChosen?.id === c.id) onChoose(null);
    undoable(
      () => removeClimate(c.id, true),
      () => removeClimate(c.id, false),
      `${c.name} removed.`,
    );
  };
  const away = ownChosen?.place ? distanceKm(site, ownChosen.place) : 0;
  return (
    <section aria-labelledby="climate" className="min-w-0" data-testid="climate">
      <Head id="climate" title="Climate" side="for the chance of clear days, average days, and the season in Apply" />
      <div className="flex flex-wrap items-end gap-3 pt-1">
        <ClimateChoice value={value} choose={choose} own={own} />
        <label className="btn cursor-pointer">
          <FileUp size={14} aria-hidden /> {busy ? "Reading …" : "EPW file or monthly CSV"}
          <input
            type="file"
            className="sr-only"
            accept=".epw,.csv,text/csv,text/plain"
            aria-label="EPW file or monthly CSV"
            onChange={(e) => {
              take(e.target.files?.[0]);
              e.target.value = "";
            }}
          />
        </label>
        <TextField
          label="Its licence, for your record"
          width="w-[200px]"
          maxLength={300}
          value={licence}
          placeholder="as its source states it"
          onChange={setLicence}
        />
        {climate && (
          <Button
            kind="plain"
            onClick={() =>
              downloadUrl(URL.createObjectURL(new Blob([climateCsv(climate)], { type: "text/csv" })), "climate.csv")
            }
          >
            <Download size={13} aria-hidden /> CSV
          </Button>
        )}
      </div>
      <Problem className="pt-1">{error}</Problem>
      {climate && (
        <p className="pt-1 text-[13.5px]">
          <b className="font-semibold">{climate.name}</b>
          {climate.source ? <span className="text-ink-2">; source: {climate.source}</span> : ""}
          {ownChosen?.licence ? <span className="text-ink-2">; licence: {ownChosen.licence}</span> : ""}
          {ownChosen?.place ? (
            <span className="text-ink-2">
              ; {ownChosen.place.hours.toLocaleString("en")} hours, the file itself is kept
            </span>
          ) : (
            ""
          )}
        </p>
      )}
      {away > 100 && (
        <p className="text-[13.5px] font-semibold text-doubt">
          This file is of a place {Math.round(away)} km away, {Math.round(ownChosen!.place!.altitudeM)} m high: its
          clear days may not be yours.
        </p>
      )}
      {own.length > 0 && <OwnClimates own={own} busy={busy} remove={remove} />}
      <p className="side pt-1">
        Typical-weather files are often free to use but seldom free to pass on: keep their terms with them. A CSV needs
        the columns month, global kWh/m² (a day), mean °C.
      </p>
    </section>
  );
}

function OwnClimates({
  own,
  busy,
  remove,
}: {
  own: readonly OwnClimate[];
  busy: boolean;
  remove: (c: OwnClimate) => void;
}) {
  return (
    <ul className="pt-1">
      {own.map((c) => (
        <li key={c.id} className="flex items-center gap-2 border-b border-hair py-0.5 text-[13.5px]">
          <span className="flex-1">
            {c.name} <span className="side">{c.kind === "epw" ? "typical-weather file" : "monthly CSV"}</span>
          </span>
          <Button kind="plain" className="min-h-[26px]" disabled={busy} onClick={() => remove(c)}>
            Remove
          </Button>
        </li>
      ))}
    </ul>
  );
}

/** A file of climate as it is dropped: read here, then kept. */
function useTaken({
  site,
  own,
  onChoose,
}: {
  site: Site;
  own: readonly OwnClimate[];
  onChoose: (climate: Site["detail"]["climate"]) => void;
}) {
  const [busy, start] = useTransition();
  const [error, setError] = useState<string | null>(null);
  const [licence, setLicence] = useState("");
  const chosen = site.detail.climate;
  const ownChosen = chosen?.kind === "own" ? own.find((c) => c.id === chosen.id) : undefined;
  const value = chosen ? `${chosen.kind}:${chosen.kind === "own" ? chosen.id : chosen.name}` : "";
  const choose = (v: string) => {
    const [kind, ...rest] = v.split(":");
    if (kind === "") return onChoose(null);
    onChoose(kind === "own" ? { kind, id: Number(rest[0]) } : { kind: "shipped", name: rest.join(":") });
  };

  const take = (file: File | undefined) =>
    start(async () => {
      if (!file) return;
      setError(null);
      if (file.size > LARGEST_EPW)
        return setError(`${file.name} is larger than any year of hours. Take an EPW file or a monthly table.`);
      const text = await file.text();
      if (!/\.epw$/i.test(file.name) && !/^\uFEFF?LOCATION,/i.test(text)) {
        if (text.length > LARGEST_CSV)
          return setError(`${file.name} is too large for twelve months. Take a monthly table, or an EPW file.`);
        const kept = await keepClimateCsv(site.id, file.name.replace(/\.[^.]+$/, ""), text);
        if (!kept.ok) return setError(`${file.name}: ${kept.error} Nothing was kept.`);
        return void toast.success(`${file.name} is the site’s climate now.`);
      }
      // Read here first, so that a broken file never reaches the server.
      const read = parseEpw(text);
      if (!read.ok) return setError(`${file.name}: ${epwWords(read.problem)}`);
      const stored = await uploadFile(file).catch((e: unknown) => {
        setError(saidOf(e, `${file.name} did not arrive. Try again.`));
        return null;
      });
      if (!stored) return;
      const kept = await keepEpw(site.id, stored.file.id, licence);
      if (!kept.ok) return setError(`${file.name}: ${climateProblem(kept.problem)}`);
      toast.success(
        [`${kept.name}: ${kept.hours.toLocaleString("en")} hours read.`, epwSetAsideWords(kept.setAside)]
          .join(" ")
          .trim(),
      );
    });
  return { ownChosen, value, choose, busy, take, licence, setLicence, error };
}

function ClimateChoice({
  value,
  choose,
  own,
}: {
  value: string;
  choose: (v: string) => void;
  own: readonly OwnClimate[];
}) {
  return (
    <label className="text-[13px] font-semibold">
      Climate
      <select
        aria-label="Climate"
        className="field mt-0.5 w-[280px]"
        value={value}
        onChange={(e) => choose(e.target.value)}
      >
        <option value="">none</option>
        <optgroup label="shipped, invented">
          {CLIMATES.map((c) => (
            <option key={c.name} value={`shipped:${c.name}`}>
              {c.name}
            </option>
          ))}
        </optgroup>
        {own.length > 0 && (
          <optgroup label="your own">
            {own.map((c) => (
              <option key={c.id} value={`own:${c.id}`}>
                {c.name}
                {c.kind === "epw" ? ", hourly" : ""}
              </option>
            ))}
          </optgroup>
        )}
      </select>
    </label>
  );
}
