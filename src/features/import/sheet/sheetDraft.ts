import type { HandRow } from "@/core/analysis/handReading";
import type { ExperimentHead } from "@/core/experiment/types";
import { CHANNEL_KINDS, type ChannelKind } from "@/core/log/channel";
import type { ColumnUse, LogSettings } from "@/core/log/logData";
import { fromWall } from "@/core/log/zone";
import { parseQuantity } from "@/core/quantity/parseQuantity";
import type { QuantityId } from "@/core/quantity/quantities";
import type { ImportRequest } from "@/services/import/importRequest";
import { SHEET } from "@/words/sheet";
import { parsedProblem } from "@/words/quantity";
import type { FileDraft, ImportDraft } from "../draft";
import { buildRequest } from "../request";
import { draftNotes, type DraftNote } from "../draftNotes";

/** What stands in the rows as the flow, or that it is one figure for all of them. */
export const SHEET_FLOWS = ["speed", "volume", "constant"] as const;
export type SheetFlow = (typeof SHEET_FLOWS)[number];

/** One row as typed; nothing typed is ever lost. */
export interface SheetRow {
  id: number;
  time: string;
  lane: string;
  inlet: string;
  outlet: string;
  flow: string;
  sun: string;
  outside: string;
}
export type SheetCell = Exclude<keyof SheetRow, "id">;
/** In the order of the sheet, of a pasted table and of the file. */
export const SHEET_CELLS: readonly SheetCell[] = ["time", "lane", "inlet", "outlet", "flow", "sun", "outside"];

/** A sheet being filled in; survives a reload. */
export interface SheetDraft {
  /** Where it belongs and what its lanes are, as for any import. */
  base: ImportDraft;
  /** Letters of the lanes that are read. */
  lanes: string[];
  /** `2026-11-26`, on the site's clock. */
  date: string;
  flow: SheetFlow | null;
  /** What is meant where a cell names no unit; null: nobody has said. */
  degrees: "°C" | "°F" | null;
  flowUnit: string | null;
  /** One thermometer carried, one at each end of every box, or each its own. */
  thermometers: "one" | "ends" | "each" | null;
  /** One flow meter carried from box to box, or each its own. */
  meter: "one" | "each" | null;
  /** Sun and outside have their cells too. */
  more: boolean;
  rows: SheetRow[];
}

/** The file's own column of a flow, and its units to choose from. */
export const FLOW_COLUMN = {
  speed: { kind: "speed", quantity: "speed", si: "m/s", units: ["m/s", "ft/min", "km/h"] },
  volume: { kind: "volumeFlow", quantity: "volumeFlow", si: "m³/s", units: ["m³/h", "L/min", "ft³/min", "gal/min"] },
} as const satisfies Record<
  Exclude<SheetFlow, "constant">,
  { kind: ChannelKind; quantity: QuantityId; si: string; units: readonly string[] }
>;

export const emptyRow = (id: number, lane: string, time: string): SheetRow => ({
  id,
  time,
  lane,
  inlet: "",
  outlet: "",
  flow: "",
  sun: "",
  outside: "",
});

/** `13:05`, `1305`, `1.05 pm`, to the second: minutes after midnight. null when it is no time of day. */
export function minutesOfDay(text: string): number | null {
  const match = /^(\d{1,2})(?:[:.h]?(\d{2}))(?::(\d{2}))?\s*([ap])?\.?m?\.?$/i.exec(text.trim());
  if (!match) return null;
  const [, h, m, s = "0", half] = match;
  const twelve = half !== undefined;
  if (twelve && (Number(h) < 1 || Number(h) > 12)) return null;
  const hours = twelve ? (Number(h) % 12) + (half.toLowerCase() === "p" ? 12 : 0) : Number(h);
  if (hours > 23 || Number(m) > 59 || Number(s) > 59) return null;
  return hours * 60 + Number(m) + Number(s) / 60;
}

/** Written without a leading zero and without am or pm, an hour of the night: on a twelve-hour clock it is the afternoon. */
const HALF_OPEN = /^[1-4][:.h]?\d{2}(?::\d{2})?$/;

