import { hingedMirror } from "../mirror/mirror";
import fc from "fast-check";
import { LIBRARY, libraryMaterial } from "../materials/library";
import { materialsFromCsv, materialsToCsv, MATERIAL_RANGES } from "../materials/csv";
import { extinctionFor } from "../materials/material";
import { coverOptics } from "../optics/covers";
import { billOf, EMPTY_BILL, needs } from "./bill";
import { checklistOf } from "./checklist";
import { aspectValues, differences, withAspect } from "./compare";
import { factorialSet, fairness } from "./fairness";
import { absorberLayer, apertureArea, grossArea, type Design, type Layer } from "./design";
import { ABSORBER_FORMS } from "./form/list";
import { checkLimits, hazards } from "./limits";
import { designFromOutline, withCovers } from "./outline";
import { predict } from "./predict";
import { materialsOf, namedMaterials, presetDesign } from "./presets";
import { designProblems, MAX_LAYERS } from "./validate";
import { TEST_OPERATING as OPERATING } from "../../../scripts/testing/bench";

const withLayers = (d: Design, layers: Layer[]): Design => ({
  ...d,
  layers,
  materials: { ...d.materials, ...materialsOf(namedMaterials({ ...d, layers })) },
});
const change = (d: Design, id: string, more: object): Design =>
  withLayers(
    d,
    d.layers.map((l) => (l.id === id ? ({ ...l, ...more } as Layer) : l)),
  );
const coated = (d: Design, coating: string | null): Design => change(d, "absorber", { coating });
const kinds = (d: Design) => designProblems(d).map((p) => p.kind);
const foamBehind = (d: Design, material = "foam-eps"): Design => change(d, "wool", { material, thicknessM: 0.05 });

