import { absorberLayer, coverLayers, grossArea, type Design } from "@/core/collector/design";
import type { AbsorberForm } from "@/core/collector/form/list";
import { lanesOf } from "@/core/experiment/arrange";
import { designFromOutline } from "@/core/collector/outline";
import { sameFluid, type Fluid } from "@/core/fluids/fluid";
import { CHANNEL_KINDS } from "@/core/log/channel";
import type { ColumnUse, LogSettings } from "@/core/log/readLog";
import type { LogLayout } from "@/core/log/sniff";
import { CLEAR_GLASS, incidenceCoefficient } from "@/core/optics/covers";
import { standardSettings } from "@/core/experiment/schema/settings";
import type { ExperimentHead, StoredRun } from "@/core/experiment/types";
import type { Site } from "@/core/experiment/types";
import type { StoredLaneSetup } from "@/core/experiment/schema/run";
import type { Inspection } from "@/services/imports";
import type { ImportRequest } from "@/services/importRequest";
import { DRAFT_NOTES as N } from "@/words/importing";

/** What the wizard holds until the import; survives a reload. */
export interface ImportDraft {
  files: FileDraft[];
  target: number | "new";
  name: string;
  question: string;
  siteId: number | "new";
  site: { name: string; latitude: number; longitude: number; altitudeM: number; zone: string };
  tilt: number;
  azimuth: number;
  sunMounting: "plane" | "horizontal" | "modelled";
  sunLimitShare: number;
  ambientLimitK: number;
  note: string;
  lanes: Record<string, LaneDraft>;
  /** Names the import that comes of this draft: pressed twice, it is one run. */
  key: string;
  /** What physics does not allow and the person said is right. */
  accepted: string[];
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
}

export interface LaneDraft {
  name: string;
  /** Letter of the lane it is a copy of. */
  copyOf: string | null;
  absorber: AbsorberForm;
  covers: number;
  /** What the box held in this run; as drawn unless said otherwise. */
  fluid: Fluid;
  grossAreaM2: number;
  station: number;
  ductKind: "round" | "rectangular";
  diameterM: number;
  widthM: number;
  heightM: number;
  profileFactor: number;
  profileLimit: number;
  meterAt: "inlet" | "outlet";
  meterLimitShare: number;
  probeLimitK: number;
  timeConstantS: number;
  /** Used when no flow column is mapped, kg/s. */
  massFlowKgPerS: number;
}

export const newLane = (letter: string, station: number): LaneDraft => ({
  name: `Collector ${letter}`,
  copyOf: null,
  absorber: "flat",
  covers: 1,
  fluid: { kind: "air" },
  grossAreaM2: 2,
  station,
  ductKind: "round",
  diameterM: 0.125,
  widthM: 0.2,
  heightM: 0.1,
  profileFactor: 0.86,
  profileLimit: 0.04,
  meterAt: "outlet",
  meterLimitShare: 0.05,
  probeLimitK: 0.5,
  timeConstantS: 300,
  massFlowKgPerS: 0.04,
});

/** Also where the page comes over a plain network address, on which browsers give no UUIDs. */
export const newKey = (): string =>
  [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, "0")).join("");