/** A row understood, with what is wrong in its cells. */
export interface ReadRow {
  id: number;
  values: HandRow | null;
  problems: Partial<Record<SheetCell, string>>;
}

/** Cells to SI. Empty rows are no rows; a cell that cannot be read says why, and its row gives nothing until it is mended. */
export function readRow(row: SheetRow, draft: SheetDraft, zone: string): ReadRow {
  const problems: ReadRow["problems"] = {};
  const cell = (name: SheetCell, quantity: QuantityId, unit: string | null, needed: boolean): number => {
    const text = row[name].trim();
    if (!text) {
      if (needed) problems[name] = SHEET.needed;
      return NaN;
    }
    const parsed = parseQuantity(text, quantity, { defaultUnit: unit ?? "metric" });
    if (!parsed.ok) {
      problems[name] = parsedProblem(parsed)!;
      return NaN;
    }
    // A number without its unit while nobody has said which is meant.
    if (unit === null && /^[\d.,\s+\-−]+$/.test(text)) return NaN;
    const metered = draft.flow === null || draft.flow === "constant" ? undefined : FLOW_COLUMN[draft.flow].kind;
    const [low, high] = CHANNEL_KINDS[(name === "flow" ? metered : KIND[name]) ?? "outlet"].range;
    if (parsed.si < low || parsed.si > high) problems[name] = SHEET.impossible(text);
    return parsed.si;
  };
  const minutes = minutesOfDay(row.time);
  // One in the night or one at noon: nobody reads a box in the dark without saying so.
  if (minutes !== null && HALF_OPEN.test(row.time.trim())) problems.time = SHEET.whichHalf(row.time.trim());
  if (minutes === null) problems.time = row.time.trim() ? SHEET.noTime(row.time.trim()) : SHEET.needed;
  const lane = row.lane.trim().toUpperCase();
  if (!draft.lanes.includes(lane)) problems.lane = SHEET.noLane(lane, draft.lanes);
  const inletC = cell("inlet", "temperature", draft.degrees, true);
  const outletC = cell("outlet", "temperature", draft.degrees, true);
  const flow =
    draft.flow === null || draft.flow === "constant"
      ? (draft.base.lanes[lane]?.stated ?? NaN)
      : cell("flow", FLOW_COLUMN[draft.flow].quantity, draft.flowUnit, true);
  const irradianceWm2 = cell("sun", "irradiance", "W/m²", false);
  const ambientC = cell("outside", "temperature", draft.degrees, false);
  const atMs = minutes === null ? null : instantOf(draft.date, minutes, zone);
  if (minutes !== null && atMs === null) problems.time = SHEET.skipped;
  const sound = Object.keys(problems).length === 0 && atMs !== null && draft.degrees !== null;
  return {
    id: row.id,
    problems,
    values: sound ? { atMs, lane, inletC, outletC, flow, irradianceWm2, ambientC } : null,
  };
}

const KIND: Partial<Record<SheetCell, ChannelKind>> = {
  inlet: "inlet",
  outlet: "outlet",
  sun: "irradiance",
  outside: "ambient",
};

/** The instant of a time of day; in the hour that clocks show twice the first. null when the clock skipped it or the date is none. */
export function instantOf(date: string, minutes: number, zone: string): number | null {
  const midnight = Date.parse(`${date}T00:00:00Z`);
  if (Number.isNaN(midnight)) return null;
  const local = fromWall(midnight + Math.round(minutes * 60) * 1000, zone);
  if (local.kind === "skipped") return null;
  return local.kind === "single" ? local.utcMs : local.utcMs[0];
}

/** Whether sun and outside are shown: as chosen, or because a pasted row holds them. */
export const showsMore = ({ more, rows }: SheetDraft): boolean =>
  more || rows.some((r) => r.sun.trim() || r.outside.trim());

export const isBlank = (row: SheetRow): boolean =>
  SHEET_CELLS.every((c) => c === "lane" || c === "time" || !row[c].trim());

