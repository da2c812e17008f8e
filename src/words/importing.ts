import type { FlowEvidence } from "@/core/analysis/evidence";
import { formatNumber, quantityText } from "@/core/quantity/format";
import type { UnitSystem } from "@/core/quantity/quantities";
import type { LogQuestion } from "@/core/log/question";
import type { ImportProblem, ImportSummary } from "@/core/log/logData";

const BAD_TIME_WORDS = {
  skippedHour:
    "never was: clocks went forward over it. If the logger keeps winter time, choose a fixed offset as its zone",
  noSuchDate: "is no date in the chosen day and month order",
  unreadable: "is not a time in the chosen format",
};

/** Row, column and reason of something in a file that could not be taken. */
export function problemWords(problem: ImportProblem): { where: string; what: string } {
  const where = (column?: string) => `row ${formatNumber(problem.row, 0)}${column ? `, ${column}` : ""}`;
  switch (problem.kind) {
    case "fieldCount":
      return { where: where(), what: `has ${problem.found} fields instead of ${problem.expected}; row left out` };
    case "badTime": {
      const why = BAD_TIME_WORDS[problem.reason];
      return { where: where(problem.column), what: `“${problem.text}” ${why}; row left out` };
    }
    case "notANumber":
      return { where: where(problem.column), what: `“${problem.text}” is not a number; cell left empty` };
    case "unevenMarks":
      return {
        where: where(problem.column),
        what: `“${problem.text}” carries a mark between its digits that the column does not use throughout; cell left empty`,
      };
    case "otherPattern":
      return {
        where: where(problem.column),
        what: `${problem.text ? `“${problem.text}” is` : "its time is"} written in another way than the other times; row left out`,
      };
    case "strayTime":
      return {
        where: where(),
        what: `its time, ${instant(problem.utcMs)}, is far from all others; row left out`,
      };
    case "sameTime":
      return {
        where: where(),
        what: `has the time of row ${formatNumber(problem.kept, 0)} and other readings; row ${formatNumber(problem.kept, 0)} kept`,
      };
    case "columnsChanged":
      return {
        where: where(),
        what: `columns change here${problem.missing.length ? `; ${problem.missing.join(", ")} missing from here on` : "; read by their names from here on"}`,
      };
    case "longLine":
      return {
        where: where(),
        what: `line of ${formatNumber(problem.bytes / 1024, 0)} kB, longer than any log’s; left out`,
      };
  }
}

/** `410 W at noon, 55 %`: what a unit of flow leads to. */
export const flowEvidenceWords = ({ heatW, efficiency }: FlowEvidence, system: UnitSystem): string =>
  `${quantityText(heatW, "power", { system, figures: 2 })}${efficiency === null ? "" : `, ${formatNumber(100 * efficiency, 0)}\u2009%`}`;

/** A day and time in UTC: what a file's clock meant is in doubt here. */
const instant = (ms: number): string => `${new Date(ms).toISOString().slice(0, 16).replace("T", " ")} UTC`;

const share = (of: number): string => `${formatNumber(100 * of, of < 0.1 ? 1 : 0)}\u2009%`;

export interface AskedWords {
  question: string;
  choices: readonly { value: string; words: string }[];
}

/** What an import asks about a file once it has read it whole. The first choice is the careful one. */
export function logQuestionWords(q: LogQuestion): AskedWords {
  switch (q.kind) {
    case "sameTime":
      return {
        question: `${formatNumber(q.rows, 0)} rows (${share(q.share)}) have the time of another row and other readings, the first in row ${formatNumber(q.row, 0)}. What are they?`,
        choices: [
          { value: "spread", words: "The clock shows no seconds: spread them evenly" },
          { value: "mean", words: "Readings of one moment: take their mean" },
          { value: "first", words: "Written twice: keep the first" },
          { value: "last", words: "Corrected later: keep the last" },
        ],
      };
    case "otherPattern":
      return {
        question: `${formatNumber(q.rows, 0)} rows (${share(q.share)}) write their time in another way than the rest, the first in row ${formatNumber(q.row, 0)}. Day and month may be exchanged there, or an offset missing.`,
        choices: [
          { value: "leaveOut", words: "Leave them out" },
          { value: "keep", words: "They mean the same clock: keep them" },
        ],
      };
    case "strayTimes":
      return {
        question: `${formatNumber(q.rows, 0)} rows (${share(q.share)}) lie far from the others, between ${instant(q.fromMs)} and ${instant(q.toMs)}, the first in row ${formatNumber(q.row, 0)}. A clock that was not set yet, or day and month exchanged?`,
        choices: [
          { value: "leaveOut", words: "Leave them out" },
          { value: "keep", words: "They are right: keep them" },
        ],
      };
    case "oddDates":
      return {
        question: `The readings lie between ${instant(q.fromMs)} and ${instant(q.toMs)}: before any logger's clock was set, or after this computer's. Day and month exchanged, or a clock never set? Sun and season would be wrong.`,
        choices: [{ value: "right", words: "These times are right" }],
      };
    case "leftOut":
      return {
        question: `${formatNumber(q.rows, 0)} of its rows (${share(q.share)}) cannot be read as the settings above say, the first in row ${formatNumber(q.row, 0)}. Check the order of day and month, and the separator; what could be read may be read wrongly too.`,
        choices: [{ value: "leaveOut", words: "The settings are right: leave these rows out" }],
      };
    case "thousands":
      return {
        question: `${q.column}: is “${q.text}” in row ${formatNumber(q.row, 0)} more than a thousand, or does its mark stand before decimals? For decimals choose the other decimal mark above.`,
        choices: [
          { value: "thousands", words: "More than a thousand" },
          { value: "leaveOut", words: "I do not know: leave such cells empty" },
        ],
      };
  }
}

