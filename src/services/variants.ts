import type { Knex } from "knex";
import { standardPressure } from "../core/fluids/moistAir";
import type { Operating } from "../core/collector/predict";
import type { Material } from "../core/materials/material";
import { findExperiment, type ExperimentHead } from "../data/experiments";
import { listMaterials, listVariants, type Variant } from "../data/variants";

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
    irradianceWm2: operatingPoint.irradianceWm2, ambientC: operatingPoint.ambientC, inletC: operatingPoint.inletC, massFluxKgM2S: operatingPoint.flowPerArea,
    windMs: ask.use.windMs, tilt: ask.use.tilt, pressurePa: standardPressure(site.altitudeM), extremeAmbientC: ask.use.hottestC, extremeIrradianceWm2: ask.use.strongestWm2, basis: areaBasis, reduced: basis,
  };
}

/** Everything Ask and Build need of an experiment. null when it is not there. */
export async function variantsView(knex: Knex, experimentId: number): Promise<VariantsView | null> {
  const experiment = await findExperiment(knex, experimentId);
  if (!experiment) return null;
  const [variants, ownMaterials] = await Promise.all([listVariants(knex, experimentId), listMaterials(knex)]);
  return { experimentId, operating: operatingOf(experiment), lowestC: experiment.settings.ask.use.lowestC, variants, ownMaterials };
}
