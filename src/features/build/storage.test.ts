/** @jest-environment jsdom */
import { presetDesign } from "@/core/collector/presets";
import { forgetDraft, parseDraft, readDraft, writeDraft } from "./storage";

const design = presetDesign("flat");
const narrower = { ...design, grossWidthM: 0.7 };
const variant = { id: 2, revision: 1, design };
const draft = { past: [design], future: [], unsent: { from: design, present: narrower } };
const none = { past: [], future: [], unsent: null };

describe("what a browser keeps of a drawing", () => {
  beforeEach(() => localStorage.clear());

  test("comes back as it was, whatever the revision is by then, and goes when forgotten", () => {
    writeDraft(2, draft);
    expect(readDraft(variant)).toEqual(draft);
    expect(readDraft({ ...variant, revision: 4 })).toEqual(draft);
    expect(readDraft({ ...variant, id: 3 })).toEqual(none);
    forgetDraft(2);
    expect(readDraft(variant)).toEqual(none);
  });

  test("remembers ten steps back and no more", () => {
    writeDraft(2, { ...draft, past: Array(30).fill(design) });
    expect(readDraft(variant).past).toHaveLength(10);
  });

  test("of an older Bravel takes today's shape: glycol with its share", () => {
    const old = { ...design, fluid: "glycol", glycolShare: 0.4 };
    const read = parseDraft({ past: [], present: old, future: [], editedAt: null }, design)!.unsent!;
    expect(read.present.fluid).toEqual({ kind: "glycol", massFraction: 0.4 });
    expect(read.present).not.toHaveProperty("glycolShare");
    const air = parseDraft({ present: { ...design, fluid: "air" } }, design)!.unsent!;
    expect(air.present.fluid).toEqual({ kind: "air" });
  });

  test("of an older Bravel, whose drafts no server had, is an edit still to be sent; taken up once", () => {
    const kept = JSON.stringify({ version: 2, past: [design], present: narrower, future: [], editedAt: 5 });
    localStorage.setItem("bravel-draft-2-1", kept);
    expect(readDraft(variant)).toEqual(draft);
    expect(localStorage.getItem("bravel-draft-2-1")).toBeNull();
    forgetDraft(2);
    expect(readDraft(variant)).toEqual(none);
  });

  test("of a newer Bravel, or of nothing known, is left alone", () => {
    expect(parseDraft({ version: 99, present: design }, design)).toBeNull();
    expect(parseDraft({ version: 2, present: { layers: 7 } }, design)).toBeNull();
    expect(parseDraft({ version: 3, unsent: { from: design, present: { layers: 7 } } }, design)).toBeNull();
    localStorage.setItem("bravel-drawing-2", "{ torn");
    expect(readDraft(variant)).toEqual(none);
    expect(localStorage.getItem("bravel-drawing-2")).toBe("{ torn");
  });

  test("a full store loses nothing but the copy", () => {
    const set = jest.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
      throw new Error("full");
    });
    expect(() => writeDraft(2, draft)).not.toThrow();
    set.mockRestore();
  });
});
