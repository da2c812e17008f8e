import { combine, divide, type Uncertain } from "../uncertainty/uncertain";
import type { Curve } from "./curve";
import { unseenBend } from "./alongCurve";

const { exp, sqrt } = Math;

/**
 * Collector flow factor F″: heat of a stream over what it would be at one temperature, F″ = (1 − e⁻ⁿ)/n with n = A·U_L·F′/(ṁ·cp)
 * (DB 6.7.8). 1 for much flow, falling toward 0. @param units n, not negative
 *
 * @example flowFactor(1 / 9.33) // 0.948
 */
export function flowFactor(units: number): number {
  if (!(units >= 0)) throw new RangeError("transfer units are not negative");
  return units < 1e-6 ? 1 - units / 2 : (1 - exp(-units)) / units;
}

/** Heat removal factor F_R = F′·F″ (DB 6.7.9): useful heat over what it would be with the whole plate at the inlet's temperature. */
export const removalFactor = (efficiencyFactor: number, units: number): number => efficiencyFactor * flowFactor(units);

/**
 * Efficiency factor F′ of a curve on the mean fluid temperature: its η0 is F′·(τα) (DB 6.6.4, 6.19.2). Not above 1 in a real collector.
 * @param transmittanceAbsorptance (τα) straight on, on the area of the curve, over 0
 */
export const efficiencyFactorOf = (curve: Pick<Curve, "eta0">, transmittanceAbsorptance: Uncertain): Uncertain =>
  divide(curve.eta0, transmittanceAbsorptance);

/**
 * Plate temperature without flow, °C, by a curve stretched to η = 0: x = 2·η0/(a1 + √(a1² + 4·a2·G·η0)), T = T_a + G·x (ISO 9806:2017
 * clause 10 names the way from a curve). Wide, as it lies far beyond the points. null where the curve has no loss.
 */
export function stagnationOf(curve: Curve, irradianceWm2 = 1000, ambientC = 30): Uncertain | null {
  const [eta0, a1, a2] = [curve.eta0.value, curve.a1.value, curve.a2?.value ?? 0];
  const root = sqrt(a1 * a1 + 4 * a2 * irradianceWm2 * eta0);
  if (!(a1 + root > 0) || !(eta0 > 0)) return null;
  const x = (2 * eta0) / (a1 + root);
  const perEfficiency = irradianceWm2 / root;
  return combine(ambientC + irradianceWm2 * x, [
    [perEfficiency, curve.eta0],
    [-perEfficiency * x, curve.a1],
    ...(curve.a2 ? [[-perEfficiency * irradianceWm2 * x * x, curve.a2] as const] : []),
    [perEfficiency, unseenBend(curve, x, irradianceWm2)],
  ]);
}