/** The step of a thermometer's display, K: the finest that was typed. */
export function displayStep(rows: readonly SheetRow[], degrees: SheetDraft["degrees"]): number {
  const decimals = rows
    .flatMap((r) => [r.inlet, r.outlet])
    .map((t) => /[.,](\d+)/.exec(t)?.[1].length ?? 0)
    .reduce((a, b) => Math.max(a, b), 0);
  return 10 ** -Math.min(3, decimals) * (degrees === "°F" ? 5 / 9 : 1);
}

/** Between cells of a pasted line: tab, semicolon, bar or wide space; else commas, unless there are more of them than cells, as in 18,2. */
function cellsOf(line: string): string[] {
  const wide = line.split(/\t|;|\||\s{2,}|,\s+/);
  if (wide.length > 1) return wide;
  const commas = line.split(",");
  return commas.length <= SHEET_CELLS.length ? commas : wide;
}

/** Several rows, or one with several cells: more than belongs into one cell. */
export const isTable = (text: string): boolean => /[\n\t;|]/.test(text.trim()) || text.trim().split(",").length > 3;

/** A pasted table as rows, its cells in the order of the sheet; a first line of words is left out. */
export function pastedRows(text: string, firstId: number): SheetRow[] {
  const lines = text
    .split(/\r?\n/)
    .map((l) => l.trim())
    .filter(Boolean)
    .map((l) => cellsOf(l).map((c) => c.trim().replace(/^"(.*)"$/, "$1")));
  const body = lines.filter((cells, i) => i > 0 || minutesOfDay(cells[0]) !== null);
  return body.map((cells, i) => ({
    ...emptyRow(firstId + i, "", ""),
    ...Object.fromEntries(SHEET_CELLS.map((c, k) => [c, cells[k] ?? ""])),
    lane: (cells[1] ?? "").toUpperCase(),
  }));
}

/** Columns of the file a sheet becomes: its time, three of each lane, sun and outside where any row has them, and what was typed. */
function columnsOf(draft: SheetDraft): ColumnUse[] {
  // Until it is said how the flow is known, no fault is found with it.
  const flow = draft.flow ?? "volume";
  const column = (header: string, kind: ChannelKind | null, lane: string | null, unit: string | null) => ({
    header,
    kind,
    lane,
    unit,
  });
  const metered = flow === "constant" ? null : FLOW_COLUMN[flow];
  const any = (cell: SheetCell) => draft.rows.some((r) => r[cell].trim());
  return [
    column("time", null, null, null),
    ...draft.lanes.flatMap((l) => [
      column(`${l} in (°C)`, "inlet", l, "°C"),
      column(`${l} out (°C)`, "outlet", l, "°C"),
      ...(metered ? [column(`${l} flow (${metered.si})`, metered.kind, l, metered.si)] : []),
    ]),
    ...(any("sun") ? [column("sun (W/m²)", "irradiance", null, "W/m²")] : []),
    ...(any("outside") ? [column("outside (°C)", "ambient", null, "°C")] : []),
    column("as typed", null, null, null),
  ].map((c, index) => ({ index, ...c }));
}

/** The sheet as an import's draft: a file that is written when it is kept. */
export function asImport(draft: SheetDraft, zone: string, fileId = 0): ImportDraft {
  const settings: LogSettings = {
    delimiter: ",",
    decimal: ".",
    headerRow: 0,
    firstDataRow: 1,
    timeColumns: [0],
    timeFormat: { kind: "calendar", order: "ymd" },
    zone,
    columns: columnsOf(draft),
    answers: draft.base.files[0]?.settings?.answers,
  };
  const file: FileDraft = {
    inspection: {
      file: { id: fileId, name: SHEET.file(draft.date), bytes: 0, sha256: "" },
      encoding: "utf-8",
      layout: null,
      problem: null,
      rows: [],
      sample: [],
      alreadyIn: [],
    },
    settings,
    delimiter: ",",
    dateOrderAsked: false,
    timeHasZone: false,
    zoneSet: true,
  };
  return { ...draft.base, files: [file] };
}

