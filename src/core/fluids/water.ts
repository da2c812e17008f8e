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
 * quintic through the values of IAPWS-95 (Wagner & Pruß 2002) 4219.9, 4195.5, 4184.4, 4180.1, 4179.6, 4181.5, 4185.1,
 * 4190.2, 4196.9, 4205.3, 4215.7 at 0, 10, … 100 °C, within 0.3.
 */
export function waterSpecificHeat(t: number): number {
  if (!(t >= -5 && t <= 110)) throw new RangeError("water temperature outside −5 to 110 °C");
  const x = t / 100;
  return 4219.827 + x * (-326.553 + x * (994.215 + x * (-1475.677 + x * (1148.383 - x * 344.551))));
}

export const GLYCOLS = ["propylene", "ethylene"] as const;
export type Glycol = (typeof GLYCOLS)[number];

type Series = readonly [number, number, number, number, number];

/** Conde (2011), thermophysical properties of brines: ρ in kg/m³, cp in kJ/(kg·K), λ in W/(m·K), ln η of Pa·s; freezing by mass fraction. */
const CONDE: Record<
  Glycol,
  Record<"density" | "heat" | "conductivity" | "viscosity", Series> & { freezing: [number, number] }
> = {
  propylene: {
    density: [508.41109, -182.4082, 965.76507, 280.29104, -472.2251],
    heat: [4.47642, 0.60863, -0.71497, -1.93855, 0.47873],
    conductivity: [1.18886, -1.4911, -0.69682, 1.13633, 0.06735],
    viscosity: [-1.02798, -10.03298, -19.93497, 14.65802, 14.6205],
    freezing: [0.03736, 0.4005],
  },
  ethylene: {
    density: [658.49825, -54.81501, 664.71643, 232.72605, -322.61661],
    heat: [5.36449, 0.78863, -2.59001, -2.73187, 1.43759],
    conductivity: [0.83818, -1.3762, -0.07629, 1.0772, -0.20174],
    viscosity: [-4.63024, -2.14817, -12.70106, 5.40536, 10.9899],
    freezing: [0.069, 0.358],
  },
};

function glycolSeries(a: Series, mass: number, temperatureC: number): number {
  const r = 273.15 / (temperatureC + 273.15);
  return a[0] + a[1] * mass + a[2] * r + a[3] * mass * r + a[4] * r * r;
}

/** Weaker mixtures than Conde's stand between water and this one. */
const WEAKEST = 0.15;

/**
 * A glycol in water, kg/m³, by mass fraction 0.15 to 0.6, from freezing (−30 °C at 0.45 of propylene glycol) to 100 °C, within 1 %; at 0
 * it gives water's density. Source: Conde (2011). RangeError outside freezing to 110 °C.
 */
export function glycolDensity(temperatureC: number, massFraction: number, glycol: Glycol = "propylene"): number {
  checkGlycol(temperatureC, massFraction, glycol);
  return glycolSeries(CONDE[glycol].density, massFraction, temperatureC);
}

/** J/(kg·K); see {@link glycolDensity}. At no glycol it is 1 % too high. */
export function glycolSpecificHeat(temperatureC: number, massFraction: number, glycol: Glycol = "propylene"): number {
  checkGlycol(temperatureC, massFraction, glycol);
  return 1000 * glycolSeries(CONDE[glycol].heat, massFraction, temperatureC);
}

/** Thermal conductivity, W/(m·K); see {@link glycolDensity}. @example glycolConductivity(20, 0.35) // 0.447 */
export function glycolConductivity(temperatureC: number, massFraction: number, glycol: Glycol = "propylene"): number {
  checkGlycol(temperatureC, massFraction, glycol);
  return withWater(massFraction, waterConductivity(Math.max(0, temperatureC)), (share) =>
    glycolSeries(CONDE[glycol].conductivity, share, temperatureC),
  );
}

/** Dynamic viscosity, Pa·s; see {@link glycolDensity}. @example glycolViscosity(20, 0.35) // 0.00355 */
export function glycolViscosity(temperatureC: number, massFraction: number, glycol: Glycol = "propylene"): number {
  checkGlycol(temperatureC, massFraction, glycol);
  const logarithm = withWater(massFraction, Math.log(waterViscosity(Math.max(0, temperatureC))), (share) =>
    glycolSeries(CONDE[glycol].viscosity, share, temperatureC),
  );
  return Math.exp(logarithm);
}

/** Straight between water and the weakest mixture of the formulas, whose own value at no glycol is not water's when hot. */
function withWater(massFraction: number, water: number, mixture: (share: number) => number): number {
  if (massFraction >= WEAKEST) return mixture(massFraction);
  return water + (massFraction / WEAKEST) * (mixture(WEAKEST) - water);
}

/** Temperature, °C, at which ice begins to form in a glycol and water (Conde 2011). */
export function glycolFreezingPoint(massFraction: number, glycol: Glycol = "propylene"): number {
  if (!(massFraction >= 0 && massFraction <= 0.6)) throw new RangeError("glycol mass fraction outside 0 to 0.6");
  const [straight, square] = CONDE[glycol].freezing;
  return 273.15 * (1 - straight * massFraction - square * massFraction ** 2) - 273.15;
}

function checkGlycol(temperatureC: number, massFraction: number, glycol: Glycol): void {
  const freezing = glycolFreezingPoint(massFraction, glycol);
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
