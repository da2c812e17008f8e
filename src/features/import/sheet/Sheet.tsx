"use client";

import { useEffect, useState } from "react";
import type { ExperimentHead, Site, StoredRun } from "@/core/experiment/types";
import type { LogAnswers } from "@/core/log/question";
import { SHEET } from "@/words/sheet";
import { knownLetters, newKey } from "../draft";
import { TargetForm } from "../TargetForm";
import { NoRoom } from "@/ui/NoRoom";
import { siteOf } from "../useDraft";
import { BenchAndBoxes } from "./BenchAndBoxes";
import { Keep } from "./Keep";
import { Results } from "./Results";
import { Rows } from "./Rows";
import { asImport, sheetNotes, type SheetDraft } from "./sheetDraft";
import { sheetResult } from "./sheetResult";
import { useKeep } from "./useKeep";
import { takeQuickRow } from "@/ui/quickRow";
import { benchNow, newSheet, useSheet, withQuickRow } from "./useSheet";

interface SheetProps {
  heads: ExperimentHead[];
  lastRuns: Record<number, StoredRun | undefined>;
  sites: Site[];
  target: number | null;
}

/** A test read by hand: rows typed at the bench become heat at once, lanes are compared as rounds come in, and the sheet is kept as a run. */
export default function Sheet({ heads, lastRuns, sites, target }: SheetProps) {
  const known = target !== null && heads.some((h) => h.id === target) ? target : null;
  const fresh = (to: number | "new") => newSheet(sites, heads, lastRuns, to);
  const [draft, store, kept] = useSheet(() => fresh(known ?? "new"), known);
  const place = siteOf(draft.base, heads, sites) ?? null;
  const zone = place?.zone ?? "UTC";
  const keeping = useKeep(draft, heads, zone);
  useEffect(() => {
    const quick = takeQuickRow();
    if (quick) store((d) => withQuickRow(d, quick, (place && benchNow(d.date, place.zone)) ?? ""));
  }, [store, place]);
  /** What is corrected is looked at anew, under a new name. */
  const change = (to: (d: SheetDraft) => SheetDraft) => {
    keeping.forget();
    store((d) => withBase(to(d), { accepted: [], key: newKey() }));
  };
  const result = sheetResult(draft, heads, place);
  const notes = sheetNotes(draft, heads, zone).map((n) => n.text);
  const [open] = useState(notes.length > 0);
  return (
    <div className="px-4 py-4 sm:px-6">
      <h1 className="sentence">{SHEET.empty}</h1>
      <NoRoom kept={kept} />
      <BenchAndBoxes
        draft={draft}
        known={knownLetters(heads.find((h) => h.id === draft.base.target))}
        open={open}
        onChange={change}
      >
        <TargetForm
          draft={asImport(draft, zone)}
          heads={heads}
          sites={sites}
          zones={Intl.supportedValuesOf("timeZone")}
          byHand
          onTarget={(to) => change((d) => ({ ...d, base: fresh(to).base, lanes: fresh(to).lanes }))}
          onChange={(said) => change((d) => withBase(d, said))}
        />
      </BenchAndBoxes>
      <Rows
        draft={draft}
        read={result.rows}
        readings={result.readings}
        now={() => (place ? benchNow(draft.date, place.zone) : null)}
        onRows={(rows) => change((d) => ({ ...d, rows }))}
      />
      <Results result={result} zone={zone} />
      <Keep
        draft={draft}
        notes={notes}
        keeping={keeping}
        onAnswer={(answers) => store((d) => answered(d, zone, answers))}
        onAccept={(key, right) => store((d) => accepted(d, key, right))}
        onOver={() => change(() => fresh(draft.base.target))}
      />
    </div>
  );
}

const withBase = (draft: SheetDraft, base: Partial<SheetDraft["base"]>): SheetDraft => ({
  ...draft,
  base: { ...draft.base, ...base },
});

const answered = (draft: SheetDraft, zone: string, answers: LogAnswers): SheetDraft =>
  withBase(draft, {
    files: asImport(draft, zone).files.map((f) => ({ ...f, settings: f.settings && { ...f.settings, answers } })),
  });

function accepted(draft: SheetDraft, key: string, right: boolean): SheetDraft {
  const others = draft.base.accepted.filter((k) => k !== key);
  return withBase(draft, { accepted: right ? [...others, key] : others });
}