export function emptyDraft(sites: readonly Site[], zone: string): ImportDraft {
  return {
    files: [],
    target: "new",
    name: "",
    question: "",
    siteId: sites[0]?.id ?? "new",
    site: { name: "", latitude: 47, longitude: 9, altitudeM: 400, zone },
    tilt: 55,
    azimuth: 180,
    sunMounting: "plane",
    sunLimitShare: 0.05,
    ambientLimitK: 0.5,
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

const defaultUnit = (kind: ColumnUse["kind"]): string | null => (kind ? CHANNEL_KINDS[kind].usualUnit : null);

/** A column given another meaning keeps its unit where that fits. */
export function changedColumn(column: ColumnUse, change: Partial<ColumnUse>): ColumnUse {
  const next = { ...column, ...change };
  if (change.kind !== undefined) {
    next.unit = defaultUnit(next.kind);
    if (!next.kind || CHANNEL_KINDS[next.kind].scope === "shared") next.lane = null;
    else next.lane ??= "A";
  }
  return next;
}

const usedColumns = (draft: ImportDraft): ColumnUse[] =>
  draft.files.flatMap((f) => f.settings?.columns.filter((c) => !f.settings!.timeColumns.includes(c.index)) ?? []);

/** Letters that any mapped column belongs to. */
export function mappedLanes(draft: ImportDraft): string[] {
  return [
    ...new Set(
      usedColumns(draft).flatMap((c) => (c.kind && CHANNEL_KINDS[c.kind].scope === "lane" && c.lane ? [c.lane] : [])),
    ),
  ].sort();
}

export function flowKind(draft: ImportDraft, lane: string): "speed" | "volume" | "mass" | "constant" {
  const kinds = new Set(
    usedColumns(draft)
      .filter((c) => c.lane === lane)
      .map((c) => c.kind),
  );
  return kinds.has("speed")
    ? "speed"
    : kinds.has("massFlow")
      ? "mass"
      : kinds.has("volumeFlow")
        ? "volume"
        : "constant";
}

export interface DraftNote {
  /** Blocking notes must be mended before the import. */
  blocking: boolean;
  text: string;
}

/** What is missing or contradicts itself, in the order of the page. */
export function draftNotes(draft: ImportDraft, heads: readonly ExperimentHead[]): DraftNote[] {
  const notes: DraftNote[] = [];
  const block = (text: string) => notes.push({ blocking: true, text });
  const hint = (text: string) => notes.push({ blocking: false, text });
  if (draft.files.length === 0) block(N.noFile);
  for (const f of draft.files) {
    const { name } = f.inspection.file;
    if (!f.settings) block(N.unreadable(name));
    else if (f.dateOrderAsked) block(N.dateOrder(name));
    else if (f.settings.timeFormat.kind === "elapsed" && !(f.settings.timeFormat.startMs > 0)) block(N.timeZero(name));
    const seen = new Set<string>();
    for (const c of f.settings?.columns ?? []) {
      if (!c.kind || f.settings!.timeColumns.includes(c.index)) continue;
      const key = `${c.kind} ${c.lane ?? ""}`;
      if (seen.has(key)) block(N.twice(name, c.kind, c.lane));
      seen.add(key);
    }
  }
  const lanes = mappedLanes(draft);
  if (draft.files.length > 0 && lanes.length === 0) block(N.noLane);
  const kinds = usedColumns(draft);
  for (const lane of lanes) {
    for (const kind of ["inlet", "outlet"] as const)
      if (!kinds.some((c) => c.kind === kind && c.lane === lane)) hint(N.noEnd(lane, kind));
    if (
      draft.target !== "new" &&
      !knownLetters(heads.find((h) => h.id === draft.target)).includes(lane) &&
      !draft.lanes[lane]?.name.trim()
    )
      block(N.nameLane(lane));
  }
  if (lanes.length > 0) {
    if (!kinds.some((c) => c.kind === "irradiance")) hint(draft.sunMounting === "modelled" ? N.modelledSun : N.noSun);
    if (!kinds.some((c) => c.kind === "ambient")) hint(N.noAmbient);
  }
  if (draft.target === "new") {
    if (!draft.name.trim()) block(N.nameExperiment);
    if (draft.siteId === "new" && !draft.site.name.trim()) block(N.nameSite);
  }
  return notes;
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
      const { flow, inletProbe, timeConstantS, fluid } = stored.setup;
      return [
        l.letter,
        {
          ...lane,
          fluid: fluid ?? lane.fluid,
          timeConstantS,
          probeLimitK: inletProbe.limitK,
          meterAt: flow.meter.at,
          meterLimitShare: flow.meter.limitShare,
          ...(flow.kind === "speed"
            ? {
                ductKind: flow.duct.kind,
                profileFactor: flow.profileFactor,
                profileLimit: flow.profileLimit,
                ...(flow.duct.kind === "round"
                  ? { diameterM: flow.duct.diameterM }
                  : { widthM: flow.duct.widthM, heightM: flow.duct.heightM }),
              }
            : {}),
          ...(flow.kind === "constant" ? { massFlowKgPerS: flow.massFlowKgPerS } : {}),
        },
      ];
    }),
  );
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
              ? { kind: "new", ...draft.site, name: draft.site.name.trim() }
              : { kind: "known", id: draft.siteId },
          settings: standardSettings(draft.lanes[letters[0]]?.fluid.kind ?? "air"),
        },
    newLanes: fresh.map((letter) => {
      const lane = draft.lanes[letter];
      const original = lane.copyOf && fresh.includes(lane.copyOf) ? draft.lanes[lane.copyOf] : lane;
      return {
        letter,
        variantKey: original === lane ? letter : lane.copyOf!,
        variantName: original.name.trim(),
        design: designFromOutline(original),
        asBuilt: { grossAreaM2: original.grossAreaM2 },
      };
    }),
    run: {
      note: draft.note.trim(),
      setup: {
        plane: { tilt: draft.tilt, azimuth: draft.azimuth },
        sunSensor: { key: "sun", limitShare: draft.sunLimitShare, mounting: draft.sunMounting },
        ambientProbe: { key: "ambient", limitK: draft.ambientLimitK, resolutionK: 0.1 },
        pressurePa: null,
        relativeHumidity: 0.5,
      },
      lanes: letters.map((letter) => ({
        letter,
        station: draft.lanes[letter].station,
        setup: laneSetup(draft, letter, [...(existing?.lanes ?? []), ...(existing?.drawn ?? [])]),
      })),
    },
    files: draft.files.flatMap((f) => (f.settings ? [{ fileId: f.inspection.file.id, settings: f.settings }] : [])),
    key: draft.key,
    accepted: draft.accepted,
  };
}

function laneSetup(
  draft: ImportDraft,
  letter: string,
  known: readonly { letter: string; design: Design }[],
): StoredLaneSetup {
  const lane = draft.lanes[letter];
  const drawn = known.find((k) => k.letter === letter)?.design.fluid;
  const kind = flowKind(draft, letter);
  const meter = { key: String(lane.station), at: lane.meterAt, limitShare: lane.meterLimitShare, limitFixed: 0 };
  const probe = (end: string) => ({ key: `${lane.station}-${end}`, limitK: lane.probeLimitK, resolutionK: 0.1 });
  return {
    // A new lane is drawn with its fluid; a known one may hold another this time.
    fluid: drawn && !sameFluid(drawn, lane.fluid) ? lane.fluid : null,
    areaLimitShare: 0.01,
    inletProbe: probe("in"),
    outletProbe: probe("out"),
    flow:
      kind === "speed"
        ? {
            kind,
            duct:
              lane.ductKind === "round"
                ? { kind: "round", diameterM: lane.diameterM }
                : { kind: "rectangular", widthM: lane.widthM, heightM: lane.heightM },
            ductLimitM: 0.001,
            profileFactor: lane.profileFactor,
            profileLimit: lane.profileLimit,
            meter,
          }
        : kind === "constant"
          ? { kind, massFlowKgPerS: lane.massFlowKgPerS, meter }
          : { kind, meter },
    fanShare: 0,
    timeConstantS: lane.timeConstantS,
    b0: Number(incidenceCoefficient(Array.from({ length: lane.covers }, () => CLEAR_GLASS)).toFixed(3)),
    b0Limit: 0.06,
  };
}