describe("what cannot be built", () => {
  const base = presetDesign("corrugated");
  const cover: Layer = { id: "film", kind: "cover", material: "film-polyethylene", thicknessM: 0.0002 };
  it("a film behind the insulation", () =>
    expect(kinds(withLayers(base, [...base.layers, cover]))).toContain("coverBehindInsulation"));
  it("water in a mesh, air in a hose", () => {
    expect(kinds({ ...presetDesign("mesh"), fluid: { kind: "water" } })).toContain("waterInAirForm");
    expect(kinds({ ...presetDesign("hose"), fluid: { kind: "air" } })).toContain("airInLiquidForm");
  });
  it("40 layers", () => {
    const many = Array.from({ length: 40 }, (_, i): Layer => ({
      id: `w${i}`,
      kind: "insulation",
      material: "wool-mineral",
      thicknessM: 0.01,
    }));
    expect(designProblems(withLayers(base, [...base.layers, ...many]))).toContainEqual({
      kind: "tooManyLayers",
      layer: null,
      count: 40 + base.layers.length,
      most: MAX_LAYERS,
    });
  });
  it.each([0, -1, Number.NaN, Infinity, 1e9])("a thickness of %s m names its layer", (thicknessM) => {
    expect(designProblems(change(base, "wool", { thicknessM })).find((p) => p.layer === "wool")).toMatchObject({
      kind: "outOfRange",
      field: "thicknessM",
    });
  });
  it.each([0, 1e6])("a width of %s m", (grossWidthM) =>
    expect(designProblems({ ...base, grossWidthM })[0]).toMatchObject({ kind: "outOfRange", field: "grossWidthM" }),
  );
  it("no absorber, two absorbers, none at all", () => {
    expect(
      kinds(
        withLayers(
          base,
          base.layers.filter((l) => l.kind !== "absorber"),
        ),
      ),
    ).toContain("noAbsorber");
    expect(kinds(withLayers(base, [...base.layers, { ...absorberLayer(base)!, id: "second" }]))).toContain(
      "twoAbsorbers",
    );
    expect(kinds(withLayers(base, []))).toContain("noLayers");
  });
  it("insulation over the absorber, a sheet over it, a cover lying on it", () => {
    const wool = base.layers.find((l) => l.id === "wool")!;
    expect(kinds(withLayers(base, [wool, ...base.layers.filter((l) => l !== wool)]))).toContain(
      "insulationOverAbsorber",
    );
    const liner = base.layers.find((l) => l.id === "liner")!;
    expect(kinds(withLayers(base, [liner, ...base.layers.filter((l) => l !== liner)]))).toContain("sheetOverAbsorber");
    expect(
      kinds(
        withLayers(
          base,
          base.layers.filter((l) => l.id !== "gap"),
        ),
      ),
    ).toContain("coverOnAbsorber");
  });
  it("a box without a way for the air, two ways in one", () => {
    expect(
      kinds(
        withLayers(
          base,
          base.layers.filter((l) => l.id !== "channel"),
        ),
      ),
    ).toContain("noChannel");
    expect(
      kinds(
        withLayers(
          base,
          base.layers.flatMap((l): Layer[] =>
            l.id === "gap" ? [l, { id: "x", kind: "channel", thicknessM: 0.02 }] : [l],
          ),
        ),
      ),
    ).toContain("neighbouringAirLayers");
    const mesh = presetDesign("mesh");
    expect(
      kinds(
        withLayers(
          mesh,
          mesh.layers.filter((l) => l.id !== "back"),
        ),
      ),
    ).toContain("openFormNeedsChannel");
    const cans = presetDesign("columns");
    expect(
      kinds(
        withLayers(
          cans,
          cans.layers.map((l): Layer => (l.id === "gap" ? { id: "gap", kind: "channel", thicknessM: 0.02 } : l)),
        ),
      ),
    ).toContain("channelWithPipes");
  });
  it("cans wider than the box, a hose wound tighter than itself, a pipe thicker inside than out", () => {
    const shape = (form: Parameters<typeof presetDesign>[0], more: object) => {
      const d = presetDesign(form);
      return kinds(change(d, "absorber", { shape: { ...absorberLayer(d)!.shape, ...more } }));
    };
    expect(shape("columns", { count: 40 })).toContain("pipesTooWide");
    expect(shape("hose", { pitchM: 0.01 })).toContain("pipesTooWide");
    expect(shape("tubeSheet", { innerM: 0.02 })).toContain("tubeWall");
    expect(shape("ductCoil", { lengthM: 59 })).toContain("coilTooLong");
  });
  it("wood as glazing, a material nobody knows", () => {
    expect(kinds(change(base, "cover", { material: "plywood", thicknessM: 0.006 }))).toContain("notGlazing");
    expect(
      kinds({
        ...base,
        layers: base.layers.map((l) => (l.id === "wool" ? ({ ...l, material: "unobtainium" } as Layer) : l)),
      }),
    ).toContain("materialMissing");
  });
  it("whatever has no problem can be computed, balanced and drawn up", () => {
    const anyForm = fc.constantFrom(...ABSORBER_FORMS.filter((f) => f !== "boughtModule"));
    fc.assert(
      fc.property(
        anyForm,
        fc.integer({ min: 0, max: 2 }),
        fc.double({ min: 0.3, max: 8, noNaN: true }),
        (form, covers, area) => {
          const d = designFromOutline({
            absorber: form,
            covers,
            fluid: presetDesign(form).fluid,
            grossAreaM2: area,
          });
          expect(designProblems(d)).toEqual([]);
          expect(grossArea(d)).toBeCloseTo(area, 3);
          const p = predict(d, OPERATING);
          expect(Object.values(p.figures).every((f) => Number.isFinite(f.value))).toBe(true);
          expect(billOf(d).first).toBeGreaterThan(0);
        },
      ),
      { numRuns: 25 },
    );
  });
});

