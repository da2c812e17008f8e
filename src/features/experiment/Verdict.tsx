"use client";

import type { ExperimentHead } from "@/core/experiment/types";
import type { ExperimentSettings } from "@/core/experiment/schema/settings";
import type { TestedAt, VerdictView } from "@/services/page/views";
import { quantityText } from "@/core/quantity/format";
import { Figure } from "@/ui/Working";
import { usePreferences } from "@/ui/preferences";
import { doubtWords } from "@/words/doubts";
import {
  andWords,
  chanceWords,
  lanesWords,
  lookWords,
  NO_VERDICT_WORDS,
  ratioWords,
  remedyWords,
  daylightNote,
  turnedNote,
  turnedThing,
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
  const { lanes } = head;
  const matters = quantityText(settings.smallestDifference, "heatFlux", { system, figures: 2 });
  const figure = <Figure figure={verdict.difference} opens={opens ? { figure: "verdict" } : undefined} />;
  if (verdict.kind === "turned") return <TurnedWords verdict={verdict} {...{ settings, lanes, figure, matters }} />;
  if (verdict.kind === "daylight") return <DaylightWords verdict={verdict} {...{ settings, lanes, figure, matters }} />;
  const place = verdict.tested ? <TestedWords at={verdict.tested} /> : <PointWords settings={settings} />;
  if (verdict.kind === "tie") {
    const [first, ...more] = verdict.others;
    const within = quantityText(verdict.within, "heatFlux", { system, figures: 2 });
    return more.length === 0 ? (
      <>
        {place} no difference that matters between {lanesWords(verdict.best, lanes)} and {lanesWords(first, lanes)}:{" "}
        {figure} (limit {within}).
      </>
    ) : (
      <>
        {place} {andWords(verdict.others.map((o) => lanesWords(o, lanes)))} are each within {within} of{" "}
        {lanesWords(verdict.best, lanes)}: no difference that matters.
      </>
    );
  }
  const share = verdict.tested?.ratio && ratioWords(verdict.tested.ratio);
  if (verdict.kind === "winner")
    return (
      <>
        {place} {lanesWords(verdict.best, lanes)} gives {share ? `${share} more` : <>{figure} more</>} heat per{" "}
        {settings.areaBasis} area than {lanesWords(verdict.next, lanes)}
        {share ? <>: {figure}</> : ""}
        {verdict.rivals > 1 ? ", and more than every other" : ""}.{" "}
        <MeaningWords meaning={verdict.meaning} matters={matters} />
      </>
    );
  return (
    <>
      <span className="text-doubt">
        Cannot tell{verdict.look || verdict.missesLimit || verdict.remedy.kind === "moreDays" ? " yet" : ""}
      </span>{" "}
      whether {lanesWords(verdict.best, lanes)} or {lanesWords(verdict.next, lanes)} gives more heat
      {verdict.tested ? " as tested" : ""}: {figure}.
    </>
  );
}

/** One lane against itself: with a thing turned, and turned back. */
function TurnedWords({
  verdict: { lane, what, decision, ratio, meaning },
  settings,
  lanes,
  figure,
  matters,
}: {
  verdict: VerdictView & { kind: "turned" };
  settings: ExperimentSettings;
  lanes: ExperimentHead["lanes"];
  figure: React.ReactNode;
  matters: string;
}) {
  const thing = turnedThing(what);
  const box = lanesWords([lane], lanes);
  const less = decision === "less";
  const share = less ? { value: 1 / ratio.value, low: 1 / ratio.high, high: 1 / ratio.low } : ratio;
  return (
    <>
      With its {thing} turned{less ? " back" : ""}, {box} gives {ratioWords(share)} more heat per {settings.areaBasis}{" "}
      area than with it turned{less ? "" : " back"}: {figure}. <MeaningWords meaning={meaning} matters={matters} />
    </>
  );
}

/** Cloudy hours too, where steady windows leave it open. */
function DaylightWords({
  verdict: { best, next, decision, rivals, meaning },
  settings,
  lanes,
  figure,
  matters,
}: {
  verdict: VerdictView & { kind: "daylight" };
  settings: ExperimentSettings;
  lanes: ExperimentHead["lanes"];
  figure: React.ReactNode;
  matters: string;
}) {
  const [first, second] = [lanesWords(best, lanes), lanesWords(next, lanes)];
  if (decision === "tie")
    return (
      <>
        <PointWords settings={settings} /> no difference that matters between {first} and{" "}
        {rivals > 1 ? "any other" : second}, by all daylight: {figure} (limit {matters}).
      </>
    );
  return (
    <>
      <PointWords settings={settings} /> {first} gives {figure} more heat per {settings.areaBasis} area than {second}
      {rivals > 1 ? ", and more than every other" : ""}, by all daylight.{" "}
      <MeaningWords meaning={meaning} matters={matters} />
    </>
  );
}

