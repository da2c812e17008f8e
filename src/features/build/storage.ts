import type { Design } from "@/core/collector/design";
import type { Variant } from "@/core/experiment/records";
import { forgetHere, keepHere, readKept } from "@/ui/browserDraft";
import type { Steps } from "./draft";

/** What a browser keeps of a drawing: the steps back and forth, and an edit the server does not have yet. */
export interface KeptDraft extends Steps {
  /** What is drawn, and what the server held then. */
  unsent: { from: Design; present: Design } | null;
}

const key = (variantId: number) => `bravel-drawing-${variantId}`;
/** Until version 2 a draft was the browser's alone, and belonged to a revision. */
const olderKey = (variantId: number, revision: number) => `bravel-draft-${variantId}-${revision}`;

/** Raised when a design's shape changes; what older ones become stands in {@link upgraded}. */
const DRAFT_VERSION = 3;
const NOTHING: KeptDraft = { past: [], future: [], unsent: null };

/** A design as kept by an older Bravel, in today's shape: until version 2 the fluid was a word, with glycol's share beside it. */
function upgraded(design: unknown, version: number): unknown {
  if (version >= 2 || typeof design !== "object" || design === null) return design;
  const { fluid, glycolShare, ...rest } = design as { fluid: unknown; glycolShare?: number };
  if (typeof fluid !== "string") return design;
  return { ...rest, fluid: fluid === "glycol" ? { kind: fluid, massFraction: glycolShare ?? 0 } : { kind: fluid } };
}

/** Enough of a design to be drawn and edited; what is out of range the editor marks, and saving refuses. */
function isDesign(d: unknown): d is Design {
  const { fluid, layers, frame, ports, drive, materials } = (d ?? {}) as Partial<Design>;
  return typeof fluid === "object" && Array.isArray(layers) && !!frame && !!ports && !!drive && !!materials;
}

/** A draft of any version; null for one that cannot be understood, which then stays where it is. @param from what a draft of an older version was drawn from */
export function parseDraft(kept: unknown, from: Design): KeptDraft | null {
  const raw = kept as Partial<Record<keyof KeptDraft | "present", unknown>> & { version?: number };
  const version = raw.version ?? 1;
  if (version > DRAFT_VERSION) return null;
  const designs = (list: unknown): Design[] =>
    Array.isArray(list) ? list.map((d) => upgraded(d, version)).filter(isDesign) : [];
  const steps = { past: designs(raw.past), future: designs(raw.future) };
  if (version < 3) {
    const [present] = designs([raw.present]);
    return present ? { ...steps, unsent: { from, present } } : null;
  }
  const unsent = raw.unsent as Partial<KeptDraft["unsent"]>;
  if (!unsent) return { ...steps, unsent: null };
  const [before, present] = designs([unsent.from, unsent.present]);
  return present ? { ...steps, unsent: { from: before, present } } : null;
}

/** What this browser kept of a variant's drawing. */
export function readDraft({ id, revision, design }: Pick<Variant, "id" | "revision" | "design">): KeptDraft {
  const read = (kept: unknown) => parseDraft(kept, design);
  const own = readKept(key(id), read);
  const older = own ? null : readKept(olderKey(id, revision), read);
  if (older) {
    writeDraft(id, older);
    forgetHere(olderKey(id, revision));
  }
  return own ?? older ?? NOTHING;
}

/** A full or forbidden store: the drawing lives on in the page, and on the server. */
export function writeDraft(variantId: number, draft: KeptDraft): void {
  // A short memory is enough across a reload, and keeps within what a browser allows.
  const short = { ...draft, past: draft.past.slice(-10), future: draft.future.slice(0, 10) };
  keepHere(key(variantId), { version: DRAFT_VERSION, ...short });
}

export const forgetDraft = (variantId: number): void => forgetHere(key(variantId));