describe("limits and hazards", () => {
  const foam = foamBehind(presetDesign("corrugated"), "foam-pir");
  const bare = withLayers(
    foam,
    foam.layers.filter((l) => l.id !== "liner"),
  );
  it("foam behind an absorber passes its limit, and the wool proposed mends it", () => {
    const [worst] = checkLimits(bare, predict(bare, OPERATING), OPERATING);
    expect(worst).toMatchObject({ layer: "wool", material: "foam-pir", state: "over", limitC: 110 });
    expect(worst.remedy).toMatchObject({ kind: "insertWool", before: "wool" });
    if (worst.remedy?.kind !== "insertWool") throw new Error("wool");
    const at = bare.layers.findIndex((l) => l.id === "wool");
    const mended = withLayers(bare, [
      ...bare.layers.slice(0, at),
      { id: "new", kind: "insulation", material: worst.remedy.material, thicknessM: worst.remedy.thicknessM },
      ...bare.layers.slice(at),
    ]);
    const after = checkLimits(mended, predict(mended, OPERATING), OPERATING).find((c) => c.layer === "wool")!;
    expect(after.state).not.toBe("over");
    expect(after.worstC).toBeCloseTo(worst.remedy.thenC, 0);
  });
  it("foam that no wool saves is replaced", () => {
    const eps = foamBehind(bare);
    const d: Design = withLayers(
      { ...eps, mirrors: [hingedMirror({ material: "aluminium-bright", stand: "bottom", depthM: 2, angle: 110 })] },
      eps.layers,
    );
    const check = checkLimits(d, predict(d, OPERATING), OPERATING).find((c) => c.material === "foam-eps")!;
    expect(check.remedy).toMatchObject({ kind: "swapMaterial", layer: "wool", what: "material" });
  });
  it("a mirror makes it worse, and the case is named", () => {
    const d: Design = {
      ...bare,
      mirrors: [hingedMirror({ material: "aluminium-bright", stand: "bottom", depthM: 1.5, angle: 110 })],
    };
    const mirrored = withLayers(d, d.layers);
    const [worst] = checkLimits(mirrored, predict(mirrored, OPERATING), OPERATING);
    expect(worst.worstCase).toBe("mirror");
    expect(worst.worstC).toBeGreaterThan(checkLimits(bare, predict(bare, OPERATING), OPERATING)[0].worstC + 10);
  });
  it("film over a hot plate is replaced by a glazing that bears it", () => {
    const d = change(presetDesign("flat"), "cover", { material: "film-polyethylene", thicknessM: 0.0002 });
    const check = checkLimits(d, predict(d, OPERATING), OPERATING).find((c) => c.layer === "cover")!;
    expect(check.state).toBe("over");
    expect(check.remedy).toMatchObject({ kind: "swapMaterial", layer: "cover" });
    if (check.remedy?.kind === "swapMaterial")
      expect(libraryMaterial(check.remedy.to).limitC ?? Infinity).toBeGreaterThan(check.worstC);
  });
  it("solvent on foam, fumes in the breathing air, heavy glass, swelling plastic, frost, mirrors", () => {
    const found = (d: Design, lowest = -12) => hazards(d, predict(d, OPERATING), lowest).map((h) => h.kind);
    expect(found(coated(foam, "paint-black-spray"))).toEqual(expect.arrayContaining(["solventOnFoam", "outgassing"]));
    expect(found(coated(foam, "paint-black-matt"))).not.toContain("solventOnFoam");
    const pane = change(presetDesign("flat"), "cover", { thicknessM: 0.006 });
    expect(found(pane)).toContain("glass");
    const plastic = change(presetDesign("flat"), "cover", { material: "polycarbonate-twin-10", thicknessM: 0.01 });
    const h = hazards(plastic, predict(plastic, OPERATING), -12).find((x) => x.kind === "expansion");
    // 1.96 m · 65e-6 · (worst − (−20)) K: more than 8 mm for a cover above 50 °C.
    expect(h?.kind === "expansion" && h.movementMm).toBeGreaterThan(8);
    expect(h?.kind === "expansion" && h.holeMm >= h.screwMm + h.movementMm).toBe(true);
    expect(found(presetDesign("hose"), -12)).toContain("freezing");
    expect(found(presetDesign("hose"), 8)).not.toContain("freezing");
    expect(found({ ...presetDesign("tubeSheet"), fluid: { kind: "glycol", massFraction: 0.45 } }, -12)).not.toContain(
      "freezing",
    );
    expect(found({ ...presetDesign("flat"), concentration: 2 })).toContain("concentrated");
  });
});

