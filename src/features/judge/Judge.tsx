"use client";

import { withView } from "@/features/experiment/withView";
import { FileText, Printer } from "lucide-react";
import Link from "next/link";
import { isDismissed } from "@/core/judge/doubt/dismissed";
import type { Reading } from "@/services/import/readAgain";
import type { VersionView } from "@/services/judge/verdictVersions";
import type { ExperimentView } from "@/services/page/views";
import type { WorthView } from "@/services/judge/worthView";
import { ByMethods } from "@/features/experiment/ByMethods";
import { VerdictNext, VerdictSentence } from "@/features/experiment/Verdict";
import { usePreferences } from "@/ui/preferences";
import { doubtWords } from "@/words/doubts";
import { failureWords } from "@/words/judge";
import { Bases } from "./Bases";
import { CostAndHeat } from "./CostAndHeat";
import { Crossings } from "./Crossings";
import { Doubts } from "./Doubts";
import { Effects } from "./Effects";
import { MovePoint } from "./MovePoint";
import { OperatingPoint } from "./OperatingPoint";
import { Pairs } from "./Pairs";
import { Ranking } from "./Ranking";
import { ReadingAgain } from "./ReadingAgain";
import { Tested } from "./Tested";
import { Versions } from "./Versions";
import { Button } from "@/ui/Button";

interface Judged {
  view: ExperimentView;
  versions: readonly VersionView[];
  worth: WorthView | null;
  /** The newest run that was read again; left out: none. */
  reading?: Reading | null;
}

/** Answer first, then the picture, then the tables, with the doubts beside the answer they weaken. */
export function Judge({ view, versions, worth, reading = null }: Judged) {
  const { verdict, head, failures } = view;
  return (
    <div className="grid grid-cols-1 gap-x-6 gap-y-4 xl:grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)]">
      <section className="xl:col-span-2">
        <h1 className="sentence">
          <VerdictSentence verdict={verdict} head={head} opens />
        </h1>
        <p className="mt-1 flex flex-wrap items-baseline gap-x-2 text-ink-2">
          <span>
            <VerdictNext verdict={verdict} head={head} />
          </span>{" "}
          <Button kind="plain" className="no-print" onClick={() => window.print()}>
            <Printer size={14} aria-hidden /> Print
          </Button>
          <Link href={`/experiments/${head.id}/report`} className="btn btn-plain no-print">
            <FileText size={14} aria-hidden /> Report
          </Link>
        </p>
        {reading && <ReadingAgain head={head} reading={reading} />}
        <FirstDoubt view={view} />
        {view.way === "point" &&
          failures.map((f) => (
            <p key={f.lane} className="mt-1 font-semibold text-doubt">
              {failureWords(f)}
            </p>
          ))}
      </section>
      <div className="grid grid-cols-1 content-start gap-4">
        {view.way === "tested" && <Tested view={view} />}
        {view.curves.length > 0 && (
          <div>
            <MovePoint view={view} />
            <Crossings view={view} />
          </div>
        )}
        <OperatingPoint view={view} />
        <Pairs view={view} />
        {worth && <Effects worth={worth} head={head} />}
        {view.way === "point" && <Tested view={view} />}
        {view.runs.some((r) => !r.byHand) && <ByMethods view={view} only="schools" />}
      </div>
      <Beside view={view} versions={versions} worth={worth} />
    </div>
  );
}

/** Ranking first, the doubts that weaken it, what it costs, and how it once stood. */
const Beside = ({ view, versions, worth }: Omit<Judged, "reading">) => (
  <div className="grid grid-cols-1 content-start gap-4 max-xl:row-start-2">
    <div>
      <Ranking view={view} />
      <Bases view={view} />
    </div>
    <Doubts view={view} />
    {worth && <CostAndHeat worth={worth} experimentId={view.head.id} />}
    {view.verdict.kind !== "none" && <Versions view={view} versions={versions} />}
  </div>
);

/** On a phone the doubts lie below the ranking: the first stands by the answer. */
function FirstDoubt({ view: { doubts: all, head, verdict } }: { view: ExperimentView }) {
  const { system } = usePreferences();
  const doubts = all.filter((d) => !isDismissed(d, head.settings.dismissed));
  if (doubts.length === 0 || verdict.kind === "stopped") return null;
  const { title } = doubtWords(doubts[0], { zone: head.site.zone, system });
  return (
    <p className="mt-1 text-[13.5px] xl:hidden">
      <a href="#doubts" className="font-semibold text-doubt">
        {title}
      </a>
      {doubts.length > 1 && <span className="side"> and {doubts.length - 1} more</span>}
    </p>
  );
}

/** The same from the page's packed data. */
export const JudgeStep = withView(Judge);
