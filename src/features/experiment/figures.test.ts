import { ASPECTS, withAspect } from "@/core/collector/compare";
import { whyLess } from "@/core/collector/explain";
import { ABSORBER_FORMS } from "@/core/collector/form/list";
import { predict } from "@/core/collector/predict";
import type { FigureName } from "@/core/collector/prediction";
import { presetDesign } from "@/core/collector/presets";
import { quantityText } from "@/core/quantity/format";
import { studyDesign } from "@/core/collector/study";
import { aspectText } from "./aspectText";
import { differenceData, FIGURE_META, figureData, layerWorking, predictedWorking } from "./figures";
import { TEST_OPERATING as OPERATING } from "../../../scripts/testing/bench";

describe("predicted figures as the screen shows them", () => {
  test.each(ABSORBER_FORMS)(
    "%s: every figure has a unit, a working whose budget sums to its variance, and text without NaN",
    (form) => {
      const p = predict(presetDesign(form), OPERATING);
      for (const name of Object.keys(p.figures) as FigureName[]) {
        const data = figureData(p, name)!;
        expect(quantityText(data.si, data.quantity, { expanded: data.expanded ?? undefined })).not.toMatch(
          /NaN|undefined|Infinity/,
        );
        const w = predictedWorking(p, name, OPERATING, "B");
        expect(w.formula.length).toBeGreaterThan(0);
        expect(w.lanes).toEqual(["B"]);
        const total = w.budget.reduce((s, b) => s + b.share, 0);
        if (data.expanded !== null) expect(total).toBeGreaterThan(0.95);
        expect(total).toBeLessThan(1.0001);
      }
      for (const l of p.layers)
        if (l) expect(layerWorking(l.mirror, "x", "y", OPERATING, "A").figure.si).toBe(l.mirror.value);
    },
  );
  test("a figure a form does not have is null, and has a name all the same", () => {
    const p = predict(presetDesign("perforated"), OPERATING);
    expect(figureData(p, "eta0")).toBeNull();
    expect(FIGURE_META.eta0.label).toBe("Zero-loss efficiency");
  });
  test("in a difference what both designs share cancels", () => {
    const a = predict(presetDesign("corrugated"), OPERATING);
    const b = predict({ ...presetDesign("corrugated"), ports: { diameterM: 0.1, count: 1 } }, OPERATING);
    const d = differenceData(a, b, "heatPerArea")!;
    expect(Math.abs(d.si)).toBeLessThan(0.01);
    expect(d.expanded ?? 0).toBeLessThan(0.01);
    expect(differenceData(a, b, "outlet")!.quantity).toBe("temperatureDifference");
    expect(differenceData(a, predict(presetDesign("perforated"), OPERATING), "eta0")).toBeNull();
  });
});

describe("why one gives less", () => {
  test("a darker surface, a thinner channel, more wool: the swap that matters comes first", () => {
    const good = presetDesign("corrugated");
    const grey = {
      ...good,
      materials: { ...good.materials, "paint-black-matt": { ...good.materials["paint-black-matt"], absorptance: 0.7 } },
    };
    const slow = { ...good, layers: good.layers.map((l) => (l.kind === "channel" ? { ...l, thicknessM: 0.08 } : l)) };
    const p = predict(good, OPERATING);
    expect(whyLess(predict(grey, OPERATING), p, OPERATING)[0].reason).toBe("light");
    expect(whyLess(predict(slow, OPERATING), p, OPERATING)[0].reason).toBe("transfer");
    expect(whyLess(predict({ ...good, grossWidthM: 0.7 }, OPERATING), p, OPERATING)[0].reason).toBe("aperture");
    expect(whyLess(p, p, OPERATING)).toEqual([]);
  });
});

describe("aspects in words", () => {
  test.each(ABSORBER_FORMS)("%s: every aspect says something a person can check", (form) => {
    for (const aspect of ASPECTS)
      for (const system of ["metric", "us"] as const) {
        const text = aspectText(presetDesign(form), aspect, system);
        expect(text).not.toBe("");
        expect(text).not.toMatch(/NaN|undefined|null/);
      }
  });
  test("words follow the design", () => {
    const base = presetDesign("flat");
    expect(aspectText(base, "glazing", "metric")).toMatch(/^float glass 4\s?mm$/);
    expect(aspectText(withAspect(base, presetDesign("hose"), "glazing"), "glazing", "metric")).toBe("none");
    expect(aspectText({ ...base, drive: { kind: "natural", heightM: 2 } }, "drive", "metric")).toContain(
      "natural draught",
    );
  });
});

test("a study of what cannot be built has problems and nothing else", () => {
  const base = presetDesign("flat");
  expect(studyDesign({ ...base, layers: [] }, OPERATING, -10)).toEqual({
    problems: [{ kind: "noLayers", layer: null }],
    prediction: null,
    limits: [],
    hazards: [],
    checklist: [],
  });
  expect(studyDesign(base, OPERATING, -10).checklist.length).toBeGreaterThan(8);
});