describe("what differs, and what is confounded", () => {
  const A = presetDesign("corrugated");
  const B = coated(A, "foil-selective");
  const two = withLayers(A, withCovers(A.layers, 2));
  const C = coated(two, "foil-selective");
  const named = (...designs: Design[]) => designs.map((design, i) => ({ letter: "ABCDEFGH"[i], design }));
  it("names every difference once", () => {
    expect(differences(A, A)).toEqual([]);
    expect(differences(A, B)).toEqual(["coating"]);
    expect(differences(A, C)).toEqual(["coating", "glazing"]);
    expect(differences(A, presetDesign("mesh"))).toEqual(["absorber"]);
    expect(differences(A, { ...A, grossWidthM: 1.1 })).toEqual(["size"]);
  });
  it("two changes at once cannot be told apart; one of them alone settles it", () => {
    const f = fairness(named(A, C));
    expect(f.confounded).toEqual(["coating", "glazing"]);
    expect(f.pairs).toEqual([{ a: "A", b: "B", aspects: ["coating", "glazing"] }]);
    expect(f.missing).toHaveLength(1);
    expect(f.factorial).toEqual({ all: 4, have: 2 });
    const settled = fairness([...named(A, C), { letter: "C", design: withAspect(A, C, f.missing[0].aspect) }]);
    expect(settled.confounded).toEqual([]);
    expect(settled.separable).toEqual(["coating", "glazing"]);
  });
  it("aspects that belong to one factor count once, and move together", () => {
    const mesh = presetDesign("mesh");
    const path = withAspect(
      A,
      { ...A, layers: A.layers.map((l) => (l.kind === "channel" ? { ...l, thicknessM: 0.03 } : l)) },
      "airPath",
    );
    const both: Design = { ...coated(path, "foil-selective") };
    expect(fairness(named(A, both)).confounded).toEqual(["coating", "airPath"]);
    expect(fairness(named(A, both), [], [["coating", "airPath"]]).confounded).toEqual([]);
    expect(differences(A, mesh, [["absorber", "airPath", "coverGap"]])).toEqual(["absorber"]);
  });
  it("the factorial set holds every combination that is missing", () => {
    const f = fairness(named(A, C));
    const missing = factorialSet(named(A, C), f, []);
    expect(missing).toHaveLength(2);
    const all = [...named(A, C), ...missing.map((m, i) => ({ letter: "XY"[i], design: m.design }))];
    expect(fairness(all)).toMatchObject({ confounded: [], factorial: { all: 4, have: 4 } });
    for (const m of missing) expect(designProblems(m.design)).toEqual([]);
  });
  it("one factor alone is fair, and an identical pair is recognised", () => {
    const f = fairness(named(A, B, A));
    expect(f.confounded).toEqual([]);
    expect(f.identical).toEqual([["A", "C"]]);
    expect(f.missing).toEqual([]);
  });
  it("says when what should be held equal is not", () =>
    expect(fairness(named(A, { ...A, grossLengthM: 1.5 }), ["size", "coating"]).heldBroken).toEqual(["size"]));
  it("taking an aspect over makes the two alike in it and leaves the rest", () => {
    for (const aspect of ["coating", "glazing", "size", "ports", "backing"] as const) {
      const other: Design = { ...foamBehind(C), grossWidthM: 0.8, manifoldLoss: 4 };
      const mixed = withAspect(A, other, aspect);
      expect(aspectValues(mixed)[aspect]).toBe(aspectValues(other)[aspect]);
      expect(differences(A, mixed)).toEqual([aspect]);
      expect(designProblems(mixed)).toEqual([]);
    }
  });
  it.each(ABSORBER_FORMS.filter((f) => presetDesign(f).fluid.kind === "air"))(
    "another absorber brings its own air layers: %s",
    (form) => {
      const mixed = withAspect(B, presetDesign(form), "absorber");
      expect(absorberLayer(mixed)).toMatchObject({ form, coating: "foil-selective" });
      if (form !== "perforated") expect(designProblems(mixed)).toEqual([]);
    },
  );
});

