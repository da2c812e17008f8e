import { CHANNEL_KINDS, channelOf, EVERY_LANE } from "@/core/log/channel";
import { headerUnit } from "@/core/log/headerUnit";
import type { ExperimentHead } from "@/core/experiment/types";
import { DRAFT_NOTES as N } from "@/words/importing";
import { unsaidOfSite } from "@/words/site";
import {
  flowKind,
  knownLetters,
  liveSources,
  liveSpanMs,
  mappedLanes,
  oneInlet,
  siteFigures,
  swapInstant,
  tankOrFlow,
  unitless,
  usedColumns,
  type FileDraft,
  type ImportDraft,
} from "./draft";
import { flowMissing } from "./laneDraft";

export interface DraftNote {
  /** Blocking notes must be mended before the import. */
  blocking: boolean;
  text: string;
}
const block = (text: string): DraftNote => ({ blocking: true, text });
const hint = (text: string): DraftNote => ({ blocking: false, text });

/** What is missing or contradicts itself, in the order of the page. */
export function draftNotes(draft: ImportDraft, heads: readonly ExperimentHead[]): DraftNote[] {
  const zone = draft.files[0]?.settings?.zone ?? "UTC";
  const badSwap = (draft.swaps ?? []).some((s) => swapInstant(s, zone) === null || s.lanes[0] === s.lanes[1]);
  return [
    ...(draft.files.length ? draft.files.flatMap(fileNotes) : [block(N.noFile)]),
    ...laneNotes(
      draft,
      heads.find((h) => h.id === draft.target),
    ),
    ...benchNotes(draft),
    ...(badSwap ? [block(N.swap)] : []),
    ...spanNotes(draft).map(block),
    ...targetNotes(draft).map(block),
  ];
}

/** A span of a device's readings, typed, that cannot be one. */
function spanNotes(draft: ImportDraft): string[] {
  const { liveFromMs, liveUntilMs } = liveSpanMs(draft);
  if (liveFromMs === null) return [];
  if (Number.isNaN(liveFromMs)) return [N.spanFrom];
  if (liveUntilMs === null) return [];
  const nowMs = Math.max(...liveSources(draft).map((l) => l.nowMs));
  return Number.isNaN(liveUntilMs) || liveUntilMs <= liveFromMs || liveUntilMs > Math.max(nowMs, Date.now())
    ? [N.spanUntil]
    : [];
}

function fileNotes({ inspection, settings, dateOrderAsked }: FileDraft): DraftNote[] {
  const { name } = inspection.file;
  if (!settings) return [block(N.unreadable(name))];
  const notes: DraftNote[] = [];
  if (dateOrderAsked) notes.push(block(N.dateOrder(name)));
  else if (settings.timeFormat.kind === "elapsed" && !(settings.timeFormat.startMs > 0))
    notes.push(block(N.timeZero(name)));
  const used = settings.columns.filter((c) => !settings.timeColumns.includes(c.index));
  const seen = new Set<string>();
  for (const { kind, lane } of used) {
    if (!kind) continue;
    const key = `${kind} ${lane ?? ""}`;
    if (seen.has(key))
      notes.push(channelOf(kind).several ? hint(N.several(kind, lane)) : block(N.twice(name, kind, lane)));
    seen.add(key);
  }
  const headers = (columns: typeof used) => columns.map((c) => c.header);
  const adrift = used.filter((c) => c.kind && CHANNEL_KINDS[c.kind].scope === "lane" && !c.lane);
  if (adrift.length) notes.push(block(N.whichLane(name, headers(adrift))));
  for (const { header, kind, unit, factor } of used) {
    const named = headerUnit(header, kind);
    if (kind && named && unit && !factor && named !== unit) notes.push(hint(N.otherUnit(name, header, named, unit)));
  }
  const open = unitless(settings);
  if (open.length) notes.push(block(N.unit(name, headers(open))));
  return notes;
}

function laneNotes(draft: ImportDraft, head: ExperimentHead | undefined): DraftNote[] {
  const lanes = mappedLanes(draft);
  if (draft.files.length > 0 && lanes.length === 0) return [block(N.noLane)];
  const columns = usedColumns(draft);
  const known = knownLetters(head);
  return lanes.flatMap((lane) => {
    const own = draft.lanes[lane];
    if (!own) return [];
    const ends = (["inlet", "outlet"] as const).filter(
      (k) => !columns.some((c) => c.kind === k && (c.lane === lane || c.lane === EVERY_LANE)),
    );
    const doubled = (end: "inlet" | "outlet") =>
      lanes.find((l) => columns.filter((c) => c.kind === end && c.lane === l).length > 1);
    return [
      ...(own.grossAreaM2 === null && !own.copyOf && !known.includes(lane) ? [block(N.area(lane))] : []),
      ...(tankOrFlow(draft, lane) && own.heatBy === null
        ? [block(N.heatBy(lane))]
        : flowMissing(own, flowKind(draft, lane)).map((missing) => block(N.flow(lane, missing)))),
      ...(flowKind(draft, lane) === "tank" ? [] : ends).map((end) => {
        const other = doubled(end);
        return other ? block(N.whoseEnd(other, lane, end)) : hint(N.noEnd(lane, end));
      }),
      ...(draft.target !== "new" && !known.includes(lane) && !own.name.trim() ? [block(N.nameLane(lane))] : []),
    ];
  });
}

/** How the sun was measured, and how the collectors stand. */
function benchNotes(draft: ImportDraft): DraftNote[] {
  if (draft.files.length === 0) return [];
  const notes: DraftNote[] = [];
  const logged = (kind: string) => usedColumns(draft).some((c) => c.kind === kind);
  if (mappedLanes(draft).length > 0) {
    if (!logged("irradiance")) notes.push(hint(draft.sunMounting === "modelled" ? N.modelledSun : N.noSun));
    else if (draft.sunMounting === null || draft.sunMounting === "modelled") notes.push(block(N.mounting));
    if (!logged("ambient") && !(draft.inletOutside && oneInlet(draft))) notes.push(hint(N.noAmbient));
  }
  const { from, until } = draft.snow ?? { from: "", until: "" };
  if (draft.sunMounting === "horizontal" && (from || until) && (!from || !until || from > until))
    notes.push(block(N.snow));
  if (draft.tilt === null) notes.push(block(N.tilt));
  if (draft.azimuth === null) notes.push(block(N.azimuth));
  return notes;
}

/** What a new experiment and its site lack. */
function targetNotes(draft: ImportDraft): string[] {
  if (draft.target !== "new") return [];
  const unsaid = draft.siteId === "new" ? unsaidOfSite(siteFigures(draft)) : null;
  return [
    ...(draft.name.trim() ? [] : [N.nameExperiment]),
    ...(draft.siteId === null ? [N.site] : []),
    ...(unsaid ? [unsaid] : []),
  ];
}
