"use client";

import { quantityText } from "@/core/quantity/format";
import { LaneMark } from "@/ui/LaneMark";
import { usePreferences } from "@/ui/preferences";
import { implausibleWords } from "@/words/implausible";
import { moreShare, ratioWords } from "@/words/judge";
import { WHAT_IF_WORDS } from "@/words/prove";
import { SHEET } from "@/words/sheet";
import { FEWEST_ROUNDS, halfWidth, type LaneResult, type SheetResult } from "./sheetResult";
import { Head } from "@/ui/Head";

/** What the rows say so far: each box's heat, which gives more, and what one more instrument would buy. */
export function Results({ result, zone }: { result: SheetResult; zone: string }) {
  const { system } = usePreferences();
  const { lanes, pairs, rounds, alone, remedy, implausible } = result;
  if (lanes.length === 0) return null;
  const hot = [...lanes].sort((a, b) => b.outletC - a.outletC)[0];
  const most = [...lanes].sort((a, b) => b.heat.value - a.heat.value)[0];
  const thumb = lanes.find((l) => l.thumb)?.thumb;
  return (
    <section aria-labelledby="so-far" className="mt-5" aria-live="polite">
      <Head id="so-far" title="So far" side="means of the rows; ± of the instruments" />
      <p className="mt-1 text-[17px]" data-testid="sheet-answer">
        {pairs.length ? (
          pairs.map((p) => <PairSentence key={`${p.a}${p.b}`} pair={p} />)
        ) : (
          <span className="text-ink-2">
            {lanes.length < 2 ? SHEET.oneRound(0, FEWEST_ROUNDS) : SHEET.oneRound(rounds, FEWEST_ROUNDS)}
          </span>
        )}
      </p>
      {implausible.map((found) => {
        const words = implausibleWords(found, { zone, system });
        return (
          <p key={words.title} role="alert" className="mt-1 font-semibold text-danger">
            {words.title}. <span className="font-normal">{words.detail}</span> {words.remedy}
          </p>
        );
      })}
      <ul className="mt-2 grid gap-x-8 gap-y-2 sm:grid-cols-2 xl:grid-cols-4">
        {lanes.map((l) => (
          <LaneFigures key={l.lane} lane={l} />
        ))}
      </ul>
      {lanes.length > 1 && hot !== most && (
        <p className="mt-2 font-semibold text-doubt">{SHEET.hotter(hot.lane, most.lane)}</p>
      )}
      {alone > 0 && <p className="side mt-1">{SHEET.alone(alone)}</p>}
      {remedy && (
        <p className="mt-1 text-[13.5px]">
          To narrow it most: {WHAT_IF_WORDS[remedy.kind]}; the ± shrinks by {Math.round(100 * remedy.gain)}
          {"\u2009"}%.
        </p>
      )}
      {thumb && <p className="side mt-1">{SHEET.thumb(thumb.constant, thumb.share)}</p>}
    </section>
  );
}

function PairSentence({ pair: { decision, ratio, a, b } }: { pair: SheetResult["pairs"][number] }) {
  const turned = ratio.ratio < 1;
  const shown = turned
    ? { value: 1 / ratio.ratio, low: 1 / ratio.high, high: 1 / ratio.low }
    : { value: ratio.ratio, low: ratio.low, high: ratio.high };
  const [more, less] = turned ? [b, a] : [a, b];
  const marks = (
    <>
      <LaneMark lane={more} /> gave {ratioWords(shown)} more heat per area than <LaneMark lane={less} />
    </>
  );
  if (decision === "equal")
    return (
      <span className="block">
        No difference that matters between <LaneMark lane={more} /> and <LaneMark lane={less} />: {ratioWords(shown)}.
      </span>
    );
  if (decision === "cannotTell")
    return (
      <span className="block">
        Cannot tell whether <LaneMark lane={more} /> or <LaneMark lane={less} /> gave more heat per area (
        <LaneMark lane={more} /> against <LaneMark lane={less} />: {moreShare(shown.low)} to {moreShare(shown.high)}).
      </span>
    );
  return <span className="block">{marks}.</span>;
}

function LaneFigures({ lane: l }: { lane: LaneResult }) {
  const { system } = usePreferences();
  return (
    <li className="border-t-2 pt-1" style={{ borderColor: `var(--lane-${l.lane.toLowerCase()})` }}>
      <LaneMark lane={l.lane} />{" "}
      <b className="text-[17px] font-[650]">
        {quantityText(l.heat.value, "power", { system, expanded: halfWidth(l.heat) })}
      </b>
      <span className="side block">
        {l.rows} row{l.rows > 1 ? "s" : ""}; rises{" "}
        {quantityText(l.riseK, "temperatureDifference", { system, figures: 3 })} to{" "}
        {quantityText(l.outletC, "temperature", { system, figures: 3 })}
        {l.efficiency && (
          <>
            ; efficiency {quantityText(l.efficiency.value, "fraction", { system, expanded: halfWidth(l.efficiency) })}
          </>
        )}
      </span>
    </li>
  );
}
