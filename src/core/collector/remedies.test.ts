import { LIBRARY, libraryMaterial } from "../materials/library";
import type { Design, Layer } from "./design";
import { checkLimits, type HeatLimitCheck } from "./limits";
import { predict } from "./predict";
import { materialsOf, namedMaterials, presetDesign } from "./presets";
import { designProblems } from "./validate";
import { TEST_OPERATING as OPERATING } from "../../../scripts/testing/bench";

const withLayers = (d: Design, layers: Layer[]): Design => ({
  ...d,
  layers,
  materials: { ...d.materials, ...materialsOf(namedMaterials({ ...d, layers })) },
});
const checks = (d: Design): HeatLimitCheck[] => checkLimits(d, predict(d, OPERATING), OPERATING);

/** What pressing the button of a remedy does. */
function apply(d: Design, { remedy }: HeatLimitCheck): Design {
  if (remedy?.kind === "insertWool") {
    const at = d.layers.findIndex((l) => l.id === remedy.before);
    return withLayers(d, [
      ...d.layers.slice(0, at),
      { id: "remedy", kind: "insulation", material: remedy.material, thicknessM: remedy.thicknessM },
      ...d.layers.slice(at),
    ]);
  }
  if (remedy?.kind === "swapMaterial")
    return withLayers(
      d,
      d.layers.map((l) =>
        l.id === remedy.layer
          ? ({
              ...l,
              ...(remedy.what === "coating"
                ? { coating: remedy.to }
                : {
                    material: remedy.to,
                    ...(l.kind === "absorber" ? {} : { thicknessM: libraryMaterial(remedy.to).thicknessM }),
                  }),
            } as Layer)
          : l,
      ),
    );
  return d;
}

const base = presetDesign("corrugated");
const swap = (id: string, change: object): Design =>
  withLayers(
    base,
    base.layers
      .filter((l) => l.id !== "liner" || id !== "wool")
      .map((l) => (l.id === id ? ({ ...l, ...change } as Layer) : l)),
  );

describe("a remedy mends what it is offered for", () => {
  const insulations = LIBRARY.filter((m) => m.group === "insulation").map((m) => m.key);
  test.each(insulations)("insulation: %s", (material) => {
    const d = swap("wool", { material, thicknessM: 0.05 });
    expect(designProblems(d)).toEqual([]);
    const check = checks(d).find((c) => c.layer === "wool" && c.state === "over");
    if (!check) return;
    expect(check.remedy).not.toBeNull();
    expect(checks(apply(d, check)).find((c) => c.layer === "wool")?.state).not.toBe("over");
  });
  const glazings = LIBRARY.filter((m) => m.group === "glazing").map((m) => m.key);
  test.each(glazings)("glazing: %s", (material) => {
    const d = swap("cover", { material, thicknessM: libraryMaterial(material).thicknessM });
    const check = checks(d).find((c) => c.layer === "cover" && c.state === "over");
    if (!check) return;
    expect(check.remedy?.kind).toBe("swapMaterial");
    expect(checks(apply(d, check)).find((c) => c.layer === "cover")?.state).not.toBe("over");
  });
  const coatings = LIBRARY.filter((m) => m.group === "coating").map((m) => m.key);
  test.each(coatings)("coating: %s", (coating) => {
    const d = swap("absorber", { coating });
    const check = checks(d).find((c) => c.what === "coating" && c.state === "over");
    if (!check) return;
    expect(check.remedy?.kind).toBe("swapMaterial");
    const mended = checks(apply(d, check)).find((c) => c.what === "coating");
    expect(mended?.state).not.toBe("over");
  });
});
