"use client";

import type { ExperimentHead } from "@/core/experiment/types";
import type { ExperimentSettings } from "@/core/experiment/schema/settings";
import type { TestedAt, VerdictView } from "@/services/views";
import { quantityText } from "@/core/quantity/format";
import { Figure } from "@/ui/Working";
import { usePreferences } from "@/ui/preferences";
import { doubtWords } from "@/words/doubts";
import {
  chanceWords,
  lanesWords,
  lettersWords,
  lookWords,
  NO_VERDICT_WORDS,
  ratioWords,
  remedyWords,
} from "@/words/judge";

type Head = Pick<ExperimentHead, "lanes" | "settings" | "site">;

/** The one sentence that answers the experiment's question, its doubt inside it. */
export function VerdictSentence({ verdict, head, opens }: { verdict: VerdictView; head: Head; opens: boolean }) {
  const { system } = usePreferences();
  const { settings } = head;
  if (verdict.kind === "none") return <>{NO_VERDICT_WORDS[verdict.reason]}</>;
  if (verdict.kind === "stopped")
    return (
      <>
        <span className="text-danger">No verdict</span>
        {verdict.by ? `: ${doubtWords(verdict.by, { zone: head.site.zone, system }).title}` : ""}. Mend its cause first.
      </>
    );
  if (verdict.kind === "tie")
    return (
      <>
        {verdict.tested ? "As tested, " : ""}
        {lettersWords(verdict.lanes)} are equal within the{" "}
        {quantityText(verdict.within, "heatFlux", { system, figures: 2 })} that matter to you.
      </>
    );
  const place = verdict.tested ? <TestedWords at={verdict.tested} /> : <PointWords settings={settings} />;
  const share = verdict.tested?.ratio && ratioWords(verdict.tested.ratio);
  const figure = <Figure figure={verdict.difference} opens={opens ? { figure: "verdict" } : undefined} />;
  if (verdict.kind === "winner") {
    return (
      <>
        {place} {lanesWords(verdict.best, head.lanes)} gives{" "}
        {share ? `${share} more heat than ` : <>{figure} more heat than </>}
        {lanesWords(verdict.next, head.lanes)}
        {share ? <>: {figure}</> : ""}
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
      {lanesWords(verdict.next, head.lanes)}: the difference{verdict.tested ? " as tested" : ""} is {figure}.
    </>
  );
}

function TestedWords({ at }: { at: TestedAt }) {
  const { system } = usePreferences();
  const t = (c: number) => quantityText(c, "temperature", { system, figures: 2 });
  return (
    <>
      As tested, with {t(at.inletC)} in{at.ambientC === null ? "" : ` and ${t(at.ambientC)} outside`},
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
  if (verdict.kind === "stopped") return <>What stands in the way is first among the doubts, with what to look at.</>;
  if (verdict.kind === "tie") return <>Choose by cost or by looks; more testing would not change the heat.</>;
  const next = remedyWords(verdict.remedy, system);
  if ("gate" in verdict && verdict.gate)
    return (
      <>
        The readings alone would tell them apart; one doubt below could make it{" "}
        <b className="whitespace-nowrap text-ink">
          {quantityText(verdict.gate.low, "heatFlux", { system, figures: 2, signed: true })} to{" "}
          {quantityText(verdict.gate.high, "heatFlux", { system, figures: 2, signed: true })}
        </b>
        . Settle that one first.
      </>
    );
  return (
    <>
      Chance that this order is wrong: <b className="whitespace-nowrap text-ink">{chanceWords(verdict.chanceWrong)}</b>,
      before the doubts below.
      {verdict.look && <> {lookWords(verdict.look)}</>}
      {next && (
        <>
          {" "}
          <b className="text-ink">Next:</b> {next}.
        </>
      )}
    </>
  );
}
