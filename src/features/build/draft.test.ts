import { LIBRARY } from "@/core/materials/library";
import { airPath } from "@/core/collector/design";
import { ABSORBER_FORMS, FORMS } from "@/core/collector/form/list";
import { presetDesign } from "@/core/collector/presets";
import { designProblems } from "@/core/collector/validate";
import {
  addLayer,
  addOuterCover,
  changeForm,
  changeLayer,
  draftReducer,
  freshId,
  moveLayer,
  removeLayer,
  withMaterials,
  type Draft,
} from "./draft";

const library = new Map(LIBRARY.map((m) => [m.key, m]));
const base = presetDesign("corrugated");
const fresh: Draft = { past: [], present: base, future: [] };
const narrower = { ...base, grossWidthM: 0.8 };

describe("undo and redo", () => {
  test("each edit is one step; redo is lost by a new edit, never by undo", () => {
    const one = draftReducer(fresh, { type: "set", design: narrower });
    const two = draftReducer(one, { type: "set", design: { ...narrower, grossLengthM: 1.5 } });
    const back = draftReducer(draftReducer(two, { type: "undo" }), { type: "undo" });
    expect(back.present).toBe(base);
    expect(draftReducer(back, { type: "undo" })).toBe(back);
    const forth = draftReducer(draftReducer(back, { type: "redo" }), { type: "redo" });
    expect(forth.present).toEqual(two.present);
    expect(draftReducer(forth, { type: "redo" })).toBe(forth);
    expect(draftReducer(back, { type: "set", design: { ...base, inSeries: 2 } }).future).toEqual([]);
  });
  test("setting the same design is no edit", () => {
    expect(draftReducer(fresh, { type: "set", design: base })).toBe(fresh);
  });
  test("memory is bounded", () => {
    let d = fresh;
    for (let i = 0; i < 200; i++) d = draftReducer(d, { type: "set", design: { ...base, grossWidthM: 1 + i / 1000 } });
    expect(d.past.length).toBeLessThan(90);
  });
});

describe("editing the stack", () => {
  test("layers are added behind the chosen one, with ids of their own", () => {
    const added = addLayer(base, "insulation", "wool");
    expect(added.design.layers.map((l) => l.id)).toEqual([
      ...base.layers.slice(0, 6).map((l) => l.id),
      "insulation",
      "board",
    ]);
    const twice = addLayer(added.design, "insulation", null);
    expect(new Set(twice.design.layers.map((l) => l.id)).size).toBe(twice.design.layers.length);
    expect(freshId(twice.design, "insulation")).toBe("insulation3");
  });
  test("moving keeps all layers; impossible moves change nothing", () => {
    const moved = moveLayer(base, 0, 3);
    expect([...moved.layers.map((l) => l.id)].sort()).toEqual([...base.layers.map((l) => l.id)].sort());
    expect(moved.layers[3].id).toBe("cover");
    expect(moveLayer(base, 2, 2)).toBe(base);
    expect(moveLayer(base, 0, 99)).toBe(base);
  });
  test("removing and undoing a removal", () => {
    const d = draftReducer(fresh, { type: "set", design: removeLayer(base, "wool") });
    expect(d.present.layers.some((l) => l.id === "wool")).toBe(false);
    expect(draftReducer(d, { type: "undo" }).present.layers.some((l) => l.id === "wool")).toBe(true);
  });
  test("a further glazing lies over all, of the kind there is, and can be built", () => {
    const two = withMaterials(addOuterCover(base), library);
    expect(two.layers.slice(0, 3).map((l) => l.kind)).toEqual(["cover", "gap", "cover"]);
    expect(designProblems(two)).toEqual([]);
    expect(designProblems(withMaterials(addOuterCover(presetDesign("hose")), library))).toEqual([]);
  });
  test("an edit makes a sketch a drawing", () =>
    expect(changeLayer({ ...base, sketch: true }, "wool", { thicknessM: 0.06 }).sketch).toBe(false));
  test.each(ABSORBER_FORMS)("another form brings its make, and the fluid that goes with it: %s", (form) => {
    const d = withMaterials(changeForm(base, "absorber", form), library);
    const liquid = FORMS[form].carries === "liquid" || (FORMS[form].carries === "either" && base.fluid.kind !== "air");
    expect(d.fluid.kind).toBe(liquid ? "water" : "air");
    expect(d.drive.kind).toBe(liquid ? "pump" : "fan");
    const kinds = designProblems(d).map((p) => p.kind);
    // What does not fit is the air's way, and it is said; the rest is whole.
    expect(
      kinds.filter(
        (k) => !["openFormNeedsChannel", "channelWithPipes", "channelWithLiquid", "nothingStated"].includes(k),
      ),
    ).toEqual([]);
    expect(typeof airPath(d)).toBe("string");
  });
  test("materials travel by value, and those no longer named stay behind", () => {
    const d = withMaterials(changeLayer(base, "wool", { material: "foam-pir" }), library);
    expect(d.materials["foam-pir"]).toEqual(library.get("foam-pir"));
    expect(d.materials["wool-mineral"]).toBeUndefined();
    const own = withMaterials(
      {
        ...base,
        materials: { ...base.materials, "wool-mineral": { ...base.materials["wool-mineral"], conductivity: 0.05 } },
      },
      library,
    );
    expect(own.materials["wool-mineral"].conductivity).toBe(0.05);
  });
});
