import { fluidOf } from "../../fluids/fluid";
import { libraryMaterial } from "../../materials/library";
import { billOf, buildHours } from "../bill";
import { designAreas } from "../content";
import { absorberArea, absorberLayer, apertureArea, coveredShare, layerDepth, opening, type Design } from "../design";
import { opticalLimit } from "../optics";
import { cover } from "./layers";
import { flowAdvice } from "../flowAdvice";
import { predict } from "../predict";
import type { Operating } from "../prediction";
import { presetDesign } from "../presets";
import { studyDesign } from "../study";
import { designProblems } from "../validate";
import { standardUncertainty } from "../../uncertainty/uncertain";
import { ABSORBER_FORMS, FORMS, formOf, type AbsorberForm } from "./list";

const OPERATING: Operating = {
  irradianceWm2: 850,
  ambientC: 10,
  inletC: 25,
  windMs: 1.5,
  tilt: 45,
  pressurePa: 90000,
  massFluxKgM2S: 0.015,
  extremeAmbientC: 32,
  extremeIrradianceWm2: 1050,
  basis: "gross",
  reduced: "mean",
};

/** A bought module with a curve on its plate, as a design like any other. */
const stated = (shape: Record<string, number>): Design => {
  const d = presetDesign("boughtModule");
  return {
    ...d,
    layers: d.layers.map((l) => (l.kind === "absorber" ? { ...l, shape: { ...l.shape, ...shape } } : l)),
  };
};
const buildable = (form: AbsorberForm) =>
  form === "boughtModule" ? stated({ statedEta0: 0.7, statedA1: 3.8, statedA2: 0.012 }) : presetDesign(form);

describe.each(ABSORBER_FORMS)("%s, as every form", (name) => {
  const design = buildable(name);
  const absorber = absorberLayer(design)!;
  const form = formOf(absorber);
  test("its usual build has no problem, and its dimensions lie inside their limits", () => {
    expect(designProblems(design)).toEqual([]);
    for (const f of FORMS[name].fields) {
      expect(f.max).toBeGreaterThan(f.min);
      expect(f.usual).toBeGreaterThanOrEqual(f.min);
      expect(f.usual).toBeLessThanOrEqual(f.max);
    }
    for (const key of [
      form.start.absorber.material,
      ...(form.start.absorber.coating ? [form.start.absorber.coating] : []),
    ])
      expect(libraryMaterial(key).key).toBe(key);
  });
  test("a dimension outside its limits is named", () => {
    for (const f of form.fields) {
      const wrong = {
        ...design,
        layers: design.layers.map((l) =>
          l.kind === "absorber" ? { ...l, shape: { ...l.shape, [f.name]: f.max * 2 + 1 } } : l,
        ),
      };
      expect(designProblems(wrong)).toContainEqual(expect.objectContaining({ kind: "outOfRange", field: f.name }));
    }
  });
  test("shares are shares, depths and volumes positive, areas in order", () => {
    const share = coveredShare(absorber, opening(design));
    expect(share).toBeGreaterThan(0);
    expect(share).toBeLessThanOrEqual(1);
    expect(layerDepth(absorber)).toBeGreaterThan(0);
    expect(form.volumeM(absorber.shape, absorber.thicknessM, opening(design))).toBeGreaterThan(0);
    expect(form.surfaceRatio?.(absorber.shape) ?? 1).toBeGreaterThanOrEqual(1);
    const { gross, aperture } = designAreas(design);
    expect(apertureArea(design)).toBeLessThanOrEqual(gross);
    expect(absorberArea(design)).toBeLessThanOrEqual(aperture + 1e-9);
  });
  test("it is predicted below its optical limit, with its ±, and everything hangs together", () => {
    const study = studyDesign(design, OPERATING, -10);
    const { heat, efficiency, eta0, stagnation, rise } = study.prediction!.figures;
    expect(heat!.value).toBeGreaterThan(0);
    expect(standardUncertainty(heat!)).toBeGreaterThan(0);
    expect(rise!.value).toBeGreaterThan(0);
    if (name !== "boughtModule")
      expect(efficiency!.value).toBeLessThan(opticalLimit(design, designAreas(design).gross));
    if (eta0) expect(eta0.value).toBeGreaterThan(efficiency!.value);
    expect(stagnation!.value).toBeGreaterThan(40);
  });
  test("the bill can be drawn up, and the hours are not negative", () => {
    const { lines, repeat } = billOf(design);
    expect(lines.length).toBeGreaterThan(0);
    expect(repeat).toBeGreaterThan(0);
    expect(buildHours(design).first).toBeGreaterThanOrEqual(buildHours(design).repeat);
  });
  test("what it cannot carry is refused", () => {
    const kinds = (kind: "air" | "water") => designProblems({ ...design, fluid: fluidOf(kind) }).map((p) => p.kind);
    expect(kinds("water").includes("waterInAirForm")).toBe(form.carries === "air");
    expect(kinds("air").includes("airInLiquidForm")).toBe(form.carries === "liquid");
  });
});

