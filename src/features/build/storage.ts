import type { Design } from "@/core/collector/design";
import { forgetHere, keepHere, readKept } from "@/ui/browserDraft";
import type { Draft } from "./draft";

/** Drafts live on the device until they are saved as a revision: a reload, a crash or an evening without the server loses nothing. */
const key = (variantId: number, revision: number) => `bravel-draft-${variantId}-${revision}`;

/** Raised when a design's shape changes; what older ones become stands in {@link upgraded}. */
const DRAFT_VERSION = 2;

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

/** A draft of any version; null for one that cannot be understood, which then stays where it is. */
export function parseDraft(kept: unknown): Draft | null {
  const raw = kept as Partial<Record<keyof Draft, unknown>> & { version?: number };
  const version = raw.version ?? 1;
  if (version > DRAFT_VERSION) return null;
  const designs = (list: unknown): Design[] =>
    Array.isArray(list) ? list.map((d) => upgraded(d, version)).filter(isDesign) : [];
  const [present] = designs([raw.present]);
  if (!present) return null;
  const editedAt = typeof raw.editedAt === "number" ? raw.editedAt : null;
  return { past: designs(raw.past), present, future: designs(raw.future), editedAt };
}

export const readDraft = (variantId: number, revision: number): Draft | null =>
  readKept(key(variantId, revision), parseDraft);

/** A full or forbidden store: the draft lives on in the page. */
export function writeDraft(variantId: number, revision: number, draft: Draft): void {
  // A short memory is enough across a reload, and keeps within what a browser allows.
  const short = { ...draft, past: draft.past.slice(-10), future: draft.future.slice(0, 10) };
  keepHere(key(variantId, revision), { version: DRAFT_VERSION, ...short });
}

export const forgetDraft = (variantId: number, revision: number): void => forgetHere(key(variantId, revision));
