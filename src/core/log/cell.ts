/** The marks a number may carry between its thousands. Blanks of any width count as one, apostrophes too. */
export type ThousandsMark = " " | "'" | "," | ".";

/** A cell read whole, from its first to its last character. */
export type Cell =
  | { kind: "number"; value: number }
  /** Written with marks between thousands. One comma or point before three digits could be a decimal mark as well. */
  | { kind: "marked"; value: number; mark: ThousandsMark; certain: boolean }
  | { kind: "missing" }
  | { kind: "notANumber" };

const MISSING = new Set([
  "",
  "nan",
  "na",
  "n/a",
  "#n/a",
  "null",
  "none",
  "-",
  "--",
  "---",
  "----",
  "ol",
  "o.l.",
  "err",
  "error",
  "open",
  "short",
  "fault",
  "inf",
  "-inf",
  "overrange",
  "????",
  "nc",
  "disconnected",
]);
/** No number is written longer; what is longer is not looked at. */
const LONGEST = 48;
const BLANKS = " \t\u00a0\u2009\u202f";
const PLAIN = {
  ".": /^[+\-−]?(?:\d+(?:\.\d*)?|\.\d+)(?:e[+-]?\d{1,3})?$/i,
  ",": /^[+\-−]?(?:\d+(?:,\d*)?|,\d+)(?:e[+-]?\d{1,3})?$/i,
} as const;
const MARKED = {
  ".": /^([+\-−]?)(\d{1,3}(?:([\u00a0\u2009\u202f ,'’])\d{3})(?:\3\d{3})*)(\.\d+)?$/,
  ",": /^([+\-−]?)(\d{1,3}(?:([\u00a0\u2009\u202f .'’])\d{3})(?:\3\d{3})*)(,\d+)?$/,
} as const;

/** Without blanks at its ends. Other white space, a form feed say, is a fault of the file and stays. */
export function trimBlanks(text: string): string {
  let from = 0;
  let to = text.length;
  while (from < to && BLANKS.includes(text[from])) from++;
  while (to > from && BLANKS.includes(text[to - 1])) to--;
  return text.slice(from, to);
}

/** A cell of a log: a number, a number with marks between its thousands, a sign for "no reading", or none of these. */
export function readCell(cell: string, decimal: "." | ","): Cell {
  const text = trimBlanks(cell);
  if (text.length > LONGEST) return { kind: "notANumber" };
  if (PLAIN[decimal].test(text)) return finite(text, decimal);
  if (MISSING.has(text.toLowerCase())) return { kind: "missing" };
  const marked = MARKED[decimal].exec(text);
  if (!marked) return { kind: "notANumber" };
  const [, sign, whole, mark, fraction = ""] = marked;
  const value = finite(sign + whole.replaceAll(mark, "") + fraction, decimal);
  if (value.kind !== "number") return value;
  const usual = usualMark(mark);
  const certain = usual === " " || usual === "'" || fraction !== "" || whole.indexOf(mark) !== whole.lastIndexOf(mark);
  return { ...value, kind: "marked", mark: usual, certain };
}

function usualMark(mark: string): ThousandsMark {
  if (mark === "," || mark === ".") return mark;
  return mark === "'" || mark === "’" ? "'" : " ";
}

function finite(text: string, decimal: "." | ","): Extract<Cell, { kind: "number" | "notANumber" }> {
  const value = Number(text.replace("−", "-").replace(decimal, "."));
  return Number.isFinite(value) ? { kind: "number", value } : { kind: "notANumber" };
}
