import { corrugated, hoseTight, mesh, selective, TEN, twoGlass, twoGlassFoam } from "../../../demo/designs";
import { ASPECTS, aspectValues } from "@/core/collector/compare";
import type { Design } from "@/core/collector/design";
import { ABSORBER_FORMS } from "@/core/collector/form/list";
import { presetDesign } from "@/core/collector/presets";
import { aspectText } from "./aspectText";

const DESIGNS: Design[] = [
  corrugated,
  mesh,
  selective,
  twoGlass,
  twoGlassFoam,
  hoseTight,
  ...TEN.map((t) => t.design),
  ...ABSORBER_FORMS.map(presetDesign),
];
const base = presetDesign("flat");
const withLayers = (change: (l: Design["layers"][number]) => Design["layers"][number]): Design => ({
  ...base,
  layers: base.layers.map(change),
});

/** One thing changed at a time, by as little as a builder would call a difference. */
const CHANGED: [string, Design][] = [
  ["a painted liner", withLayers((l) => (l.kind === "sheet" ? { ...l, coating: "paint-black-matt" } : l))],
  ["another coating", withLayers((l) => (l.kind === "absorber" ? { ...l, coating: "foil-selective" } : l))],
  ["a bare absorber", withLayers((l) => (l.kind === "absorber" ? { ...l, coating: null } : l))],
  ["a deeper channel", withLayers((l) => (l.kind === "channel" ? { ...l, thicknessM: l.thicknessM + 0.005 } : l))],
  ["a wider gap", withLayers((l) => (l.kind === "gap" ? { ...l, thicknessM: l.thicknessM + 0.005 } : l))],
  ["thicker wool", withLayers((l) => (l.kind === "insulation" ? { ...l, thicknessM: 0.1 } : l))],
  ["a wider box", { ...base, grossWidthM: base.grossWidthM + 0.1 }],
  ["two in series", { ...base, inSeries: 2 }],
  ["two in parallel", { ...base, inParallel: 2 }],
  ["larger ports", { ...base, ports: { ...base.ports, diameterM: base.ports.diameterM + 0.02 } }],
];

describe("an aspect in words", () => {
  test.each(ASPECTS)("%s: two builds that differ in it never read the same", (aspect) => {
    let different = 0;
    for (const a of DESIGNS)
      for (const b of [...DESIGNS, ...CHANGED.map(([, d]) => d)]) {
        if (aspectValues(a)[aspect] === aspectValues(b)[aspect]) continue;
        different++;
        expect(aspectText(a, aspect, "metric")).not.toBe(aspectText(b, aspect, "metric"));
      }
    if (!["drive", "reflector", "arrangement"].includes(aspect)) expect(different).toBeGreaterThan(0);
  });

  test.each(CHANGED)("%s is told in some aspect", (_, design) => {
    const told = ASPECTS.filter((a) => aspectText(base, a, "metric") !== aspectText(design, a, "metric"));
    const meant = ASPECTS.filter((a) => aspectValues(base)[a] !== aspectValues(design)[a]);
    expect(meant.length).toBeGreaterThan(0);
    expect(told).toEqual(meant);
  });

  test.each(["metric", "us"] as const)("has no unknown in it (%s)", (system) => {
    for (const d of DESIGNS)
      for (const a of ASPECTS) expect(aspectText(d, a, system)).not.toMatch(/undefined|NaN|null|^\s*$/);
  });
});
