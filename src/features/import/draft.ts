import { absorberLayer, coverLayers, grossArea } from "@/core/collector/design";
import { lanesOf } from "@/core/experiment/arrange";
import type { QuantityId } from "@/core/quantity/quantities";
import { CHANNEL_KINDS, channelOf, EVERY_LANE } from "@/core/log/channel";
import { fromWall } from "@/core/log/zone";
import type { ColumnUse, LogSettings } from "@/core/log/logData";
import { headerUnit } from "@/core/log/headerUnit";
import type { LogLayout } from "@/core/log/sniff";
import type { ExperimentHead, StoredRun, Site } from "@/core/experiment/types";
import type { Inspection } from "@/services/import/imports";
import { newLane, statedLane, type FlowKind, type LaneDraft } from "./laneDraft";

/** What the wizard holds until the import; survives a reload. */
export interface ImportDraft {
  files: FileDraft[];
  target: number | "new";
  name: string;
  question: string;
  /** null: nobody has said yet; altitude and clock hang on it. */
  siteId: number | "new" | null;
  /** A new one; null is not said yet, as a kept draft writes NaN. */
  site: { name: string; latitude: number | null; longitude: number | null; altitudeM: number | null; zone: string };
  /** null: nobody has said yet. */
  tilt: number | null;
  azimuth: number | null;
  sunMounting: "plane" | "horizontal" | "modelled" | null;
  inletOutside?: boolean;
  /** null: not stated, taken widely. */
  sunLimitShare: number | null;
  ambientLimitK: number | null;
  /** Of the ground before the boxes; null or left out: as the site says of the month. */
  groundReflectance?: number | null;
  /** Snow before the boxes, first and last day; "" is not said yet. Left out: none. */
  snow?: { from: string; until: string };
  note: string;
  lanes: Record<string, LaneDraft>;
  /** Boxes that changed places during the log, as typed on the site's clock: `2026-10-06`, `12:30`. */
  swaps?: SwapDraft[];
  /** Names the import that comes of this draft: pressed twice, it is one run. */
  key: string;
  /** What physics does not allow and the person said is right. */
  accepted: string[];
  /** Where a live run begins; `span`: at a time typed on the logger's clock. */
  liveFrom?: "now" | "first" | "span";
  /** `2026-10-06T09:30`; an empty end goes on. */
  liveSpan?: { from: string; until: string };
  /** The run whose files are read again. */
  again?: { experimentId: number; runId: number; number: number };
}

export interface SwapDraft {
  day: string;
  time: string;
  lanes: [string, string];
}

export interface FileDraft {
  inspection: Inspection;
  /** null when the file could not be understood. */
  settings: LogSettings | null;
  /** As chosen or found; shown even when it led nowhere, so that another can be chosen. */
  delimiter: LogSettings["delimiter"] | null;
  /** The day and month order was in doubt and nobody has said yet. */
  dateOrderAsked: boolean;
  timeHasZone: boolean;
  /** Set by a person: it no longer follows the site. */
  zoneSet: boolean;
  /** Mapped as the last file with these headers was. */
  remembered?: boolean;
  /** Its logger's clock was slow by so much, as the readings say and a person took over. */
  clock?: { offsetMs: number; standardMs: number };
  /** What a device has sent so far; the run looks at the device's stream. */
  live?: LiveSource;
}

export interface LiveSource {
  streamId: number;
  device: string;
  /** First reading there is, and first shown, ms; and the device's clock now. */
  startMs: number | null;
  firstMs: number;
  nowMs: number;
}

/** Also where the page comes over a plain network address, on which browsers give no UUIDs. */
export const newKey = (): string =>
  [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, "0")).join("");

/** A new site's figures; NaN where nobody has said. */
export const siteFigures = ({ site }: ImportDraft) => ({
  ...site,
  latitude: site.latitude ?? NaN,
  longitude: site.longitude ?? NaN,
  altitudeM: site.altitudeM ?? NaN,
});

export function emptyDraft(sites: readonly Site[]): ImportDraft {
  return {
    files: [],
    target: "new",
    name: "",
    question: "",
    siteId: sites.length ? null : "new",
    site: { name: "", latitude: null, longitude: null, altitudeM: null, zone: "" },
    tilt: null,
    azimuth: null,
    sunMounting: null,
    sunLimitShare: null,
    ambientLimitK: null,
    note: "",
    lanes: {},
    key: newKey(),
    accepted: [],
  };
}

