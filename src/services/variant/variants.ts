import type { Knex } from "knex";
import type { Material } from "../../core/materials/material";
import { operatingOf } from "../../core/experiment/operating";
import { designAreas } from "../../core/collector/content";
import { studyDesign, type Study } from "../../core/collector/study";
import { predict } from "../../core/collector/predict";
import type { Operating } from "../../core/collector/prediction";
import { designProblems } from "../../core/collector/validate";
import { expanded } from "../../core/uncertainty/coverage";
import { measured } from "../../core/uncertainty/uncertain";
import type { ExperimentHead } from "../../core/experiment/types";
import { jsonBytes } from "../analysis/memo";
import { store } from "../analysis/store";
import type { ExperimentView } from "../page/views";
import { listMaterials } from "../../data/variant/materials";
import { listVariants } from "../../data/variant/variants";
import type { Variant } from "../../core/experiment/records";

export interface VariantsView {
  experimentId: number;
  operating: Operating;
  lowestC: number;
  variants: Variant[];
  /** The user's own materials; the shipped library is part of the application. */
  ownMaterials: Material[];
}

/** Everything Ask and Build need of an experiment already loaded. */
export async function variantsOf(knex: Knex, experiment: ExperimentHead): Promise<VariantsView> {
  const experimentId = experiment.id;
  const [variants, ownMaterials] = await Promise.all([listVariants(knex, experimentId), listMaterials(knex)]);
  return {
    experimentId,
    operating: operatingOf(experiment),
    lowestC: experiment.settings.ask.use.lowestC,
    variants,
    ownMaterials,
  };
}

export { findRevision as revisionOf } from "../../data/variant/revisions";

export interface PredictedCurve {
  lane: string;
  points: { x: number; efficiency: number; plusMinus: number }[];
}

/** A variant's study, and of which revision. */
export interface ShownStudy {
  variantId: number;
  revision: number;
  study: Study;
}

/** What the shown variant's design should do where the winner will run. null when no variant is drawn. */
export async function studyOf(view: VariantsView, shown: string | null): Promise<ShownStudy | null> {
  const variant = view.variants.find((v) => v.letter === shown) ?? view.variants[0];
  if (!variant) return null;
  const key = JSON.stringify(["study", variant.design, view.operating, view.lowestC]);
  const study = await store.get(key, async () => studyDesign(variant.design, view.operating, view.lowestC), jsonBytes);
  return { variantId: variant.id, revision: variant.revision, study };
}

/**
 * What each lane's design should have measured: predicted at the sun, flow and tilt its own windows had, on the area its heat is
 * divided by. Lanes whose design is only a sketch from an import are left out: their dimensions are assumptions.
 */
export async function predictedCurves(view: ExperimentView): Promise<PredictedCurve[]> {
  const found = await Promise.all(view.head.lanes.map((lane) => predictedCurve(view, lane)));
  return found.filter((c) => c !== null);
}

async function predictedCurve(
  { head, points: all, runs }: ExperimentView,
  lane: ExperimentView["head"]["lanes"][number],
): Promise<PredictedCurve | null> {
  const points = all.filter((p) => p.lane === lane.letter);
  if (lane.design.sketch || !points.length || designProblems(lane.design).length) return null;
  const mean = (of: (p: (typeof points)[number]) => number) =>
    points.reduce((sum, p) => sum + of(p), 0) / points.length;
  const base = operatingOf(head);
  const areas = designAreas(lane.design);
  const { grossAreaM2, apertureAreaM2, absorberAreaM2 } = lane.asBuilt;
  const asBuilt =
    { gross: grossAreaM2, aperture: apertureAreaM2, absorber: absorberAreaM2 }[base.basis] ?? areas[base.basis];
  const op: Operating = {
    ...base,
    irradianceWm2: Math.round(mean((p) => p.irradiance.si)),
    tilt: runs[runs.length - 1]?.tilt ?? base.tilt,
  };
  const flow = mean((q) => q.massFlow.si);
  const key = JSON.stringify(["curve", lane.design, op, flow.toPrecision(4), asBuilt]);
  const make = async (): Promise<PredictedCurve["points"]> => {
    const scale = areas[base.basis] / asBuilt;
    return predict(lane.design, op, flow).points.map((q) => ({
      x: q.x,
      efficiency: q.efficiency.value * scale,
      plusMinus: expanded(measured(q.efficiency)) * scale,
    }));
  };
  return { lane: lane.letter, points: await store.get(key, make, jsonBytes) };
}
