/** A quick reading on its way to the sheet: cells as they would be typed, with their units. */
export interface QuickRow {
  inlet: string;
  outlet: string;
  flow: string;
  sun: string;
}

const STORE = "bravel-quick-row";

export const keepQuickRow = (row: QuickRow): void => localStorage.setItem(STORE, JSON.stringify(row));

/** The row once: it is gone after. null without one, or where something else lies in its place. */
export function takeQuickRow(): QuickRow | null {
  const text = localStorage.getItem(STORE);
  localStorage.removeItem(STORE);
  try {
    const row = JSON.parse(text ?? "null") as QuickRow | null;
    const cells = row && [row.inlet, row.outlet, row.flow, row.sun];
    return cells?.every((c) => typeof c === "string") ? row : null;
  } catch {
    return null;
  }
}