describe("evacuated tubes", () => {
  const tubes = presetDesign("evacuatedTubes");
  const at = (d: Design, inletC: number) => predict(d, { ...OPERATING, inletC, basis: "aperture" }).figures;
  test("lose little: a1 on the aperture lies near 1 W/(m²·K), far below a glazed sheet's", () => {
    const { a1, eta0 } = at(tubes, 25);
    expect(a1!.value).toBeGreaterThan(0.3);
    expect(a1!.value).toBeLessThan(2.5);
    expect(a1!.value).toBeLessThan(0.5 * at(presetDesign("tubeSheet"), 25).a1!.value);
    expect(eta0!.value).toBeGreaterThan(0.4);
    expect(eta0!.value).toBeLessThan(0.8);
  });
  test("a tube that let air in, or lost its selective surface, loses more", () => {
    const black: Design = {
      ...tubes,
      materials: { ...tubes.materials, "foil-selective": { ...tubes.materials["foil-selective"], emittance: 0.9 } },
    };
    expect(at(black, 60).heat!.value).toBeLessThan(at(tubes, 60).heat!.value);
    expect(at(black, 25).a1!.value).toBeGreaterThan(2 * at(tubes, 25).a1!.value);
  });
  test("beat the glazed sheet hot and not cold", () => {
    const sheet = presetDesign("tubeSheet");
    expect(at(tubes, 80).efficiency!.value).toBeGreaterThan(at(sheet, 80).efficiency!.value);
  });
  test("carry air as well as water", () => {
    const wide = {
      ...tubes,
      fluid: fluidOf("air"),
      layers: tubes.layers.map((l) => (l.kind === "absorber" ? { ...l, shape: { ...l.shape, innerM: 0.04 } } : l)),
      drive: presetDesign("columns").drive,
      ports: { diameterM: 0.1, count: 1 },
    };
    expect(designProblems(wide)).toEqual([]);
    expect(at(wide, 25).rise!.value).toBeGreaterThan(10);
  });
  test("stagnate hot enough to be warned of", () => expect(at(tubes, 25).stagnation!.value).toBeGreaterThan(150));
});

describe("a bought module", () => {
  test("without a stated curve nothing is predicted, and it says why", () => {
    const study = studyDesign(presetDesign("boughtModule"), OPERATING, -10);
    expect(study.prediction).toBeNull();
    expect(study.problems.map((p) => p.kind)).toEqual(["nothingStated"]);
  });
  test("nobody works out a flow from layers it does not have", () => {
    expect(() => flowAdvice(presetDesign("boughtModule"), OPERATING)).toThrow(RangeError);
    expect(() => flowAdvice(stated({ statedEta0: 0.7 }), OPERATING)).toThrow(RangeError);
  });
  test("with one, heat follows the curve: q = G·η0 − a1·ΔT − a2·ΔT² at the mean temperature it reaches", () => {
    const { figures } = predict(stated({ statedEta0: 0.7, statedA1: 3.8, statedA2: 0.012 }), OPERATING);
    const mean = OPERATING.inletC + figures.rise!.value / 2 - OPERATING.ambientC;
    expect(figures.heatPerArea!.value).toBeCloseTo(850 * 0.7 - 3.8 * mean - 0.012 * mean ** 2, 6);
  });
  test("its areas are as stated, and its curve is turned to the basis asked for", () => {
    const d = stated({ statedEta0: 0.7, statedA1: 3.8, apertureShare: 0.8, absorberShare: 0.75 });
    expect(designAreas(d).aperture).toBeCloseTo(0.8 * designAreas(d).gross, 12);
    const [gross, aperture] = (["gross", "aperture"] as const).map((basis) => predict(d, { ...OPERATING, basis }));
    expect(aperture.figures.eta0!.value).toBeCloseTo(gross.figures.eta0!.value / 0.8, 9);
    expect(aperture.figures.heat!.value).toBeCloseTo(gross.figures.heat!.value, 9);
  });
  test("stagnates where its curve gives no heat", () => {
    const t = predict(stated({ statedEta0: 0.7, statedA1: 3.8, statedA2: 0.012 }), OPERATING).figures.stagnation!.value;
    expect(1000 * 0.7 - 3.8 * (t - 30) - 0.012 * (t - 30) ** 2).toBeCloseTo(0, 6);
  });
});

test("the glass of the usual builds is as thick as the library sells it", () => {
  const glass = cover("cover");
  expect(glass.kind === "cover" && glass.thicknessM).toBe(libraryMaterial("glass-toughened").thicknessM);
});
