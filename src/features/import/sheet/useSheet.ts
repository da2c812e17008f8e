import type { ExperimentHead, Site, StoredRun } from "@/core/experiment/types";
import { localDay, toWall } from "@/core/log/zone";
import { readKept, useBrowserDraft } from "@/ui/browserDraft";
import { SHEET_STORE } from "@/ui/stores";
import type { QuickRow } from "@/ui/quickRow";
import { emptyDraft, type ImportDraft } from "../draft";
import { newLane } from "../laneDraft";
import { retarget, siteOf } from "../useDraft";
import { emptyRow, isBlank, type SheetDraft } from "./sheetDraft";

/** A sheet for an experiment, or for a new one, with what its last run says of the bench. */
export function newSheet(
  sites: readonly Site[],
  heads: readonly ExperimentHead[],
  lastRuns: Record<number, StoredRun | undefined>,
  target: number | "new",
): SheetDraft {
  const base = retarget(emptyDraft(sites), target, heads, lastRuns);
  const head = heads.find((h) => h.id === target);
  const known = [...new Set([...(head?.lanes ?? []), ...(head?.drawn ?? [])].map((l) => l.letter))].sort();
  const lanes = known.length ? known : ["A", "B"];
  const zone = siteOf(base, heads, sites)?.zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone;
  return {
    base: withSheetLanes(base, lanes),
    lanes,
    date: localDay(Date.now(), zone),
    flow: null,
    degrees: null,
    flowUnit: null,
    thermometers: null,
    meter: null,
    more: false,
    rows: [emptyRow(1, lanes[0], "")],
  };
}

/** Every box of the sheet has a lane to fill in. */
export const withSheetLanes = (base: ImportDraft, letters: readonly string[]): ImportDraft => ({
  ...base,
  lanes: { ...base.lanes, ...Object.fromEntries(letters.map((l, i) => [l, base.lanes[l] ?? newLane(l, i + 1)])) },
});

/** `13:05` on the bench's clock when the sheet is of today there; else null. */
export function benchNow(date: string, zone: string): string | null {
  const now = Date.now();
  return localDay(now, zone) === date ? new Date(toWall(now, zone)).toISOString().slice(11, 16) : null;
}

/** A sheet with a quick reading as its next row, of now. */
export function withQuickRow(draft: SheetDraft, quick: QuickRow, time: string): SheetDraft {
  const rows = draft.rows.filter((r) => !isBlank(r));
  const id = Math.max(0, ...draft.rows.map((r) => r.id)) + 1;
  return {
    ...draft,
    more: draft.more || quick.sun !== "",
    flow: draft.flow ?? (quick.flow.includes("³") ? "volume" : "speed"),
    rows: [...rows, { ...emptyRow(id, draft.lanes[0], time), ...quick }],
  };
}

/** The sheet, kept in the browser with every key: a reload at the bench loses nothing. */
export const useSheet = (fresh: () => SheetDraft, target: number | "new" | null) =>
  useBrowserDraft<SheetDraft>(SHEET_STORE, () => {
    const kept = readKept(SHEET_STORE, (value) => {
      const sheet = value as SheetDraft | null;
      return sheet && Array.isArray(sheet.rows) && sheet.base ? sheet : null;
    });
    return kept && (target === null || kept.base.target === target) ? kept : fresh();
  });
