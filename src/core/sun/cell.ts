/** Short-circuit current of a photovoltaic cell as a sun sensor: G = 1000·(I/I_ref)/(1 + α·(Tc − 25)), W/m². @param temperatureShare α, 1/K: 0.0005 for silicon (typical value) */
export function cellIrradiance(currentA: number, referenceA: number, cellC: number, temperatureShare = 0.0005): number {
  if (!(referenceA > 0)) throw new RangeError("a cell's current at 1,000 W/m² is positive");
  if (!(currentA >= 0)) throw new RangeError("a short-circuit current is not negative: swap the leads");
  return (1000 * (currentA / referenceA)) / (1 + temperatureShare * (cellC - 25));
}
