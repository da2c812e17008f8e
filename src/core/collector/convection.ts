import { blended, TRANSITION } from "../flow/friction";
import { airConductivity, airViscosity } from "../fluids/moistAir";

const { cos, exp, max, min, PI, sin } = Math;
const KELVIN = 273.15;
const GRAVITY = 9.80665;
const GAS_CONSTANT = 287.05;
/** Air's Prandtl number between 0 and 200 °C, within 2 %. */
export const AIR_PRANDTL = 0.7;

/**
 * Nusselt number of still air between tilted parallel plates, heated from below (Hollands et al. 1976; DB 3.11.4), tilt 0 to 75°;
 * above 75° its value at 75° is used. Heated from above the air lies still: 1 + (Nu(vertical) − 1)·sin(tilt) (Arnold et al. 1976).
 *
 * @param rayleigh based on the spacing
 * @example enclosureNusselt(7.17e4, 45, true) // 3.40
 */
export function enclosureNusselt(rayleigh: number, tilt: number, heatedFromBelow: boolean): number {
  const beta = (min(75, tilt) * PI) / 180;
  if (!heatedFromBelow) return 1 + (enclosureNusselt(rayleigh, 75, true) - 1) * sin((tilt * PI) / 180);
  const x = rayleigh * cos(beta);
  if (x <= 0) return 1;
  const plus = (v: number) => max(0, v);
  return 1 + 1.44 * (1 - (1708 * sin(1.8 * beta) ** 1.6) / x) * plus(1 - 1708 / x) + plus((x / 5830) ** (1 / 3) - 1);
}

/** Heat transfer coefficient, W/(m²·K), across a closed air gap. @param upperC and @param lowerC of the plates, °C; @param spacingM 1 mm up */
export function gapCoefficient(
  upperC: number,
  lowerC: number,
  spacingM: number,
  tilt: number,
  pressurePa: number,
): number {
  const meanC = (upperC + lowerC) / 2;
  const T = meanC + KELVIN;
  const k = airConductivity(meanC);
  const viscosity = airViscosity(meanC) / (pressurePa / (GAS_CONSTANT * T));
  const rayleigh = (GRAVITY * Math.abs(lowerC - upperC) * spacingM ** 3 * AIR_PRANDTL) / (T * viscosity * viscosity);
  return (enclosureNusselt(rayleigh, tilt, lowerC > upperC) * k) / spacingM;
}

/**
 * Nusselt number in a flat channel heated on one side, on the hydraulic diameter: laminar with growing layers (Mercer et al. 1967)
 * and turbulent (Kays & Crawford 1980), both as in DB section 3.14, blended between Re 2,300 and 4,000.
 *
 * @param graetz Re·Pr·D/L
 */
export function channelNusselt(reynolds: number, graetz: number, prandtl = AIR_PRANDTL): number {
  const laminar = 4.9 + (0.0606 * graetz ** 1.2) / (1 + 0.0909 * graetz ** 0.7 * prandtl ** 0.17);
  return blended(reynolds, laminar, max(laminar, 0.0158 * reynolds ** 0.8));
}

/**
 * Nusselt number in a round tube: laminar with growing layers (Hausen 1943, 3.66 far inside) and turbulent (Gnielinski 1976),
 * blended between Re 2,300 and 4,000. @param graetz Re·Pr·D/L
 */
export function tubeNusselt(reynolds: number, graetz: number, prandtl: number): number {
  const laminar = 3.66 + (0.0668 * graetz) / (1 + 0.04 * graetz ** (2 / 3));
  if (reynolds <= TRANSITION[0]) return laminar;
  const f = (0.79 * Math.log(reynolds) - 1.64) ** -2;
  const turbulent =
    ((f / 8) * (reynolds - 1000) * prandtl) / (1.07 + 12.7 * Math.sqrt(f / 8) * (prandtl ** (2 / 3) - 1));
  return blended(reynolds, laminar, max(laminar, turbulent));
}

/** Hilpert's lines: below which Reynolds number, factor, power. */
const HILPERT = [
  [4, 0.989, 0.33],
  [40, 0.911, 0.385],
  [Infinity, 0.683, 0.466],
] as const;

/** Nusselt number of a thin wire across a stream, on its diameter (Hilpert 1933, constants for Pr^1/3). Range 0.4 < Re < 4,000; below, its lowest line is stretched. */
export function wireNusselt(reynolds: number, prandtl = AIR_PRANDTL): number {
  const [, c, m] = HILPERT.find(([below]) => reynolds < below) ?? HILPERT[2];
  return c * reynolds ** m * prandtl ** (1 / 3);
}