/** Settings for a file as first guessed. */
export function settingsFrom(layout: LogLayout, zone: string): LogSettings {
  const { delimiter, decimal, headerRow, firstDataRow, timeColumns, timeFormat, columns } = layout;
  return {
    delimiter,
    decimal,
    headerRow,
    firstDataRow,
    timeColumns,
    zone,
    timeFormat: timeFormat.kind === "elapsed" ? { ...timeFormat, startMs: 0 } : timeFormat,
    columns: columns.map(({ index, header, kind, lane, unit }) => ({
      index,
      header,
      kind,
      lane,
      unit: unit ?? defaultUnit(kind),
    })),
  };
}

/** A degree, a speed and a flow come in units that look alike: the file says which, or a person does. */
const ASKED_UNITS: ReadonlySet<QuantityId> = new Set([
  "temperature",
  "speed",
  "volumeFlow",
  "massFlow",
  "pressure",
  "volume",
  "energy",
]);

const defaultUnit = (kind: ColumnUse["kind"]): string | null =>
  kind && !ASKED_UNITS.has(CHANNEL_KINDS[kind].quantity) ? CHANNEL_KINDS[kind].usualUnit : null;

/** Mapped columns whose unit nobody has said. */
export const unitless = (settings: LogSettings): ColumnUse[] =>
  settings.columns.filter((c) => c.kind && !c.unit && !c.factor && !settings.timeColumns.includes(c.index));

/** A column changed. A unit said of one is that of its like that have none: one logger writes one unit. */
export const withColumn = (columns: readonly ColumnUse[], column: ColumnUse): ColumnUse[] =>
  columns.map((c) => {
    if (c.index === column.index) return column;
    return c.kind === column.kind && !c.unit ? { ...c, unit: column.unit } : c;
  });

/** Every temperature of a file in one unit. */
export const withDegrees = (settings: LogSettings, unit: "°C" | "°F"): LogSettings => ({
  ...settings,
  columns: settings.columns.map((c) =>
    c.kind && CHANNEL_KINDS[c.kind].quantity === "temperature" ? { ...c, unit } : c,
  ),
});

/** A column given another meaning keeps its unit where that fits. */
export function changedColumn(column: ColumnUse, change: Partial<ColumnUse>): ColumnUse {
  const next = { ...column, ...change };
  if (change.kind !== undefined) {
    const same = next.kind && column.kind && CHANNEL_KINDS[next.kind].quantity === CHANNEL_KINDS[column.kind].quantity;
    // A unit that stands in the header is not asked for again.
    next.unit = same ? column.unit : (headerUnit(column.header, next.kind) ?? defaultUnit(next.kind));
    next.factor = same ? column.factor : null;
    if (!next.kind || CHANNEL_KINDS[next.kind].scope === "shared") next.lane = null;
    else if (next.lane === null || (next.lane === EVERY_LANE && !channelOf(next.kind).servesAll)) next.lane = "A";
  }
  return next;
}

export const usedColumns = (draft: ImportDraft): ColumnUse[] =>
  draft.files.flatMap((f) => f.settings?.columns.filter((c) => !f.settings!.timeColumns.includes(c.index)) ?? []);

/** Letters that any mapped column belongs to. */
export function mappedLanes(draft: ImportDraft): string[] {
  return [
    ...new Set(
      usedColumns(draft).flatMap((c) =>
        c.kind && CHANNEL_KINDS[c.kind].scope === "lane" && c.lane && c.lane !== EVERY_LANE ? [c.lane] : [],
      ),
    ),
  ].sort();
}

export function flowKind(draft: ImportDraft, lane: string): FlowKind {
  const kinds = new Set(
    usedColumns(draft)
      .filter((c) => c.lane === lane)
      .map((c) => c.kind),
  );
  if (kinds.has("speed")) return "speed";
  if (kinds.has("massFlow")) return "mass";
  if (kinds.has("volumeFlow") || kinds.has("volumeCounter")) return "volume";
  return kinds.has("tank") && (draft.lanes[lane]?.heatBy === "tank" || !bothEnds(draft, lane)) ? "tank" : "constant";
}

