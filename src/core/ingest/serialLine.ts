/** How a device writes its lines. */
export interface LineFormat {
  /** `values`: fields apart by a mark, named by their place. `pairs`: name=value or name:value. `json`: one flat object a line. */
  kind: "values" | "pairs" | "json";
  /** Between fields; a blank stands for any white space. */
  mark: "," | ";" | "\t" | " ";
  /** Of `values`, in order; an empty name leaves a field out. */
  names: string[];
}

export type SerialRead = { ok: true; values: [string, number][] } | { ok: false; why: string };

const NUMBER = /^[+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d{1,3})?$/;
const LONGEST = 2000;

/** A number as devices write it; a comma is a decimal mark only where fields are not apart by commas. */
function numberOf(text: string, mark: LineFormat["mark"]): number | null {
  const trimmed = text.trim();
  if (!NUMBER.test(trimmed) || (mark === "," && trimmed.includes(","))) return null;
  const value = Number(trimmed.replace(",", "."));
  return Number.isFinite(value) ? value : null;
}

const split = (line: string, mark: LineFormat["mark"]): string[] =>
  mark === " " ? line.trim().split(/\s+/) : line.split(mark);

/**
 * One line of a serial device as readings by name. A line is taken whole or not at all: half a line after plugging in must never pass
 * for a reading of another probe.
 */
export function readSerialLine(line: string, format: LineFormat): SerialRead {
  const text = line.trim();
  if (text === "") return { ok: false, why: "an empty line" };
  if (text.length > LONGEST) return { ok: false, why: "the line has no end" };
  if (format.kind === "json") return readJson(text);
  return format.kind === "pairs" ? readPairs(text, format.mark) : readValues(text, format);
}

function readValues(text: string, { mark, names }: LineFormat): SerialRead {
  const fields = split(text, mark);
  if (fields.length !== names.length) return { ok: false, why: `${fields.length} fields instead of ${names.length}` };
  const values: [string, number][] = [];
  for (const [i, field] of fields.entries()) {
    if (!names[i]) continue;
    const value = numberOf(field, mark);
    if (value === null) return { ok: false, why: `“${field.trim().slice(0, 20)}” is no number` };
    values.push([names[i], value]);
  }
  return values.length ? { ok: true, values } : { ok: false, why: "no field has a name yet" };
}

function readPairs(text: string, mark: LineFormat["mark"]): SerialRead {
  const values: [string, number][] = [];
  for (const field of split(text, mark)) {
    const at = field.search(/[=:]/);
    const name = field.slice(0, Math.max(0, at)).trim();
    const value = at < 0 ? null : numberOf(field.slice(at + 1), mark);
    if (!name || value === null) return { ok: false, why: `“${field.trim().slice(0, 30)}” is not name=value` };
    if (values.some(([known]) => known === name)) return { ok: false, why: `${name} stands in the line twice` };
    values.push([name, value]);
  }
  return { ok: true, values };
}

function readJson(text: string): SerialRead {
  let parsed: unknown;
  try {
    parsed = JSON.parse(text);
  } catch {
    return { ok: false, why: "the line is no JSON" };
  }
  if (typeof parsed !== "object" || parsed === null || Array.isArray(parsed))
    return { ok: false, why: "the line is no object of names and numbers" };
  const values = Object.entries(parsed).filter((e): e is [string, number] => typeof e[1] === "number");
  return values.length ? { ok: true, values } : { ok: false, why: "there is no number in it" };
}

/** How a few lines seem to be written: a proposal for the person. */
export function guessLineFormat(lines: readonly string[]): LineFormat {
  const newest = lines.findLast((l) => l.trim() !== "") ?? "";
  const first = newest.slice(0, LONGEST);
  if (first.trim().startsWith("{")) return { kind: "json", mark: ",", names: [] };
  const marks = ["\t", ";", ",", " "] as const;
  const mark = marks.find((m) => split(first.trim(), m).length > 1) ?? ",";
  const fields = split(first.trim(), mark);
  if (fields.every((f) => /^[^=:]+[=:]/.test(f.trim()))) return { kind: "pairs", mark, names: [] };
  return { kind: "values", mark, names: fields.map((_, i) => `field ${i + 1}`) };
}
