import { parseNumber } from "../quantity/parseQuantity";
import Papa from "papaparse";
import {
  MATERIAL_FLAGS,
  MATERIAL_GROUPS,
  MATERIAL_UNITS,
  type Material,
  type MaterialFlag,
  type MaterialGroup,
  type MaterialUnit,
} from "./material";

/** Columns with their units; the order of the file. */
export const COLUMNS = [
  "key",
  "name",
  "group",
  "density_kg_m3",
  "specific_heat_J_kgK",
  "conductivity_W_mK",
  "absorptance",
  "emittance",
  "refractive_index",
  "extinction_1_m",
  "infrared_transmittance",
  "limit_C",
  "expansion_1_K",
  "thickness_m",
  "unit",
  "price",
  "pack",
  "flags",
  "note",
  "source",
] as const;
type MaterialColumn = (typeof COLUMNS)[number];

/** One line of a table that could not be read: which, and why. Rows count from 1 under the header. */
export type MaterialProblem =
  | { kind: "longLine"; row: number }
  | { kind: "manyRows"; most: number }
  | { kind: "missingColumn"; column: MaterialColumn }
  | { kind: "notNumber"; row: number; column: MaterialColumn; value: string }
  | { kind: "outOfRange"; row: number; column: MaterialColumn; value: number; min: number; max: number }
  | { kind: "unknownWord"; row: number; column: MaterialColumn; value: string; allowed: readonly string[] }
  | { kind: "empty"; row: number; column: MaterialColumn }
  | { kind: "twice"; row: number; key: string }
  | { kind: "more"; count: number };

/** Lowest and highest sensible value per number, and whether the cell may be empty. */
export const MATERIAL_RANGES: Record<
  | "density"
  | "specificHeat"
  | "conductivity"
  | "absorptance"
  | "emittance"
  | "index"
  | "extinctionPerM"
  | "infraredTransmittance"
  | "limitC"
  | "expansionPerK"
  | "thicknessM"
  | "price"
  | "pack",
  readonly [number, number]
> = {
  density: [1, 25000],
  specificHeat: [100, 10000],
  conductivity: [0.005, 2000],
  absorptance: [0, 1],
  emittance: [0.01, 1],
  index: [1, 3],
  extinctionPerM: [0, 100000],
  infraredTransmittance: [0, 0.95],
  limitC: [20, 2000],
  expansionPerK: [0, 0.001],
  thicknessM: [0.000001, 1],
  price: [0, 1e6],
  pack: [0.0001, 1e6],
};

/** No material takes a longer line. */
const LONGEST_LINE = 20_000;
const TOO_LONG = new RegExp(`[^\\n]{${LONGEST_LINE + 1}}`);
/** Far above every library. */
const MOST_ROWS = 5000;
/** Text a spreadsheet would run is written behind an apostrophe, and read without it again. */
const LIKE_A_FORMULA = /^'*[=@+\-\t\r]/;
const APOSTROPHE = /^'(?='*[=@+\-\t\r])/;

/** A table of materials as CSV, with units in the header. */
export function materialsToCsv(materials: readonly Material[]): string {
  const rows = materials.map((m) => [
    m.key,
    m.name,
    m.group,
    m.density,
    m.specificHeat,
    m.conductivity,
    m.absorptance,
    m.emittance,
    m.optics?.index ?? "",
    m.optics ? m.optics.extinctionPerM : "",
    m.infraredTransmittance,
    m.limitC ?? "",
    m.expansionPerK,
    m.thicknessM,
    m.unit,
    m.price,
    m.pack,
    m.flags.join(" "),
    m.note,
    m.source,
  ]);
  const escapeFormulae = LIKE_A_FORMULA;
  return `${Papa.unparse({ fields: [...COLUMNS], data: rows }, { newline: "\n", escapeFormulae })}\n`;
}

/** Problems that are named; the rest is counted. */
const MOST_PROBLEMS = 100;