/** What a sure difference means; nothing where no smallest difference was named. */
function MeaningWords({
  meaning,
  matters,
}: {
  meaning: (VerdictView & { kind: "winner" })["meaning"];
  matters: string;
}) {
  if (meaning === "exceeds") return <>This exceeds the {matters} that matter.</>;
  if (meaning === "open") return <>It is open whether this reaches the {matters} that matter.</>;
  if (meaning === "below") return <span className="text-doubt">This is less than the {matters} that matter.</span>;
  return null;
}

function TestedWords({ at }: { at: TestedAt }) {
  const { system } = usePreferences();
  const t = (c: number) => quantityText(c, "temperature", { system, figures: 2 });
  return (
    <>
      {at.inTurn ? "Tested one after another" : "As tested"}, with {t(at.inletC)} in
      {at.ambientC === null ? "" : ` and ${t(at.ambientC)} outside`},
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
export function VerdictNext({ verdict, head }: { verdict: VerdictView; head: Head }) {
  const { system } = usePreferences();
  const heat = (si: number, signed = false) => quantityText(si, "heatFlux", { system, figures: 2, signed });
  if (verdict.kind === "none") return null;
  if (verdict.kind === "turned")
    return (
      <>
        {turnedNote(verdict)} Chance of the reverse:{" "}
        <b className="whitespace-nowrap text-ink">{chanceWords(verdict.chanceWrong)}</b>, doubts not included.
      </>
    );
  if (verdict.kind === "daylight")
    return (
      <>
        {daylightNote(verdict, (si, expanded) => quantityText(si, "heatFlux", { system, expanded }))}
        {verdict.decision === "winner" && (
          <>
            {" "}
            Chance that another gives more:{" "}
            <b className="whitespace-nowrap text-ink">{chanceWords(verdict.chanceWrong)}</b>, doubts not included.
          </>
        )}
      </>
    );
  if (verdict.kind === "stopped") return <>What stands in the way is first among the doubts, with what to look at.</>;
  if (verdict.kind === "tie")
    return <>A difference of {heat(verdict.within)} or more is ruled out (5 % tests). Choose by cost or by looks.</>;
  if (verdict.kind === "cannotTell" && verdict.gate) {
    const { gate } = verdict;
    const title = gate.by && doubtWords(gate.by, { zone: head.site.zone, system }).title;
    return (
      <>
        The readings alone give {gate.without === "tie" ? "no difference that matters" : "an order"}, but{" "}
        {title ? `“${title}”` : "one doubt"} could make it{" "}
        <b className="whitespace-nowrap text-ink">
          {heat(gate.low, true)} to {heat(gate.high, true)}
        </b>
        . Solve this first.
      </>
    );
  }
  const next = remedyWords(verdict.remedy, system);
  return (
    <>
      {verdict.kind === "winner" && verdict.expanded90 !== null && (
        <>With 90 % confidence the difference is at most {heat(verdict.difference.si + verdict.expanded90)}. </>
      )}
      {verdict.kind === "cannotTell" && <OpenWords verdict={verdict} head={head} />}
      {verdict.kind === "winner" ? "Chance that another gives more: " : "Chance of the reverse order: "}
      <b className="whitespace-nowrap text-ink">{chanceWords(verdict.chanceWrong)}</b>, doubts not included.
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

/** What else is open, and why a difference beyond its ± decides nothing. */
function OpenWords({ verdict, head }: { verdict: VerdictView & { kind: "cannotTell" }; head: Head }) {
  const { open, missesLimit, rivals, look } = verdict;
  return (
    <>
      {missesLimit &&
        `It does not pass the limit for ${rivals > 1 ? `${rivals} comparisons` : `day ${look!.taken} of ${look!.planned}`}. `}
      {open.length > 0 &&
        `${andWords(open.map((o) => lanesWords(o, head.lanes)))} ${open.length === 1 ? "is" : "are"} not separated from ${lanesWords(verdict.best, head.lanes)} either. `}
    </>
  );
}
