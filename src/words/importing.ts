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