/** A column for what goes into a lane and one for what comes out. */
const bothEnds = (draft: ImportDraft, lane: string): boolean =>
  (["inlet", "outlet"] as const).every((end) =>
    usedColumns(draft).some((c) => c.kind === end && (c.lane === lane || c.lane === EVERY_LANE)),
  );

/** A tank and both ends were logged and no flow: heat may be counted by either. */
export const tankOrFlow = (draft: ImportDraft, lane: string): boolean =>
  ["constant", "tank"].includes(flowKind(draft, lane)) &&
  bothEnds(draft, lane) &&
  usedColumns(draft).some((c) => c.lane === lane && c.kind === "tank");

/** Letters whose design is known already: built lanes, and drawn variants that this import builds. */
export const knownLetters = (head: ExperimentHead | undefined): string[] =>
  head ? [...new Set([...head.lanes, ...head.drawn].map((l) => l.letter))] : [];

/** Takes lanes, stations and instruments over from an experiment's last run. */
export function lanesFromRun(head: ExperimentHead, run: StoredRun | undefined): Record<string, LaneDraft> {
  const drawn = head.drawn
    .filter((d) => !head.lanes.some((l) => l.letter === d.letter))
    .map((d) => ({ ...d, asBuilt: null }));
  const stated = run ? lanesOf(run) : [];
  return Object.fromEntries(
    [...head.lanes, ...drawn].map((l, i) => {
      const stored = stated.find((r) => r.letter === l.letter);
      const base = newLane(l.letter, stored?.station ?? i + 1);
      const twin = head.lanes.find((o) => o.variantId === l.variantId && o.letter < l.letter);
      const lane: LaneDraft = {
        ...base,
        name: l.variant,
        copyOf: twin?.letter ?? null,
        absorber: absorberLayer(l.design)?.form ?? "flat",
        covers: coverLayers(l.design).length,
        fluid: l.design.fluid,
        grossAreaM2: l.asBuilt?.grossAreaM2 ?? grossArea(l.design),
      };
      if (!stored) return [l.letter, lane];
      return [l.letter, { ...lane, ...statedLane(stored.setup, run!.setup.assumed) }];
    }),
  );
}

/** The zone of the first file's clock. */
export const clockOf = ({ files }: ImportDraft): string => files[0]?.settings?.zone ?? "UTC";

/** The instant of a swap on the log's clock; null when it is no time. */
export function swapInstant({ day, time }: SwapDraft, zone: string): number | null {
  const wall = /^\d\d:\d\d$/.test(time) ? Date.parse(`${day}T${time}:00Z`) : NaN;
  if (Number.isNaN(wall)) return null;
  const local = fromWall(wall, zone);
  if (local.kind === "skipped") return null;
  return local.kind === "single" ? local.utcMs : local.utcMs[0];
}

export const liveSources = ({ files }: ImportDraft): LiveSource[] => files.flatMap((f) => f.live ?? []);

/** An instant as a field gives it, `2026-10-06T09:30`, on a clock; null when it is no time there. */
export function instantOf(text: string, zone: string): number | null {
  const [day, time = ""] = text.split("T");
  return swapInstant({ day, time: time.slice(0, 5), lanes: ["", ""] }, zone);
}

/** Where a live run begins and ends, ms; null where it goes on, or for logs of the past. NaN: typed, and no time. */
export function liveSpanMs(draft: ImportDraft): { liveFromMs: number | null; liveUntilMs: number | null } {
  const live = liveSources(draft);
  if (!live.length) return { liveFromMs: null, liveUntilMs: null };
  if (draft.liveFrom === "span") {
    const { from, until } = draft.liveSpan ?? { from: "", until: "" };
    const instant = (text: string) => instantOf(text, clockOf(draft)) ?? NaN;
    return { liveFromMs: instant(from), liveUntilMs: until ? instant(until) : null };
  }
  const first = draft.liveFrom === "first";
  return {
    liveFromMs: first ? Math.min(...live.map((l) => l.firstMs)) : Math.max(...live.map((l) => l.nowMs)),
    liveUntilMs: null,
  };
}

/** One inlet column serves every lane and no outside one is there: whether it is outside air is worth asking. */
export const oneInlet = (draft: ImportDraft): boolean =>
  usedColumns(draft).some((c) => c.kind === "inlet" && c.lane === EVERY_LANE) &&
  !usedColumns(draft).some((c) => c.kind === "ambient");
