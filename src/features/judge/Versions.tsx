"use client";

import { Camera } from "lucide-react";
import { useState } from "react";
import { quantityText } from "@/core/quantity/format";
import type { VersionView } from "@/services/judge/verdictVersions";
import type { ExperimentView } from "@/services/page/views";
import { usePreferences } from "@/ui/preferences";
import { useAct } from "@/ui/useAct";
import { changeWords } from "@/words/versions";
import { clock } from "@/words/times";
import { freezeVerdict } from "./actions";
import { TextField } from "@/ui/form/fields";
import { Head } from "@/ui/Head";
import { Button } from "@/ui/Button";

/** Verdicts as they stood, each with what has changed since. */
export function Versions({ view, versions }: { view: ExperimentView; versions: readonly VersionView[] }) {
  const { system } = usePreferences();
  const { busy, act } = useAct();
  const [note, setNote] = useState("");
  const heat = (si: number, expanded: number | null) =>
    quantityText(si, "heatFlux", { system, expanded: expanded ?? undefined, signed: true });
  return (
    <section aria-labelledby="versions">
      <Head id="versions" title="Frozen verdicts" side="data, layers and settings as they were, by their fingerprint" />
      <ul>
        {versions.map((v) => (
          <li key={v.id} className="border-b border-hair py-1 text-[13.5px]">
            <b className="font-semibold">{clock(v.atMs, view.head.site.zone)}</b> {v.note && <q>{v.note}</q>}{" "}
            <code className="side">{v.fingerprint.slice(0, 12)}</code>
            <span className="block text-ink-2">{changeWords(v.change, heat)}</span>
          </li>
        ))}
      </ul>
      <form
        className="no-print mt-1 flex flex-wrap items-end gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          act(
            () => freezeVerdict(view.head.id, note),
            () => setNote(""),
          );
        }}
      >
        <TextField
          label="Note"
          place="min-w-[14em] flex-1"
          width="w-full"
          maxLength={300}
          value={note}
          onChange={setNote}
        />
        <Button type="submit" disabled={busy}>
          <Camera size={14} aria-hidden /> Freeze this verdict
        </Button>
      </form>
    </section>
  );
}
