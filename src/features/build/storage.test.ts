/** @jest-environment jsdom */
import { presetDesign } from "@/core/collector/presets";
import { forgetDraft, parseDraft, readDraft, writeDraft } from "./storage";

const design = presetDesign("flat");
const draft = { past: [], present: design, future: [], editedAt: 5 };

describe("drafts on the device", () => {
  beforeEach(() => localStorage.clear());

  test("come back as they were, and go when forgotten", () => {
    writeDraft(1, 2, draft);
    expect(readDraft(1, 2)).toEqual(draft);
    expect(readDraft(1, 3)).toBeNull();
    forgetDraft(1, 2);
    expect(readDraft(1, 2)).toBeNull();
  });

  test("remember ten steps back and no more", () => {
    writeDraft(1, 1, { ...draft, past: Array(30).fill(design) });
    expect(readDraft(1, 1)!.past).toHaveLength(10);
  });

  test("of an older Bravel take today's shape: glycol with its share", () => {
    const old = { ...design, fluid: "glycol", glycolShare: 0.4 };
    const read = parseDraft({ past: [], present: old, future: [], editedAt: null })!;
    expect(read.present.fluid).toEqual({ kind: "glycol", massFraction: 0.4 });
    expect(read.present).not.toHaveProperty("glycolShare");
    const air = parseDraft({ present: { ...design, fluid: "air" } })!;
    expect(air.present.fluid).toEqual({ kind: "air" });
  });

  test("of a newer Bravel, or of nothing known, are left alone", () => {
    expect(parseDraft({ version: 99, present: design })).toBeNull();
    expect(parseDraft({ version: 2, present: { layers: 7 } })).toBeNull();
    localStorage.setItem("bravel-draft-1-1", "{ torn");
    expect(readDraft(1, 1)).toBeNull();
    expect(localStorage.getItem("bravel-draft-1-1")).toBe("{ torn");
  });

  test("a full store loses nothing but the copy", () => {
    const set = jest.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
      throw new Error("full");
    });
    expect(() => writeDraft(1, 1, draft)).not.toThrow();
    set.mockRestore();
  });
});
