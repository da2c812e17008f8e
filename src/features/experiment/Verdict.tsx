"use client";

import type { ExperimentHead } from "@/core/experiment/types";
import type { ExperimentSettings } from "@/core/experiment/schema/settings";
import type { VerdictView } from "@/services/views";
import { quantityText } from "@/core/quantity/format";
import { Figure } from "@/ui/Working";
import { usePreferences } from "@/ui/preferences";
import { chanceWords, lanesWords, lettersWords, NO_VERDICT_WORDS, remedyWords } from "@/words/judge";

type Head = Pick<ExperimentHead, "lanes" | "settings">;

/** The one sentence that answers the experiment's question, its doubt inside it. */
export function VerdictSentence({ verdict, head, opens }: { verdict: VerdictView; head: Head; opens: boolean }) {
  const { system } = usePreferences();
  const { settings } = head;
  if (verdict.kind === "none") return <>{NO_VERDICT_WORDS[verdict.reason]}</>;
  if (verdict.kind === "tie")
    return (
      <>
        {lettersWords(verdict.lanes)} are equal within the{" "}
        {quantityText(verdict.within, "heatFlux", { system, figures: 2 })} that matter to you.
      </>
    );
  const place = <PointWords settings={settings} />;
  const figure = <Figure figure={verdict.difference} opens={opens ? { figure: "verdict" } : undefined} />;
  if (verdict.kind === "winner") {
    return (
      <>
        {place} {lanesWords(verdict.best, head.lanes)} gives {figure} more heat than{" "}
        {lanesWords(verdict.next, head.lanes)}
        {verdict.belowWhatMatters ? (
          <span className="text-doubt">
            , less than the {quantityText(settings.smallestDifference, "heatFlux", { system, figures: 2 })} that matter
            to you
          </span>
        ) : (
          ""
        )}
        .
      </>
    );
  }
  return (
    <>
      <span className="text-doubt">Cannot tell yet</span> whether {lanesWords(verdict.best, head.lanes)} beats{" "}
      {lanesWords(verdict.next, head.lanes)}: the difference is {figure}.
    </>
  );
}

function PointWords({ settings }: { settings: ExperimentSettings }) {
  const { system } = usePreferences();
  const t = (c: number) => quantityText(c, "temperature", { system });
  return (
    <>
      With {t(settings.operatingPoint.inletC)} in and {t(settings.operatingPoint.ambientC)} outside,
    </>
  );
}

/** How surely, and what next. */
export function VerdictNext({ verdict }: { verdict: VerdictView }) {
  const { system } = usePreferences();
  if (verdict.kind === "none") return null;
  if (verdict.kind === "tie") return <>Choose by cost or by looks; more testing would not change the heat.</>;
  const next = remedyWords(verdict.remedy, system);
  return (
    <>
      Chance that this order is wrong: <b className="whitespace-nowrap text-ink">{chanceWords(verdict.chanceWrong)}</b>,
      before the doubts below.
      {next && (
        <>
          {" "}
          <b className="text-ink">Next:</b> {next}.
        </>
      )}
    </>
  );
}
