import { forgetHere, keepHere, readKept } from "./browserDraft";

/** A quick reading on its way to the sheet: cells as they would be typed, with their units. */
export interface QuickRow {
  inlet: string;
  outlet: string;
  flow: string;
  sun: string;
}

const STORE = "bravel-quick-row";

/** @returns false where this browser keeps nothing */
export const keepQuickRow = (row: QuickRow): boolean => keepHere(STORE, row);

/** The row once: it is gone after. null without one, or where something else lies in its place. */
export function takeQuickRow(): QuickRow | null {
  const row = readKept(STORE, (value) => {
    const kept = value as QuickRow | null;
    const cells = kept && [kept.inlet, kept.outlet, kept.flow, kept.sun];
    return cells?.every((c) => typeof c === "string") ? kept : null;
  });
  forgetHere(STORE);
  return row;
}