/** Reads a table of materials; bad cells are named, good rows are returned all the same. Semicolons and decimal commas are understood. */
export function materialsFromCsv(text: string): { materials: Material[]; problems: MaterialProblem[] } {
  const long = TOO_LONG.exec(text);
  if (long)
    return { materials: [], problems: [{ kind: "longLine", row: text.slice(0, long.index).split("\n").length - 1 }] };
  const parsed = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ""), {
    header: true,
    skipEmptyLines: "greedy",
    transformHeader: (h) => h.trim(),
    preview: MOST_ROWS + 1,
  });
  if (parsed.data.length > MOST_ROWS) return { materials: [], problems: [{ kind: "manyRows", most: MOST_ROWS }] };
  const fields = parsed.meta.fields ?? [];
  const problems: MaterialProblem[] = COLUMNS.filter(
    (c) => ["key", "name", "group"].includes(c) && !fields.includes(c),
  ).map((column) => ({ kind: "missingColumn", column }));
  if (problems.length) return { materials: [], problems };
  const seen = new Set<string>();
  const materials: Material[] = [];
  let more = 0;
  parsed.data.forEach((cells, i) => {
    const found: MaterialProblem[] = [];
    const m = readRow(cells, i + 1, found, parsed.meta.delimiter !== ",");
    if (seen.has(m.key)) found.push({ kind: "twice", row: i + 1, key: m.key });
    const room = Math.max(0, MOST_PROBLEMS - problems.length);
    problems.push(...found.slice(0, room));
    more += found.length - Math.min(room, found.length);
    if (found.length) return;
    seen.add(m.key);
    materials.push(m);
  });
  return { materials, problems: more ? [...problems, { kind: "more", count: more }] : problems };
}

function readRow(
  cells: Record<string, string>,
  row: number,
  problems: MaterialProblem[],
  decimalComma: boolean,
): Material {
  const text = (column: MaterialColumn) => (cells[column] ?? "").trim().replace(APOSTROPHE, "");
  const number = (
    column: MaterialColumn,
    range: keyof typeof MATERIAL_RANGES,
    fallback: number | null,
  ): number | null => {
    const raw = text(column);
    if (raw === "") {
      if (fallback === null && range !== "limitC" && range !== "index" && range !== "extinctionPerM")
        problems.push({ kind: "empty", row, column });
      return fallback;
    }
    // In a table apart by commas, 1,250 may be a thousand or one and a quarter: that is asked, not guessed.
    const read = parseNumber(raw, decimalComma || undefined);
    const value = read.ok && !read.rest.trim() ? read.value : Number.NaN;
    const [min, max] = MATERIAL_RANGES[range];
    if (Number.isNaN(value)) problems.push({ kind: "notNumber", row, column, value: raw });
    else if (value < min || value > max) problems.push({ kind: "outOfRange", row, column, value, min, max });
    return value;
  };
  const word = <T extends string>(column: MaterialColumn, allowed: readonly T[], fallback: T): T => {
    const value = text(column) || fallback;
    if (!(allowed as readonly string[]).includes(value))
      problems.push({ kind: "unknownWord", row, column, value, allowed });
    return value as T;
  };
  const required = (column: MaterialColumn): string => {
    if (!text(column)) problems.push({ kind: "empty", row, column });
    return text(column).slice(0, 120);
  };
  const flags = text("flags")
    .split(/[\s,;]+/)
    .filter(Boolean);
  for (const f of flags)
    if (!(MATERIAL_FLAGS as readonly string[]).includes(f))
      problems.push({ kind: "unknownWord", row, column: "flags", value: f, allowed: MATERIAL_FLAGS });
  const index = number("refractive_index", "index", null);
  const extinction = number("extinction_1_m", "extinctionPerM", null);
  return {
    key: required("key").slice(0, 60),
    name: required("name"),
    group: word<MaterialGroup>("group", MATERIAL_GROUPS, "sundry"),
    density: number("density_kg_m3", "density", null) ?? 0,
    specificHeat: number("specific_heat_J_kgK", "specificHeat", null) ?? 0,
    conductivity: number("conductivity_W_mK", "conductivity", null) ?? 0,
    absorptance: number("absorptance", "absorptance", null) ?? 0,
    emittance: number("emittance", "emittance", null) ?? 0,
    optics: index === null ? null : { index, extinctionPerM: extinction ?? 0 },
    infraredTransmittance: number("infrared_transmittance", "infraredTransmittance", 0) ?? 0,
    limitC: number("limit_C", "limitC", null),
    expansionPerK: number("expansion_1_K", "expansionPerK", 0) ?? 0,
    thicknessM: number("thickness_m", "thicknessM", null) ?? 0,
    unit: word<MaterialUnit>("unit", MATERIAL_UNITS, "m2"),
    price: number("price", "price", 0) ?? 0,
    pack: number("pack", "pack", 1) ?? 1,
    flags: flags as MaterialFlag[],
    note: text("note").slice(0, 300),
    source: text("source").slice(0, 200) || "typical value",
  };
}
