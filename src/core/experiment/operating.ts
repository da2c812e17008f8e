import type { Operating } from "../collector/prediction";
import { sitePressure } from "../site/site";
import type { ExperimentHead } from "./types";

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