/** The file: one row a reading, in order of time. Readings of one minute follow each other by a second. */
export function sheetFile(draft: SheetDraft, zone: string): string {
  const columns = columnsOf(draft);
  const rows = draft.rows
    .flatMap((row) => {
      const { values } = readRow(row, draft, zone);
      return values ? [{ row, values, minutes: minutesOfDay(row.time)! }] : [];
    })
    .sort((a, b) => a.values.atMs - b.values.atMs);
  let last = -1;
  const lines = rows.map(({ row, values, minutes }) => {
    last = Math.max(Math.round(minutes * 60), last + 1);
    const clock = new Date(Date.parse(`${draft.date}T00:00:00Z`) + last * 1000).toISOString().slice(0, 19);
    const by: Partial<Record<ChannelKind, number>> = {
      inlet: values.inletC,
      outlet: values.outletC,
      speed: values.flow,
      volumeFlow: values.flow,
      irradiance: values.irradianceWm2,
      ambient: values.ambientC,
    };
    const typed = SHEET_CELLS.map((c) => row[c].trim()).join(" | ");
    return columns.map(({ header, kind, lane }) => {
      if (header === "time") return clock.replace("T", " ");
      if (!kind) return `"${typed.replace(/"/g, "'")}"`;
      const value = lane === null || lane === values.lane ? by[kind]! : NaN;
      return Number.isNaN(value) ? "" : String(Number(value.toPrecision(9)));
    });
  });
  return [columns.map((c) => c.header), ...lines].map((cells) => cells.join(",")).join("\n") + "\n";
}

/** What the server is asked: an import as any, of a run read by hand. */
export function sheetRequest(
  draft: SheetDraft,
  heads: readonly ExperimentHead[],
  zone: string,
  fileId: number,
): ImportRequest {
  const request = buildRequest(asImport(draft, zone, fileId), heads);
  const resolutionK = displayStep(draft.rows, draft.degrees);
  const { thermometers, meter } = draft;
  const probeKey = (own: string, end: "in" | "out"): string => {
    if (thermometers === "one") return "thermometer";
    return thermometers === "ends" ? `thermometer-${end}` : own;
  };
  const { run } = request;
  return {
    ...request,
    run: {
      ...run,
      setup: { ...run.setup, byHand: true },
      lanes: run.lanes.map((lane) => ({
        ...lane,
        setup: {
          ...lane.setup,
          inletProbe: { ...lane.setup.inletProbe, key: probeKey(lane.setup.inletProbe.key, "in"), resolutionK },
          outletProbe: { ...lane.setup.outletProbe, key: probeKey(lane.setup.outletProbe.key, "out"), resolutionK },
          flow:
            meter === "one" && draft.flow !== "constant"
              ? { ...lane.setup.flow, meter: { ...lane.setup.flow.meter, key: "carried" } }
              : lane.setup.flow,
        },
      })),
    },
  };
}

/** What is still to be said before a sheet can be kept, in the order of the page. */
export function sheetNotes(draft: SheetDraft, heads: readonly ExperimentHead[], zone: string): DraftNote[] {
  const block = (text: string): DraftNote => ({ blocking: true, text });
  const rows = draft.rows.filter((r) => !isBlank(r));
  const bad = rows.filter((r) => Object.keys(readRow(r, draft, zone).problems).length > 0);
  return [
    ...(draft.degrees === null ? [block(SHEET.sayDegrees)] : []),
    ...(draft.flow === null ? [block(SHEET.sayFlow)] : []),
    ...(draft.flow !== null && draft.flow !== "constant" && draft.flowUnit === null ? [block(SHEET.sayFlowUnit)] : []),
    ...(draft.thermometers === null ? [block(SHEET.sayThermometers)] : []),
    ...(draft.flow !== "constant" && draft.lanes.length > 1 && draft.meter === null ? [block(SHEET.sayMeter)] : []),
    ...(rows.length === 0 ? [block(SHEET.noRows)] : []),
    ...(bad.length ? [block(SHEET.badRows(bad.length))] : []),
    ...draftNotes(asImport(draft, zone), heads).filter((n) => n.blocking),
  ];
}
