import { formatNumber } from "@/core/quantity/format";
import type { InspectProblem } from "@/services/import/imports";
import type { ImportDraft } from "./draft";

/** Why a file could not be understood, and the way out. */
export function inspectProblemWords(problem: InspectProblem): string {
  switch (problem.kind) {
    case "empty":
      return "The file is empty. Export the log again, and look whether the logger really recorded.";
    case "binary": {
      const what = {
        zip: "a zipped or spreadsheet file",
        gzip: "a compressed file",
        pdf: "a PDF",
        image: "a picture",
        spreadsheet: "an old spreadsheet",
        unknown: "not text",
      }[problem.what];
      return `This is ${what}, not a text log. Open it in the logger's or spreadsheet program and save it as CSV, then drop that.`;
    }
    case "longLine":
      return `The first line never ends (${Math.round(problem.bytes / 1024)} kB without a line break), so there are no rows. Export the log as CSV with one row a reading.`;
    case "tooManyColumns":
      return `The file has ${formatNumber(problem.columns, 0)} columns; a log has at most 2,000. Export it with one row a reading, not one column.`;
    case "noColumns":
      return `No columns were found: the first line reads “${problem.firstLine}”. Choose the delimiter by hand, or export as CSV.`;
    case "headerOnly":
      return `There is a header (${problem.columns.slice(0, 6).join(", ")}) but no readings below it. Export again with data.`;
    case "noTime":
      return `No column looks like time among ${problem.columns.slice(0, 8).join(", ")}. A log needs a time in each row; add it when exporting.`;
    case "gone":
      return "The file is no longer kept. Drop it again.";
  }
}

/** The sentence of the empty import page. */
export const NO_FILES = "Drop the logger’s files: Bravel shows how it reads them before anything is imported.";

/** The page in one sentence: what lies before the person, and what comes next. */
export function importSentence({ files, again }: ImportDraft, laneCount: number): string {
  if (again) return `Read run ${again.number} again: change what was read wrongly. Layers and events stay.`;
  if (files.length === 0) return NO_FILES;
  const lanes = `${laneCount} lane${laneCount === 1 ? "" : "s"}`;
  const [first] = files;
  if (files.length === 1 && first.live)
    return `What ${first.live.device} sends, with ${lanes}: check the columns, then start the run.`;
  return `${files.length} file${files.length > 1 ? "s" : ""} with ${lanes}: check the columns, then import.`;
}
