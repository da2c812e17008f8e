import { absorberLayer, coverLayers, grossArea, type Design } from "@/core/collector/design";
import { lanesOf } from "@/core/experiment/arrange";
import { designFromOutline } from "@/core/collector/outline";
import { ASSUMABLE, type Assumed } from "@/core/analysis/setup";
import { sameFluid } from "@/core/fluids/fluid";
import type { QuantityId } from "@/core/quantity/quantities";
import { CHANNEL_KINDS, channelOf, EVERY_LANE } from "@/core/log/channel";
import { fromWall } from "@/core/log/zone";
import type { ColumnUse, LogSettings } from "@/core/log/logData";
import type { LogLayout } from "@/core/log/sniff";
import { standardSettings } from "@/core/experiment/standardSettings";
import type { ExperimentHead, StoredRun, Site } from "@/core/experiment/types";
import type { StoredLaneSetup } from "@/core/experiment/schema/run";
import type { Inspection } from "@/services/import/imports";
import type { ImportRequest } from "@/services/import/importRequest";
import { flowOf, newLane, statedLane, WIDE, type FlowKind, type LaneDraft } from "./laneDraft";

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
    next.unit = same ? column.unit : defaultUnit(next.kind);
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
  return kinds.has("volumeFlow") || kinds.has("volumeCounter") ? "volume" : "constant";
}

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

/** The instant of a swap on the log's clock; null when it is no time. */
export function swapInstant({ day, time }: SwapDraft, zone: string): number | null {
  const wall = /^\d\d:\d\d$/.test(time) ? Date.parse(`${day}T${time}:00Z`) : NaN;
  if (Number.isNaN(wall)) return null;
  const local = fromWall(wall, zone);
  if (local.kind === "skipped") return null;
  return local.kind === "single" ? local.utcMs : local.utcMs[0];
}

const fileRequest = ({ inspection, settings, clock, live }: FileDraft): ImportRequest["files"] =>
  settings ? [{ fileId: inspection.file.id, settings, clock, live: live && { streamId: live.streamId } }] : [];

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
    const zone = draft.files[0].settings?.zone ?? "UTC";
    const { from, until } = draft.liveSpan ?? { from: "", until: "" };
    return { liveFromMs: instantOf(from, zone) ?? NaN, liveUntilMs: until ? (instantOf(until, zone) ?? NaN) : null };
  }
  const first = draft.liveFrom === "first";
  return {
    liveFromMs: first ? Math.min(...live.map((l) => l.firstMs)) : Math.max(...live.map((l) => l.nowMs)),
    liveUntilMs: null,
  };
}

/** The request the server gets. Instruments stay with their place on the bench, so a swap of lanes swaps them too. */
export function buildRequest(draft: ImportDraft, heads: readonly ExperimentHead[]): ImportRequest {
  const letters = mappedLanes(draft);
  const existing = draft.target === "new" ? undefined : heads.find((h) => h.id === draft.target);
  const fresh = letters.filter((l) => !knownLetters(existing).includes(l));
  return {
    target: existing
      ? { kind: "existing", experimentId: existing.id }
      : {
          kind: "new",
          name: draft.name.trim(),
          question: draft.question.trim(),
          site:
            draft.siteId === "new"
              ? { kind: "new", ...siteFigures(draft), name: draft.site.name.trim() }
              : { kind: "known", id: draft.siteId ?? 0 },
          settings: standardSettings(draft.lanes[letters[0]]?.fluid.kind ?? "air"),
        },
    newLanes: fresh.map((letter) => {
      const lane = draft.lanes[letter];
      const original = lane.copyOf && fresh.includes(lane.copyOf) ? draft.lanes[lane.copyOf] : lane;
      const grossAreaM2 = original.grossAreaM2 ?? NaN;
      return {
        letter,
        variantKey: original === lane ? letter : lane.copyOf!,
        variantName: original.name.trim(),
        design: designFromOutline({ ...original, grossAreaM2 }),
        asBuilt: { grossAreaM2 },
      };
    }),
    run: {
      note: draft.note.trim(),
      setup: {
        plane: { tilt: draft.tilt ?? NaN, azimuth: draft.azimuth ?? NaN },
        sunSensor: {
          key: "sun",
          limitShare: draft.sunLimitShare ?? WIDE.sunShare,
          mounting: draft.sunMounting ?? "plane",
        },
        groundReflectance: draft.sunMounting === "horizontal" ? (draft.groundReflectance ?? null) : null,
        ...outsideProbe(draft, letters),
        pressurePa: null,
        relativeHumidity: 0.5,
        assumed: assumedOf(draft, letters),
      },
      lanes: letters.map((letter) => ({
        letter,
        station: draft.lanes[letter].station,
        setup: laneSetup(draft, letter, [...(existing?.lanes ?? []), ...(existing?.drawn ?? [])]),
      })),
      swaps: (draft.swaps ?? []).map((s) => ({
        atMs: swapInstant(s, draft.files[0]?.settings?.zone ?? "UTC") ?? NaN,
        lanes: s.lanes,
      })),
    },
    files: draft.files.flatMap(fileRequest),
    ...liveSpanMs(draft),
    key: draft.key,
    accepted: draft.accepted,
  };
}

