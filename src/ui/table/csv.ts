import Papa from "papaparse";

export type CsvCell = string | number | null;

/** Spreadsheets run cells that begin like formulas; a leading apostrophe keeps them text. Numbers written as text stay numbers. */
const LIKE_A_FORMULA = /^[=@\t\r]|^[+-](?!\d*\.?\d+(e[+-]?\d+)?$)/i;

/** A spreadsheet splits at whatever mark its country does, not at commas alone. */
const splitsElsewhere = (cell: unknown): boolean => typeof cell === "string" && /[;\t|]/.test(cell);

/** Rows as comma-separated values (RFC 4180), safe to open in a spreadsheet. */
export const toCsv = (rows: readonly (readonly CsvCell[])[]): string =>
  `${Papa.unparse(rows as CsvCell[][], { newline: "\r\n", quotes: splitsElsewhere, escapeFormulae: LIKE_A_FORMULA })}\r\n`;

/** The same as tab-separated text, which spreadsheets take from the clipboard cell by cell. */
export const toTabs = (rows: readonly (readonly CsvCell[])[]): string =>
  Papa.unparse(rows as CsvCell[][], { newline: "\n", delimiter: "\t", escapeFormulae: LIKE_A_FORMULA });
