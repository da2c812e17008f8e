import { CASES, type Hazard } from "@/core/collector/limits";
import type { ChecklistItem, ItemKind } from "@/core/collector/checklist";
import { LIBRARY } from "@/core/materials/library";
import type { DesignProblem } from "@/core/collector/validate";
import { bathProblemWords, bathWarningWords } from "./prove";
import { CASE_WORDS, hazardWords, listWords, problemWords } from "./build";
import { checklistWords } from "./checklist";
import { materialProblemWords } from "./material";

const materials = Object.fromEntries(LIBRARY.map((m) => [m.key, m]));
const clean = (text: string) => {
  expect(text.length).toBeGreaterThan(12);
  expect(text).not.toMatch(/undefined|NaN|null|\[object/);
  // A sentence ends; a heading begins with a capital or a figure.
  expect(text[0]).toBe(text[0].toUpperCase());
};

test("every problem of a design says what, why and the way out", () => {
  const plain = [
    "noAbsorber",
    "twoAbsorbers",
    "noLayers",
    "coverBehindAbsorber",
    "coverBehindInsulation",
    "insulationOverAbsorber",
    "sheetOverAbsorber",
    "coverOnAbsorber",
    "waterInAirForm",
    "airInLiquidForm",
    "openFormNeedsChannel",
    "noChannel",
    "channelWithPipes",
    "channelWithLiquid",
    "neighbouringAirLayers",
    "airLayerOutside",
    "tubeWall",
    "tooFewFlowPoints",
    "backMissing",
  ] as const;
  const problems: DesignProblem[] = [
    ...plain.map((kind) => ({ kind, layer: "x" })),
    { kind: "tooManyLayers", layer: null, count: 40, most: 24 },
    { kind: "tooManyCovers", layer: null, count: 4, most: 3 },
    { kind: "outOfRange", layer: "x", field: "thicknessM", quantity: "smallLength", value: 9, min: 0.001, max: 0.5 },
    {
      kind: "outOfRange",
      layer: null,
      field: "grossWidthM",
      quantity: "length",
      value: Number.NaN,
      min: 0.05,
      max: 10,
    },
    { kind: "notGlazing", layer: "x", material: "plywood" },
    { kind: "materialMissing", layer: null, material: "gone" },
    { kind: "frameFillsBox", layer: null, neededM: 0.4, availableM: 0.3 },
    { kind: "pipesTooWide", layer: "x", neededM: 1.2, availableM: 0.9 },
    { kind: "coilTooLong", layer: "x", neededM: 59, availableM: 18 },
  ];
  for (const p of problems)
    for (const system of ["metric", "us"] as const) {
      const text = problemWords(p, "Plywood", materials, system);
      clean(text);
      expect(text).toMatch(/[.]$/);
    }
  expect(problemWords(problems[problems.length - 6], "", materials, "metric")).toContain("no number");
});

test("every hazard names the danger and what to do", () => {
  const hazards: Hazard[] = [
    { kind: "solventOnFoam", layer: "x", coating: "paint-black-spray", foam: "foam-eps" },
    { kind: "outgassing", layer: "x", material: "hose-epdm" },
    { kind: "fibresInAir", layer: "x", material: "wool-mineral" },
    { kind: "lifting", layer: null, massKg: 52.4, people: 3 },
    { kind: "glass", layer: "x", massKg: 19.6, people: 2 },
    { kind: "expansion", layer: "x", material: "acrylic", movementMm: 11.4, gapMm: 6, holeMm: 17, screwMm: 5 },
    { kind: "freezing", layer: null, freezesC: -3, lowestC: -15 },
    { kind: "boiling", layer: null, stagnationC: 141 },
    { kind: "concentrated", layer: null, gain: 1.7 },
  ];
  for (const h of hazards) {
    const { title, todo } = hazardWords(h, materials);
    clean(title);
    clean(todo);
    expect(title).not.toMatch(/-\d/);
  }
});

test("every item of the checklist is an order a person can tick", () => {
  const kinds: ItemKind[] = [
    "measureAreas",
    "weigh",
    "paintOnFoam",
    "ventilate",
    "bakeOut",
    "degrease",
    "paintCoats",
    "cure",
    "drillOversize",
    "expansionGap",
    "cellEnds",
    "deburr",
    "dust",
    "bond",
    "lift",
    "liftGlass",
    "channelClear",
    "insulationDry",
    "smokeTest",
    "pressureTest",
    "sealJoints",
    "sealCure",
    "probeInlet",
    "probeOutlet",
    "probePlate",
    "probeShield",
    "firstStagnation",
    "firstSmell",
    "freezeDrain",
    "reliefValve",
    "mirrorCover",
  ];
  const values = {
    paint: "Paint",
    foam: "foam",
    material: "sheet",
    hours: 4,
    hole: 12,
    screw: 5,
    gap: 6,
    bond: 30,
    mass: 20,
    people: 2,
    depth: 15,
    bar: 1.5,
    temperature: 140,
    air: 1,
    diameters: 5,
    form: "flat",
  };
  for (const kind of kinds) clean(checklistWords({ key: kind, stage: "cut", kind, values } as ChecklistItem));
});

test("baths: problems and warnings in words", () => {
  for (const p of [
    { kind: "tooFewProbes", probes: 1 },
    { kind: "duplicate", key: "a" },
    { kind: "tooShort", readings: 4, needed: 10 },
    { kind: "referenceMissing", key: "a" },
    { kind: "gone" },
  ] as const)
    clean(bathProblemWords(p));
  for (const w of [
    { kind: "twoProbes" },
    { kind: "constant", spanK: 0.4, atC: 20 },
    { kind: "slopeRefused", spanK: 3, neededK: 10 },
    { kind: "slopeLagMixed" },
    { kind: "cooledTooFast", rateKPerMin: 1.2, lagSpreadS: 80, errorK: 1.6 },
  ] as const)
    clean(bathWarningWords(w));
  expect(bathWarningWords({ kind: "missing", key: "d", share: 0.5 })).toContain("50");
  expect(bathWarningWords({ kind: "outlier", key: "d", byK: 6 })).toContain("6.0");
});

test("materials files and lists", () => {
  clean(materialProblemWords({ kind: "unknownWord", row: 2, column: "group", value: "wood", allowed: ["board"] }));
  clean(materialProblemWords({ kind: "outOfRange", row: 2, column: "absorptance", value: 3, min: 0, max: 1 }));
  expect(listWords([])).toBe("");
  expect(listWords(["a"])).toBe("a");
  expect(listWords(["a", "b", "c"])).toBe("a, b and c");
  expect(CASES.map((c) => CASE_WORDS[c]).every((w) => w.length > 4)).toBe(true);
});
