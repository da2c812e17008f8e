import type { FluidKind } from "../fluids/fluid";
import { standardRules } from "../log/windows";
import type { ExperimentSettingsInput } from "./schema/settings";

/** What an experiment begins with. */
export const standardSettings = (fluid: FluidKind): ExperimentSettingsInput => ({
  rules: standardRules(fluid),
  basis: "mean",
  areaBasis: "gross",
  operatingPoint: { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: fluid === "air" ? 0.02 : 0.015 },
  smallestDifference: 15,
  stationShare: 0.005,
});
