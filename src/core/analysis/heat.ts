/**
 * The four figures of a collector in use. All SI; each is one line, because each is the
 * line a person will read in the working panel.
 */

/** Useful heat, W: Q = ṁ·cp·(Tout − Tin) (DB 6.17.1; cp at the mean fluid temperature, as ISO 9806:2017 takes it). */
export const usefulHeat = (
  massFlowKgPerS: number,
  specificHeatJPerKgK: number,
  inletC: number,
  outletC: number,
): number => massFlowKgPerS * specificHeatJPerKgK * (outletC - inletC);

/** Efficiency η = Q/(A·G), dimensionless; A by the chosen basis. Throws when A·G is not positive. */
export function efficiency(heatW: number, areaM2: number, irradianceWm2: number): number {
  if (!(areaM2 > 0 && irradianceWm2 > 0)) throw new RangeError("efficiency needs a positive area and irradiance");
  return heatW / (areaM2 * irradianceWm2);
}

export type TemperatureBasis = "mean" | "inlet";

/** Reduced temperature difference, K·m²/W: (Tm − Ta)/G or (Tin − Ta)/G. */
export function reducedTemperatureDifference(
  {
    inletC,
    outletC,
    ambientC,
    irradianceWm2,
  }: { inletC: number; outletC: number; ambientC: number; irradianceWm2: number },
  basis: TemperatureBasis,
): number {
  const fluid = basis === "mean" ? (inletC + outletC) / 2 : inletC;
  return (fluid - ambientC) / irradianceWm2;
}

/** Heat per area, W/m², of a curve at an operating point: q = G·η0 − a1·(T − Ta) − a2·(T − Ta)². */
export function heatPerArea(
  { eta0, a1, a2 }: { eta0: number; a1: number; a2: number },
  irradianceWm2: number,
  differenceK: number,
): number {
  return irradianceWm2 * eta0 - a1 * differenceK - a2 * differenceK ** 2;
}

/**
 * Heat less the electricity it costs, W: Q − weight·P. @param weight what a watt of electricity counts against a watt
 * of heat; 1 unless the user says otherwise
 */
export const netHeat = (heatW: number, electricalW: number, weight = 1): number => heatW - weight * electricalW;

/** Heat moved per electricity used. Infinity when nothing drives the stream. */
export const coefficientOfPerformance = (heatW: number, electricalW: number): number =>
  electricalW > 0 ? heatW / electricalW : Infinity;
