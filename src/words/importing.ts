import { formatNumber } from "@/core/quantity/format";
import type { ImportProblem, ImportSummary } from "@/core/log/readLog";

/** Row, column and reason of something in a file that could not be taken. */
export function problemWords(problem: ImportProblem): { where: string; what: string } {
  const where = (column?: string) => `row ${formatNumber(problem.row, 0)}${column ? `, ${column}` : ""}`;
  switch (problem.kind) {
    case "fieldCount":
      return { where: where(), what: `has ${problem.found} fields instead of ${problem.expected}; row left out` };
    case "badTime": {
      const why =
        problem.reason === "skippedHour"
          ? "never was: clocks went forward over it. If the logger keeps winter time, choose a fixed offset as its zone"
          : problem.reason === "noSuchDate"
            ? "is no date in the chosen day and month order"
            : "is not a time in the chosen format";
      return { where: where(problem.column), what: `“${problem.text}” ${why}; row left out` };
    }
    case "notANumber":
      return { where: where(problem.column), what: `“${problem.text}” is not a number; cell left empty` };
    case "columnsChanged":
      return {
        where: where(),
        what: `columns change here${problem.missing.length ? `; ${problem.missing.join(", ")} missing from here on` : "; read by their names from here on"}`,
      };
    case "longLine":
      return { where: where(), what: `line longer than a megabyte; left out` };
  }
}

/** What happened while a file was read; empty when nothing did. */
export function summaryNotes(summary: ImportSummary): string[] {
  const told: [count: number, words: string][] = [
    [summary.rowsRejected, "rows left out"],
    [summary.cellsUnreadable, "cells unreadable"],
    [summary.duplicateTimes, "repeated times, last kept"],
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
  noLane: "Map at least one column to a lane.",
  noEnd: (lane: string, end: "inlet" | "outlet") => `Lane ${lane} has no ${end} temperature: it will give no points.`,
  nameLane: (lane: string) => `Lane ${lane} is new to this experiment: give it a name.`,
  noSun:
    "No irradiance column: without sun there is heat, but no efficiency and no ranking. As a last resort choose the modelled clear sky under Sun sensor.",
  modelledSun:
    "No irradiance column: the modelled clear sky stands in, ± 15 %. It sees no clouds; set cloudy spans aside in Read.",
  noAmbient: "No outside temperature column: without it there is no reduced temperature difference.",
  nameExperiment: "Give the experiment a name.",
  nameSite: "Give the site a name.",
} as const;