/** What happened while a file was read; empty when nothing did. */
export function summaryNotes(summary: ImportSummary): string[] {
  const told: [count: number, words: string][] = [
    [summary.rowsRejected, "rows left out"],
    [summary.cellsUnreadable, "cells unreadable"],
    [summary.duplicateTimes, "rows with the time of another row and other readings"],
    [summary.joinedRows ?? 0, "rows joined with another of the same time"],
    [summary.backwardTimes, "rows out of order, sorted"],
    [summary.repeatedHourRows, "rows in the hour that clocks show twice"],
  ];
  return told.flatMap(([count, words]) => (count ? [`${formatNumber(count, 0)} ${words}`] : []));
}

/** What an import still lacks, or will lack afterwards. */
export const DRAFT_NOTES = {
  noFile: "Drop at least one file.",
  unreadable: (file: string) => `${file} cannot be read; mend it or take it off the list.`,
  dateOrder: (file: string) => `${file}: say whether the day or the month comes first.`,
  timeZero: (file: string) => `${file}: say when its time 0 was.`,
  twice: (file: string, kind: string, lane: string | null) =>
    `${file}: two columns stand for ${kind}${lane ? ` of lane ${lane}` : ""}; leave one unused.`,
  several: (kind: string, lane: string | null) =>
    `Several probes stand for ${kind}${lane ? ` of lane ${lane}` : ""}: their mean is taken, and their spread enters its ±.`,
  whoseEnd: (two: string, none: string, end: "inlet" | "outlet") =>
    `Two ${end} columns stand for lane ${two} and none for lane ${none}: give one of them to ${none}, or leave ${none} unmapped.`,
  noLane: "Map at least one column to a lane.",
  noEnd: (lane: string, end: "inlet" | "outlet") => `Lane ${lane} has no ${end} temperature: it will give no points.`,
  unit: (file: string, columns: readonly string[]) =>
    `${file}: say the unit of ${columns.length > 4 ? `${columns.slice(0, 4).join(", ")} and ${columns.length - 4} more` : columns.join(", ")}.`,
  otherUnit: (file: string, column: string, named: string, chosen: string) =>
    `${file}: “${column}” names ${named}, and ${chosen} is chosen. One of the two is wrong.`,
  whichLane: (file: string, columns: readonly string[]) =>
    `${file}: say which lane ${columns.length > 4 ? `${columns.slice(0, 4).join(", ")} and ${columns.length - 4} more belong` : `${columns.join(", ")} ${columns.length > 1 ? "belong" : "belongs"}`} to.`,
  area: (lane: string) => `Lane ${lane}: say its gross area.`,
  heatBy: (lane: string) =>
    `Lane ${lane}: a tank and both ends were logged, and no flow. Say whether heat is counted by the tank’s warming or by a flow you know.`,
  flow: (lane: string, missing: "stated" | "changes" | "duct" | "at" | "tank") =>
    ({
      tank: `Lane ${lane}: say how much water its tank holds, with hoses and box.`,
      stated: `Lane ${lane}: no flow is logged. Say what it was: read by hand, measured with bag or bucket, or the fan’s rating with a wide ±.`,
      changes: `Lane ${lane}: say when its flow was set anew and to what, line after line in order of time, or take the line out.`,
      duct: `Lane ${lane}: say the duct’s size; speed alone is no flow.`,
      at: `Lane ${lane}: say whether the flow was metered at the inlet or the outlet; warm air is thinner.`,
    })[missing],
  mounting: "Say whether the sun sensor lies in the collector plane or horizontal.",
  site: "Say where the bench stands: the air’s density and the clock hang on it.",
  snow: "Say the first and the last day of snow before the boxes, or leave both empty.",
  tilt: "Say the collectors’ tilt.",
  azimuth: "Say which way the collectors face.",
  nameLane: (lane: string) => `Lane ${lane} is new to this experiment: give it a name.`,
  noSun:
    "No irradiance column: lanes are compared by their heat in shared hours; there will be no efficiency and no curve.",
  modelledSun:
    "No irradiance column: the modelled clear sky stands in, ± 15 %. It sees no clouds; set cloudy spans aside in Read.",
  noAmbient: "No outside temperature column: without it there is no reduced temperature difference.",
  spanFrom: "Enter when the run began, day and time on the logger’s clock.",
  spanUntil: "The run must end after it began, and not ahead of now. Leave the end empty while it goes on.",
  swap: "A swap needs its day, its time and two different boxes.",
  nameExperiment: "Give the experiment a name.",
} as const;