describe("bill and checklist", () => {
  const d = presetDesign("columns");
  it("counts cans, whole packs first and used parts again", () => {
    expect(needs(d).find((n) => n.key === "aluminium-can")?.quantity).toBe(13 * Math.ceil((2 - 0.04) / 0.115));
    const bill = billOf(presetDesign("corrugated"));
    for (const l of bill.lines) {
      expect(l.firstCost).toBeGreaterThanOrEqual(l.repeatCost - 1e-9);
      expect(l.leftover).toBeGreaterThanOrEqual(-1e-9);
      expect(l.packs * l.pack).toBeCloseTo(l.quantity + l.leftover, 9);
    }
    expect(bill.materialsRepeat).toBeLessThan(bill.materialsFirst);
    expect(bill.repeatPerGrossM2 * grossArea(presetDesign("corrugated"))).toBeCloseTo(bill.repeat, 9);
    expect(bill.repeatPerApertureM2 * apertureArea(presetDesign("corrugated"))).toBeCloseTo(bill.repeat, 9);
  });
  it("scrounged once is bought again, always never is, work has a price", () => {
    const key = "glass-toughened";
    const plain = billOf(presetDesign("corrugated"));
    const glass = plain.lines.find((l) => l.key === key)!;
    const once = billOf(presetDesign("corrugated"), { ...EMPTY_BILL, lines: { [key]: { scrounged: "once" } } });
    expect(once.first).toBeCloseTo(plain.first - glass.firstCost, 9);
    expect(once.repeat).toBeCloseTo(plain.repeat, 9);
    const always = billOf(presetDesign("corrugated"), {
      ...EMPTY_BILL,
      lines: { [key]: { scrounged: "always" } },
      wage: 20,
      hoursRepeat: 10,
      extra: [{ name: "Thermostat", unit: "piece", quantity: 1, price: 25, pack: 1, scrounged: "no" }],
    });
    expect(always.repeat).toBeCloseTo(plain.repeat - glass.repeatCost + 200 + 25, 9);
  });
  it("checklist follows the stack", () => {
    const of = (x: Design) => checklistOf(x, predict(x, OPERATING), -12).map((i) => i.kind);
    expect(of(coated(foamBehind(presetDesign("corrugated")), "paint-black-spray"))).toEqual(
      expect.arrayContaining(["paintOnFoam", "ventilate", "bakeOut", "cure", "smokeTest", "probeOutlet"]),
    );
    expect(of(change(presetDesign("flat"), "cover", { material: "polycarbonate-twin-10", thicknessM: 0.01 }))).toEqual(
      expect.arrayContaining(["drillOversize", "expansionGap", "cellEnds"]),
    );
    expect(of(presetDesign("tubeSheet"))).toEqual(
      expect.arrayContaining(["pressureTest", "freezeDrain", "reliefValve"]),
    );
    const keys = checklistOf(d, predict(d, OPERATING), -12).map((i) => i.key);
    expect(new Set(keys).size).toBe(keys.length);
  });
});

describe("materials", () => {
  it("about eighty, unique, within physical ranges, with a source", () => {
    expect(LIBRARY.length).toBeGreaterThanOrEqual(80);
    expect(new Set(LIBRARY.map((m) => m.key)).size).toBe(LIBRARY.length);
    for (const m of LIBRARY) {
      for (const k of [
        "density",
        "specificHeat",
        "conductivity",
        "absorptance",
        "emittance",
        "thicknessM",
        "price",
        "pack",
      ] as const) {
        const [min, max] = MATERIAL_RANGES[k];
        expect([m.key, k, m[k] >= min && m[k] <= max]).toEqual([m.key, k, true]);
      }
      expect(m.source).not.toBe("");
    }
  });
  it("a stated transmittance comes back from the optics", () => {
    for (const t of [0.7, 0.84, 0.9])
      expect(
        coverOptics([{ index: 1.526, extinction: extinctionFor(t, 1.526, 0.004) * 0.004 }], 0).transmitted,
      ).toBeCloseTo(t, 6);
    expect(extinctionFor(0.99, 1.526, 0.004)).toBe(0);
  });
  it("CSV out and in again", () => {
    const back = materialsFromCsv(materialsToCsv(LIBRARY));
    expect(back.problems).toEqual([]);
    expect(back.materials).toEqual(LIBRARY);
  });
  it("names each bad cell and keeps the good rows", () => {
    const [header, first, second, third] = materialsToCsv(LIBRARY.slice(0, 3)).split("\n");
    const bad = second.replace(",2500,", ",heavy,");
    const { materials, problems } = materialsFromCsv([header, first, bad, third].join("\n"));
    expect(materials).toHaveLength(2);
    expect(problems).toEqual([{ kind: "notNumber", row: 2, column: "density_kg_m3", value: "heavy" }]);
    expect(materialsFromCsv("name;price\nX;3").problems).toEqual([
      { kind: "missingColumn", column: "key" },
      { kind: "missingColumn", column: "group" },
    ]);
    expect(materialsFromCsv([header, first, first].join("\n")).problems).toEqual([
      { kind: "twice", row: 2, key: LIBRARY[0].key },
    ]);
  });
  it("takes nothing of what is no table of materials: a line without end, rows without number", () => {
    const [header, first] = materialsToCsv(LIBRARY.slice(0, 1)).split("\n");
    const long = [header, first, "x".repeat(20_001)].join("\n");
    expect(materialsFromCsv(long)).toEqual({ materials: [], problems: [{ kind: "longLine", row: 2 }] });
    const rows = [header, ...Array<string>(5001).fill(first)].join("\n");
    expect(materialsFromCsv(rows)).toEqual({ materials: [], problems: [{ kind: "manyRows", most: 5000 }] });
  });
});
