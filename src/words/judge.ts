import { sourceWords } from "./sources";
import { quantityText, formatNumber } from "@/core/quantity/format";
import type { UnitSystem } from "@/core/quantity/quantities";
import type { Look } from "@/core/uncertainty/sequential";
import type { DaylightVerdict, Remedy } from "@/core/judge/verdict";
import type { EventKind } from "@/core/log/eventKind";
import type { FitFailure } from "@/core/analysis/curve";
import type { CleanReason } from "@/core/log/clean";
import type { Refusal } from "@/core/log/windows";
import type { HourReason } from "@/core/analysis/heatRecord";
import type { SpanUnit } from "@/core/judge/tested";

/** The one place where results become English. Core gives data; these give sentences. */

/** `1 in 200`, `1 in 3`; below one in a thousand `less than 1 in 1 000`. */
export function chanceWords(p: number): string {
  if (p < 0.001) return "less than 1 in 1\u2009000";
  if (p > 0.4) return "about even";
  return `1 in ${formatNumber(Number((1 / p).toPrecision(2)), 0)}`;
}

export const LIMIT_WORDS: Record<Refusal, string> = {
  irradiance: "too little sun",
  irradianceBand: "sun changed too much",
  ambient: "outside temperature moved",
  modifier: "sun too far off the normal",
  inlet: "inlet temperature moved",
  flow: "flow changed",
  outlet: "outlet still moving",
  stopped: "flow stood still",
  missing: "readings missing or set aside",
};

const CLEAN_WORDS: Record<CleanReason, string> = {
  missing: "missing",
  errorCode: "probe error code",
  outOfRange: "physically impossible",
  stuck: "stuck at one value",
  spike: "lone spike",
  excluded: "set aside by you",
};
export const cleanWords = (reason: CleanReason): string => CLEAN_WORDS[reason];

export function remedyWords(remedy: Remedy, system: UnitSystem): string | null {
  switch (remedy.kind) {
    case "nothing":
      return null;
    case "moreDays":
      return `test ${remedy.days === 1 ? "one more clear day" : `${remedy.days} more clear days`} like those so far`;
    case "swapStations":
      return `swap the places of ${remedy.a} and ${remedy.b}, so that what belongs to meters and places cancels`;
    case "steadierDays":
      return `test under a steadier sun or by all daylight: ${remedy.days} more days like those so far would not tell so small a difference`;
    case "betterInstrument": {
      const { label } = sourceWords(remedy.source, "");
      const now = quantityText(0, "heatFlux", { expanded: remedy.expandedNow, system });
      const then = quantityText(0, "heatFlux", { expanded: remedy.expandedThen, system });
      return `calibrate or replace “${label.trim().replace(/,$/, "")}”: half its error would cut ${now.replace(/^0(\.0+)? /, "")} to ${then.replace(/^0(\.0+)? /, "")}`;
    }
  }
}

export function failureWords(failure: FitFailure): string {
  if (failure.kind === "noLoss")
    return `${failure.lane}'s efficiency does not fall as it gets warmer, which no box does: no curve is claimed. Look for a mirror, a probe or a change of flow that went with the temperature.`;
  return failure.kind === "tooFewPoints"
    ? `${failure.lane} has ${failure.points} steady window${failure.points === 1 ? "" : "s"}; a curve needs ${failure.needed}. Loosen the rules to “backyard”, or log more sun.`
    : `${failure.lane}'s windows all lie at nearly one reduced temperature, so no curve is claimed. Warm the inlet in steps to get one.`;
}

/** Why a look before the end of the plan asks for more. */
export const lookWords = ({ taken, planned, level }: Look): string =>
  `After ${taken} of ${planned} planned days a winner needs ${chanceWords(level / 2)} or less, so that looking early is paid for.`;

/** `this and that`, `one, two and three`. */
export const andWords = (parts: readonly string[]): string =>
  parts.length < 2 ? parts.join("") : `${parts.slice(0, -1).join(", ")} and ${parts.at(-1)}`;

/** `A and D`, `A, B, C`. */
export function lettersWords(letters: readonly string[]): string {
  const sorted = [...letters].sort();
  return sorted.join(sorted.length > 2 ? ", " : " and ");
}

/** `Mesh layers (B)`, `Corrugated sheet (A and D)`. */
export function lanesWords(letters: readonly string[], lanes: readonly { letter: string; variant: string }[]): string {
  const name = lanes.find((l) => l.letter === letters[0])?.variant ?? letters[0];
  return `${name} (${lettersWords(letters)})`;
}

export const NO_VERDICT_WORDS = {
  noRuns: "No run yet: import a log and Bravel ranks the lanes.",
  oneLane: "One lane alone cannot be compared: log a second collector beside it at the same time.",
  noHeat: "No lane gave heat that can be reckoned: each needs its inlet, its outlet and its flow.",
  tooShort:
    "Too short to compare: two lanes need three sunny hours together, three steady windows each, or three rounds read by hand.",
  noCommonSpans:
    "No two lanes were logged at the same time with their heat known, and one after another each needs three steady windows with outside air and sun.",
};

/** What lanes are paired by, one and many. */
export const UNIT_WORDS: Record<SpanUnit, [one: string, many: string]> = {
  window: ["steady window", "steady windows"],
  hour: ["hour", "hours"],
  day: ["day", "days"],
  round: ["round of readings", "rounds of readings"],
};

/** How the two of a pair stood, after its days. */
export function pairWords({ swapped, inTurn }: { swapped: boolean; inTurn: boolean }): string {
  if (inTurn) return ", one after another";
  return swapped ? ", swapped" : "";
}

/** Why hours were not compared. */
export const HOUR_WORDS: Record<HourReason, string> = {
  gap: "readings missing",
  stopped: "one lane’s flow stood still",
  weak: "little heat",
  alone: "no other lane read beside it",
};

const TURNED_THINGS: Partial<Record<EventKind, string>> = { mirror: "mirror" };
export const turnedThing = (what: EventKind): string => TURNED_THINGS[what] ?? what;

/** What an answer by turns rests on. */
export const turnedNote = ({
  turns,
  windows,
  days,
}: {
  turns: number;
  windows: { turned: number; back: number };
  days: number;
}): string =>
  `By turns: ${turns} presses, ${windows.turned} steady windows turned and ${windows.back} turned back on ${days} day${days === 1 ? "" : "s"}. The lane is its own comparison; the other lanes tell what the sun did meanwhile.`;

/** What an answer by all daylight rests on, and what windows or hours say. @param heat a figure with its ± in words */
export const daylightNote = (
  { hours, days, windows }: Pick<DaylightVerdict, "hours" | "days" | "windows">,
  heat: (si: number, expanded: number) => string,
): string =>
  `By all daylight: ${formatNumber(hours, 0)}\u2009h of changing light on ${days} day${days === 1 ? "" : "s"}, at the flow that was tested. ${windows ? `${UNIT_WORDS[windows.unit][1].replace(/^./, (c) => c.toUpperCase())} alone leave it open (${heat(windows.value, windows.expanded)})` : "Steady windows alone are too few"}; what lies below is theirs.`;

/** `12 %`, of a ratio of 1.12. */
export const moreShare = (ratio: number): string => `${formatNumber(100 * (ratio - 1), 0)}\u2009%`;

/** `12 % (5 to 19 %)`: how much more, with its interval at 95 %. */
export const ratioWords = ({ value, low, high }: { value: number; low: number; high: number }): string =>
  `${moreShare(value)} (${formatNumber(100 * (low - 1), 0)} to ${moreShare(high)})`;