/** One inlet column serves every lane and no outside one is there: whether it is outside air is worth asking. */
export const oneInlet = (draft: ImportDraft): boolean =>
  usedColumns(draft).some((c) => c.kind === "inlet" && c.lane === EVERY_LANE) &&
  !usedColumns(draft).some((c) => c.kind === "ambient");

/** The outside probe; where the inlets' one is it too, it is off by the same there. */
function outsideProbe(draft: ImportDraft, [first]: readonly string[]) {
  const inletOutside = Boolean(draft.inletOutside) && oneInlet(draft);
  const [key, stated] = inletOutside ? ["all-in", draft.lanes[first]?.probeLimitK] : ["ambient", draft.ambientLimitK];
  return { ambientProbe: { key, limitK: stated ?? WIDE.outsideK, resolutionK: 0.1 }, inletOutside };
}

function laneSetup(
  draft: ImportDraft,
  letter: string,
  known: readonly { letter: string; design: Design }[],
): StoredLaneSetup {
  const lane = draft.lanes[letter];
  const drawn = known.find((k) => k.letter === letter)?.design.fluid;
  const shared = (kind: ColumnUse["kind"]) =>
    usedColumns(draft).some((c) => c.kind === kind && c.lane === EVERY_LANE) &&
    !usedColumns(draft).some((c) => c.kind === kind && c.lane === letter);
  const probe = (end: "in" | "out", kind: ColumnUse["kind"]) => ({
    // One probe that serves every lane is off by the same in all of them.
    key: shared(kind) ? `all-${end}` : `${lane.station}-${end}`,
    limitK: lane.probeLimitK ?? WIDE.probeK,
    resolutionK: 0.1,
  });
  return {
    // A new lane is drawn with its fluid; a known one may hold another this time.
    fluid: drawn && !sameFluid(drawn, lane.fluid) ? lane.fluid : null,
    areaLimitShare: lane.areaLimitShare ?? WIDE.areaShare,
    inletProbe: probe("in", "inlet"),
    outletProbe: probe("out", "outlet"),
    flow: flowOf(lane, flowKind(draft, letter)),
    fanShare: lane.fanShare,
    fanPowerW: lane.fanPowerW,
    timeConstantS: lane.timeConstantS,
    b0: lane.b0,
    b0Across: lane.b0Across,
    b0Limit: lane.b0Limit ?? WIDE.b0,
  };
}

/** What nobody stated and is therefore taken widely. */
function assumedOf(draft: ImportDraft, letters: readonly string[]): Assumed[] {
  const lanes = letters.map((l) => ({ lane: draft.lanes[l], flow: flowKind(draft, l) }));
  const bySpeed = lanes.filter(
    ({ lane, flow }) => flow === "speed" || (flow === "constant" && lane.statedAs === "speed"),
  );
  const sun = usedColumns(draft).some((c) => c.kind === "irradiance");
  const outside = usedColumns(draft).some((c) => c.kind === "ambient");
  const left: Record<Assumed, boolean> = {
    probes: lanes.some(({ lane }) => lane.probeLimitK === null),
    flowMeter: lanes.some(({ lane }) => lane.meterLimitShare === null),
    profile: bySpeed.some(({ lane }) => lane.profileFactor === null),
    duct: bySpeed.some(({ lane }) => lane.ductLimitM === null),
    sunSensor: sun && draft.sunLimitShare === null,
    outside: outside && draft.ambientLimitK === null,
    area: lanes.some(({ lane }) => lane.areaLimitShare === null),
  };
  return ASSUMABLE.filter((what) => left[what]);
}
