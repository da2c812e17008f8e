import { layerMasses } from "./content";
import { absorberLayer, airPath, type Design } from "./design";
import { hazards, type Hazard } from "./limits";
import type { Prediction } from "./prediction";

export const STAGES = ["before", "cut", "paint", "assemble", "seal", "probes", "firstSun"] as const;
export type Stage = (typeof STAGES)[number];

/** One thing to do while building. `key` stays the same when the design changes, so that ticks and notes stay with it. */
export interface ChecklistItem {
  key: string;
  stage: Stage;
  kind: ItemKind;
  /** Numbers and names the text needs. */
  values: Record<string, number | string>;
}

export type ItemKind =
  | "measureAreas"
  | "weigh"
  | "paintOnFoam"
  | "ventilate"
  | "bakeOut"
  | "degrease"
  | "paintCoats"
  | "cure"
  | "drillOversize"
  | "expansionGap"
  | "cellEnds"
  | "deburr"
  | "dust"
  | "bond"
  | "lift"
  | "liftGlass"
  | "channelClear"
  | "insulationDry"
  | "smokeTest"
  | "pressureTest"
  | "sealJoints"
  | "sealCure"
  | "probeInlet"
  | "probeOutlet"
  | "probePlate"
  | "probeShield"
  | "firstStagnation"
  | "firstSmell"
  | "freezeDrain"
  | "reliefValve"
  | "mirrorCover";

/** Drying before the next coat and before sun, h: water-based and solvent-borne paint. Typical values; the tin's text comes first. */
const DRYING = { water: [4, 48], solvent: [2, 72] } as const;

/** What to do, from the stack: in the order of building. */
export function checklistOf(d: Design, p: Prediction, lowestC: number): ChecklistItem[] {
  const items: ChecklistItem[] = [];
  const add = (stage: Stage, kind: ItemKind, values: ChecklistItem["values"] = {}, owner = "") =>
    items.push({ key: owner ? `${kind}:${owner}` : kind, stage, kind, values });
  const found = hazards(d, p, lowestC);
  const of = <K extends Hazard["kind"]>(kind: K) =>
    found.filter((h): h is Extract<Hazard, { kind: K }> => h.kind === kind);
  const absorber = absorberLayer(d);
  const name = (key: string) => d.materials[key].name;

  for (const h of of("solventOnFoam"))
    add("before", "paintOnFoam", { paint: name(h.coating), foam: name(h.foam) }, h.coating);
  for (const h of of("outgassing")) add("before", "bakeOut", { material: name(h.material) }, h.material);

  const used = new Set(d.layers.flatMap((l) => ("material" in l ? [l.material] : [])));
  if ([...used].some((k) => d.materials[k].flags.includes("sharp"))) add("cut", "deburr");
  if ([...used].some((k) => d.materials[k].flags.includes("fibres"))) add("cut", "dust");
  for (const h of of("expansion")) {
    add("cut", "drillOversize", { material: name(h.material), hole: h.holeMm, screw: h.screwMm }, h.layer!);
    add("cut", "expansionGap", { material: name(h.material), gap: h.gapMm }, h.layer!);
  }
  for (const l of d.layers)
    if (
      l.kind === "cover" &&
      (l.material.includes("twin") || l.material.includes("triple") || l.material.includes("cellular"))
    )
      add("cut", "cellEnds", { material: name(l.material) }, l.id);

  for (const l of d.layers) {
    const coating = "coating" in l ? l.coating : null;
    if (!coating || d.materials[coating].unit !== "litre") continue;
    const solvent = d.materials[coating].flags.includes("solvent");
    const [recoat, sun] = DRYING[solvent ? "solvent" : "water"];
    if (solvent) add("paint", "ventilate", { paint: name(coating) }, coating);
    add("paint", "degrease", { material: name((l as { material: string }).material) }, l.id);
    add("paint", "paintCoats", { paint: name(coating), hours: recoat }, l.id);
    add("paint", "cure", { paint: name(coating), hours: sun }, l.id);
  }

  if (absorber && "bondWmK" in absorber.shape) add("assemble", "bond", { bond: absorber.shape.bondWmK });
  add("assemble", "insulationDry");
  if (d.fluid.kind === "air" && airPath(d) !== "none")
    add("assemble", "channelClear", {
      depth: Math.round(
        1000 * (d.layers.find((l) => l.kind === "channel")?.thicknessM ?? absorber?.shape.diameterM ?? 0),
      ),
    });
  for (const h of of("glass")) add("assemble", "liftGlass", { mass: Math.round(h.massKg), people: h.people }, h.layer!);
  for (const h of of("lifting")) add("assemble", "lift", { mass: Math.round(h.massKg), people: h.people });

  add("seal", "sealJoints");
  add("seal", "sealCure", { hours: 24 });
  if (d.fluid.kind === "air") add("seal", "smokeTest");
  else add("seal", "pressureTest", { bar: 1.5 });
  if (of("boiling").length) add("seal", "reliefValve", { temperature: Math.round(of("boiling")[0].stagnationC) });

  add("probes", "probeInlet", { air: d.fluid.kind === "air" ? 1 : 0 });
  add("probes", "probeOutlet", { air: d.fluid.kind === "air" ? 1 : 0, diameters: 5 });
  add("probes", "probePlate", { form: absorber?.form ?? "flat" });
  add("probes", "probeShield");

  add("firstSun", "measureAreas");
  add("firstSun", "weigh", { mass: Math.round(layerMasses(d).reduce((a, b) => a + b, 0)) });
  add("firstSun", "firstStagnation", { temperature: Math.round(p.figures.stagnation?.value ?? 0) });
  if (d.fluid.kind === "air") add("firstSun", "firstSmell");
  if (of("freezing").length) add("firstSun", "freezeDrain");
  if (of("concentrated").length) add("firstSun", "mirrorCover");
  return items;
}