/** Loss factor of one screen on the approach velocity head (Wieghardt 1953). @param solidity share closed, 0 to 1; @param wireReynolds on wire diameter and approach speed */
export function screenLoss(solidity: number, wireReynolds: number): number {
  const open = 1 - solidity;
  return 6.5 * (solidity / open ** 2) * max(1e-3, wireReynolds / open) ** (-1 / 3);
}

/**
 * Effectiveness of a perforated sheet through which air is drawn: 1 − exp(−h·A/(ṁ·cp)) with Nu on the hole diameter
 * 2.75·[(P/D)^−1.2·Re^0.43 + 0.011·σ·Re·(wind/suction)^0.48] (Kutscher 1994). Range 100 < Re < 2,000, porosity σ 0.001 to 0.05.
 */
export function suctionEffectiveness(at: {
  holeM: number;
  pitchM: number;
  massFluxKgM2S: number;
  density: number;
  viscosity: number;
  conductivity: number;
  specificHeat: number;
  windMs: number;
}): number {
  const porosity = (PI / 4) * (at.holeM / at.pitchM) ** 2;
  const suction = at.massFluxKgM2S / at.density;
  const reynolds = (at.density * (suction / porosity) * at.holeM) / at.viscosity;
  const nusselt =
    2.75 *
    ((at.pitchM / at.holeM) ** -1.2 * reynolds ** 0.43 +
      0.011 * porosity * reynolds * (at.windMs / max(1e-6, suction)) ** 0.48);
  const transfer = (nusselt * at.conductivity) / at.holeM;
  return 1 - exp((-transfer * (1 - porosity)) / max(1e-9, at.massFluxKgM2S * at.specificHeat));
}

/** Heat transfer by wind over a face, W/(m²·K): 2.8 + 3.0·v (Watmuff et al. 1977; DB section 3.15), for plates of about half a square metre and up to 5 m/s. */
export const windCoefficient = (windMs: number): number => 2.8 + 3 * windMs;

/**
 * Heat transfer of a bare pipe in wind, W/(m²·K) of its surface: crossed by the wind (Churchill & Bernstein 1977, all Re·Pr above 0.2)
 * and rising by itself in still air (Churchill & Chu 1975, horizontal), joined as the fourth root of the fourth powers' sum as both
 * stream across it. Pipes that shelter each other get less than this.
 *
 * @param surfaceC of the pipe, °C; @param diameterM outside; @param windMs across the pipe
 */
export function cylinderCoefficient(
  surfaceC: number,
  ambientC: number,
  diameterM: number,
  windMs: number,
  pressurePa: number,
): number {
  const filmC = (surfaceC + ambientC) / 2;
  const T = filmC + KELVIN;
  const k = airConductivity(filmC);
  const viscosity = airViscosity(filmC) / (pressurePa / (GAS_CONSTANT * T));
  const reynolds = (windMs * diameterM) / viscosity;
  const forced =
    0.3 +
    ((0.62 * Math.sqrt(reynolds) * AIR_PRANDTL ** (1 / 3)) / (1 + (0.4 / AIR_PRANDTL) ** (2 / 3)) ** 0.25) *
      (1 + (reynolds / 282000) ** (5 / 8)) ** 0.8;
  const rayleigh =
    (GRAVITY * Math.abs(surfaceC - ambientC) * diameterM ** 3 * AIR_PRANDTL) / (T * viscosity * viscosity);
  const rising = (0.6 + (0.387 * rayleigh ** (1 / 6)) / (1 + (0.559 / AIR_PRANDTL) ** (9 / 16)) ** (8 / 27)) ** 2;
  return ((forced ** 4 + rising ** 4) ** 0.25 * k) / diameterM;
}

/** Efficiency of a straight fin (DB 6.5.12 in general form). @param m 1/m; @param lengthM from root to tip */
export function finEfficiency(m: number, lengthM: number): number {
  const x = m * lengthM;
  return x < 1e-6 ? 1 : Math.tanh(x) / x;
}

/** Sky temperature, °C of clear nights and dry days (Swinbank 1963): 0.0552·T^1.5 in kelvin. */
export const skyTemperature = (ambientC: number): number => 0.0552 * (ambientC + KELVIN) ** 1.5 - KELVIN;

/** Long-wave exchange between two large parallel surfaces, W/(m²·K) (DB 3.10.1). */
export function radiationCoefficient(aC: number, bC: number, emittanceA: number, emittanceB: number): number {
  const [a, b] = [aC + KELVIN, bC + KELVIN];
  return (5.670374e-8 * (a * a + b * b) * (a + b)) / (1 / emittanceA + 1 / emittanceB - 1);
}
