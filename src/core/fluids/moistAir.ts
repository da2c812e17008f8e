const { exp } = Math;

const KELVIN = 273.15;
/** Molar gas constant, J/(mol·K), as CIPM-2007 uses it. */
const R = 8.314472;
/** Molar masses, kg/mol: dry air with 400 µmol/mol CO₂ (CIPM-2007 eq. 2), water. */
const MOLAR_DRY_AIR = 28.96546e-3;
const MOLAR_WATER = 18.01528e-3;

export interface AirState {
  /** Air temperature, °C. Range −30 to 90. */
  temperatureC: number;
  /** Absolute pressure, Pa. Range 70 to 104 kPa. */
  pressurePa: number;
  /** Relative humidity, 0 to 1. */
  relativeHumidity: number;
}

/** Saturation pressure of water vapour over liquid, Pa (CIPM-2007, A1.1). */
export function saturationPressure(temperatureC: number): number {
  const T = temperatureC + KELVIN;
  return exp(1.2378847e-5 * T * T - 1.9121316e-2 * T + 33.93711047 - 6.3431645e3 / T);
}

/**
 * Relative humidity, 0 to 1, of the same air warmed or cooled at constant pressure: the vapour stays, the saturation moves.
 * Capped at 1, where water would begin to fall out.
 *
 * @example warmedHumidity(0.6, 10, 40) // 0.1
 */
export function warmedHumidity(relativeHumidity: number, fromC: number, toC: number): number {
  return Math.min(1, (relativeHumidity * saturationPressure(fromC)) / saturationPressure(toC));
}

/**
 * Dew point, °C, over liquid: where the vapour that is there would saturate the air. By halving, to a millikelvin.
 * @param relativeHumidity over 0, up to 1; throws RangeError beyond. @param temperatureC −30 to 90
 *
 * @example dewPoint(20, 0.5) // 9.3
 */
export function dewPoint(temperatureC: number, relativeHumidity: number): number {
  if (!(relativeHumidity > 0 && relativeHumidity <= 1)) throw new RangeError("relative humidity is over 0 and up to 1");
  const vapour = relativeHumidity * saturationPressure(temperatureC);
  let [low, high] = [-80, temperatureC];
  while (high - low > 1e-7) {
    const middle = (low + high) / 2;
    if (saturationPressure(middle) < vapour) low = middle;
    else high = middle;
  }
  return high;
}

/** Mole fraction of water vapour in moist air, 0 to 1 (CIPM-2007, A1.3). */
export function vapourMoleFraction({ temperatureC: t, pressurePa: p, relativeHumidity: h }: AirState): number {
  const enhancement = 1.00062 + 3.14e-8 * p + 5.6e-7 * t * t;
  // Above boiling, relative humidity can imply more vapour than air; a collector never gets there.
  return Math.min(1, (h * enhancement * saturationPressure(t)) / p);
}

/**
 * Density of moist air, kg/m³.
 * Source: Picard et al. (2008), CIPM-2007, eq. 1 with compressibility A1.4.
 * Stated for 15 to 27 °C. Down to −30 and up to 90 °C its compressibility correction stays below
 * 0.12 %, so the error there is well below the 0.1 % claimed here.
 *
 * @example airDensity({ temperatureC: 20, pressurePa: 101325, relativeHumidity: 0 }) // 1.2046
 */
export function airDensity(state: AirState): number {
  const { temperatureC: t, pressurePa: p } = state;
  const T = t + KELVIN;
  const x = vapourMoleFraction(state);
  const pT = p / T;
  const Z =
    1 -
    pT *
      (1.58123e-6 -
        2.9331e-8 * t +
        1.1043e-10 * t * t +
        (5.707e-6 - 2.051e-8 * t) * x +
        (1.9898e-4 - 2.376e-6 * t) * x * x) +
    pT * pT * (1.83e-11 - 0.765e-8 * x * x);
  return ((p * MOLAR_DRY_AIR) / (Z * R * T)) * (1 - x * (1 - MOLAR_WATER / MOLAR_DRY_AIR));
}

/** Humidity ratio, kg of vapour per kg of dry air. */
export function humidityRatio(state: AirState): number {
  const x = vapourMoleFraction(state);
  return ((MOLAR_WATER / MOLAR_DRY_AIR) * x) / (1 - x);
}

/**
 * Specific heat of moist air at constant pressure, J per kg of dry air plus vapour and K.
 * Dry air: a fit to tables at 1 bar within 0.05 %: 1005.6 at 0 °C, 1005.8 at 20 °C, 1006.4 at 40 °C, 1009.0 at 90 °C.
 * Range −30 to 90 °C.
 * Vapour: 1858 J/(kg·K) at 0 °C + 0.38 per K (ideal-gas steam, within 0.3 % to 90 °C).
 */
export function airSpecificHeat(state: AirState): number {
  const t = state.temperatureC;
  const dry = 1005.6 + 0.0035 * t + 0.00038 * t * t;
  const vapour = 1858 + 0.38 * t;
  const w = humidityRatio(state);
  return (dry + w * vapour) / (1 + w);
}

/** Dynamic viscosity of dry air, Pa·s (Sutherland 1893; 1.716e-5 at 273.15 K, S = 110.4 K). Within 1 % of moist air below 40 % RH. */
export function airViscosity(temperatureC: number): number {
  const T = temperatureC + KELVIN;
  return (1.716e-5 * (T / KELVIN) ** 1.5 * (KELVIN + 110.4)) / (T + 110.4);
}

/** Thermal conductivity of dry air, W/(m·K) (Sutherland form, 0.0241 at 273.15 K, S = 194 K; within 2 % to 100 °C). */
export function airConductivity(temperatureC: number): number {
  const T = temperatureC + KELVIN;
  return (0.0241 * (T / KELVIN) ** 1.5 * (KELVIN + 194)) / (T + 194);
}

/**
 * Pressure of the standard atmosphere, Pa, at an altitude of 0 to 11,000 m (ISO 2533:1975).
 * Weather moves the real pressure by about ±2 % (standard uncertainty near 0.8 %).
 *
 * @example standardPressure(1500) // 84556
 */
export function standardPressure(altitudeM: number): number {
  if (!(altitudeM >= -500 && altitudeM <= 11000)) throw new RangeError("altitude outside −500 to 11,000 m");
  return 101325 * (1 - (0.0065 * altitudeM) / 288.15) ** 5.255876;
}

const BTU_PER_HOUR = 1055.05585262 / 3600;
const CFM = 0.3048 ** 3 / 60;

/**
 * The trade's constant in Q = c·CFM·ΔT(°F), BTU/(h·CFM·°F), for air as it is at the flow meter; ρ·cp in other units. The usual
 * 1.08 is that of 0.075 lb/ft³ and 0.24 BTU/(lb·°F): dry air of 21 °C at sea level.
 *
 * @example cfmConstant({ temperatureC: 40, pressurePa: 88600, relativeHumidity: 0.2 }) // 0.89
 */
export const cfmConstant = (state: AirState): number =>
  (airDensity(state) * airSpecificHeat(state) * CFM * (5 / 9)) / BTU_PER_HOUR;
