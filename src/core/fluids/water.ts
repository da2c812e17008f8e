/**
 * Density of water, kg/m³, at 0 to 100 °C and atmospheric pressure (Kell 1975, eq. 16; within 0.01 %).
 *
 * @example waterDensity(25) // 997.04
 */
export function waterDensity(t: number): number {
  if (!(t >= -5 && t <= 110)) throw new RangeError("water temperature outside −5 to 110 °C");
  const numerator =
    999.83952 +
    16.945176 * t -
    7.9870401e-3 * t ** 2 -
    46.170461e-6 * t ** 3 +
    105.56302e-9 * t ** 4 -
    280.54253e-12 * t ** 5;
  return numerator / (1 + 16.87985e-3 * t);
}

/**
 * Specific heat of water, J/(kg·K), 0 to 100 °C at atmospheric pressure: least-squares
 * quintic through the tabulated values 4217.6, 4192.1, 4181.8, 4178.4, 4178.5, 4180.6, 4184.3,
 * 4189.5, 4196.3, 4205.0, 4215.9 at 0, 10, … 100 °C (CRC Handbook, properties of water), within 0.4.
 */
export function waterSpecificHeat(t: number): number {
  if (!(t >= -5 && t <= 110)) throw new RangeError("water temperature outside −5 to 110 °C");
  const x = t / 100;
  return 4217.489 + x * (-349.181 + x * (1161.767 + x * (-1861.029 + x * (1517.92 - x * 471.154))));
}

const glycolSeries = (a: readonly number[], mass: number, T: number) => {
  const r = 273.15 / T;
  return a[0] + a[1] * mass + a[2] * r + a[3] * mass * r + a[4] * r * r;
};

/**
 * Propylene glycol in water, by mass fraction 0.15 to 0.6, from freezing to 100 °C (within 1 %; at 0
 * it gives water's density, and its specific heat 1 % too high).
 * Source: Conde (2011), property formulas of brines; density in kg/m³, specific heat in J/(kg·K).
 */
export function glycolDensity(temperatureC: number, massFraction: number): number {
  checkGlycol(temperatureC, massFraction);
  return glycolSeries([508.41109, -182.4082, 965.76507, 280.29104, -472.2251], massFraction, temperatureC + 273.15);
}

/** See {@link glycolDensity}. */
export function glycolSpecificHeat(temperatureC: number, massFraction: number): number {
  checkGlycol(temperatureC, massFraction);
  return 1000 * glycolSeries([4.47642, 0.60863, -0.71497, -1.93855, 0.47873], massFraction, temperatureC + 273.15);
}

/** Temperature, °C, at which ice begins to form in propylene glycol and water (Conde 2011). */
export function glycolFreezingPoint(massFraction: number): number {
  if (!(massFraction >= 0 && massFraction <= 0.6)) throw new RangeError("glycol mass fraction outside 0 to 0.6");
  return 273.15 * (1 - 0.03736 * massFraction - 0.4005 * massFraction ** 2) - 273.15;
}

function checkGlycol(temperatureC: number, massFraction: number): void {
  const freezing = glycolFreezingPoint(massFraction);
  if (!(temperatureC >= freezing && temperatureC <= 110)) {
    throw new RangeError(
      `glycol mixture at ${temperatureC} °C is outside freezing (${freezing.toFixed(1)} °C) to 110 °C`,
    );
  }
}

/** Dynamic viscosity of water, Pa·s, 0 to 100 °C (Vogel form 2.414e-5·10^(247.8/(T − 140)), T in K; within 2.5 %). */
export const waterViscosity = (temperatureC: number): number =>
  2.414e-5 * 10 ** (247.8 / (temperatureC + 273.15 - 140));

/** Thermal conductivity of water, W/(m·K), 0 to 100 °C: parabola through 0.561, 0.643 and 0.679 at 0, 50 and 100 °C (CRC Handbook), within 1 %. */
export const waterConductivity = (temperatureC: number): number =>
  0.561 + 2.1e-3 * temperatureC - 9.2e-6 * temperatureC ** 2;
