import type { Knex } from "knex";
import { sitePressure } from "../core/site/site";
import type { Material } from "../core/materials/material";
import { designAreas } from "../core/collector/capacity";
import { predict } from "../core/collector/predict";
import type { Operating } from "../core/collector/prediction";
import { designProblems } from "../core/collector/validate";
import { expanded, measured } from "../core/uncertainty/uncertain";
import { findExperiment } from "../data/experiment/experiments";
import type { ExperimentHead } from "../core/experiment/types";
import type { ExperimentView } from "./views";
import { listMaterials, listVariants } from "../data/variant/variants";
import type { Variant } from "../core/experiment/records";

export interface VariantsView {
  experimentId: number;
  operating: Operating;
  lowestC: number;
  variants: Variant[];
  /** The user's own materials; the shipped library is part of the application. */
  ownMaterials: Material[];
}

/** Where the winner will run, as the collector model asks for it. */
export function operatingOf({ settings, site }: Pick<ExperimentHead, "settings" | "site">): Operating {
  const { operatingPoint, ask, areaBasis, basis } = settings;
  return {
    irradianceWm2: operatingPoint.irradianceWm2,
    ambientC: operatingPoint.ambientC,
    inletC: operatingPoint.inletC,
    massFluxKgM2S: operatingPoint.flowPerArea,
    windMs: ask.use.windMs,
    tilt: ask.use.tilt,
    pressurePa: sitePressure(site),
    extremeAmbientC: ask.use.hottestC,
    extremeIrradianceWm2: ask.use.strongestWm2,
    basis: areaBasis,
    reduced: basis,
  };
}

/** Everything Ask and Build need of an experiment. null when it is not there. */
export async function variantsView(knex: Knex, experimentId: number): Promise<VariantsView | null> {
  const experiment = await findExperiment(knex, experimentId);
  return experiment && variantsOf(knex, experiment);
}

/** The same of an experiment already loaded. */
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

export { findRevision as revisionOf } from "../data/variant/variants";

export interface PredictedCurve {
  lane: string;
  points: { x: number; efficiency: number; plusMinus: number }[];
}

const curves = ((globalThis as { bravelPredicted?: Map<string, PredictedCurve["points"]> }).bravelPredicted ??=
  new Map());
const KEPT = 40;

/**
 * What each lane's design should have measured: predicted at the sun, flow and tilt its own windows had, on the area its heat is
 * divided by. Lanes whose design is only a sketch from an import are left out: their dimensions are assumptions.
 */
export function predictedCurves(view: ExperimentView): PredictedCurve[] {
  const { head } = view;
  const base = operatingOf(head);
  return head.lanes.flatMap((lane): PredictedCurve[] => {
    const points = view.points.filter((p) => p.lane === lane.letter);
    if (lane.design.sketch || !points.length || designProblems(lane.design).length) return [];
    const mean = (of: (p: (typeof points)[number]) => number) =>
      points.reduce((sum, p) => sum + of(p), 0) / points.length;
    const areas = designAreas(lane.design);
    const asBuilt =
      { gross: lane.asBuilt.grossAreaM2, aperture: lane.asBuilt.apertureAreaM2, absorber: lane.asBuilt.absorberAreaM2 }[
        base.basis
      ] ?? areas[base.basis];
    const op: Operating = {
      ...base,
      irradianceWm2: Math.round(mean((p) => p.irradiance.si)),
      tilt: view.runs[view.runs.length - 1]?.tilt ?? base.tilt,
    };
    const key = JSON.stringify([lane.design, op, mean((p) => p.massFlow.si).toPrecision(4), asBuilt]);
    let found = curves.get(key);
    if (!found) {
      const p = predict(
        lane.design,
        op,
        mean((q) => q.massFlow.si),
      );
      const scale = areas[base.basis] / asBuilt;
      found = p.points.map((q) => ({
        x: q.x,
        efficiency: q.efficiency.value * scale,
        plusMinus: expanded(measured(q.efficiency)) * scale,
      }));
      curves.set(key, found);
      for (const old of [...curves.keys()].slice(0, -KEPT)) curves.delete(old);
    }
    return [{ lane: lane.letter, points: found }];
  });
}
