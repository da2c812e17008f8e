import type { Draft } from "./draft";

/** Drafts live on the device until they are saved as a revision: a reload, a crash or an evening without the server loses nothing. */
const key = (variantId: number, revision: number) => `bravel-draft-${variantId}-${revision}`;

export function readDraft(variantId: number, revision: number): Draft | null {
  try {
    const text = localStorage.getItem(key(variantId, revision));
    const draft = text ? (JSON.parse(text) as Draft) : null;
    return draft?.present?.layers && Array.isArray(draft.past) && Array.isArray(draft.future) ? draft : null;
  } catch {
    return null;
  }
}

export function writeDraft(variantId: number, revision: number, draft: Draft): void {
  try {
    // A short memory is enough across a reload, and keeps within what a browser allows.
    localStorage.setItem(
      key(variantId, revision),
      JSON.stringify({ ...draft, past: draft.past.slice(-10), future: draft.future.slice(0, 10) }),
    );
  } catch {
    // A full or forbidden store: the draft lives on in the page.
  }
}

export function forgetDraft(variantId: number, revision: number): void {
  try {
    localStorage.removeItem(key(variantId, revision));
  } catch {
    // Nothing was kept then.
  }
}
