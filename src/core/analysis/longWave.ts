import { radiationCoefficient, skyTemperature } from "../collector/convection";
import { withSource, type Uncertain } from "../uncertainty/uncertain";

/** Nobody logs a pyrgeometer: the sky is taken as clear and dry, which steady windows mostly are; standard doubt, share (ours). */
const DOUBT = 0.3;

/** An absorber without a cover: its emittance over its absorptance, and the tilt it sees the sky at. */
export interface Bare {
  emittanceShare: number;
  /** Degrees. */
  tilt: number;
}

/**
 * What a bare absorber at outside temperature loses to the sky, as the light it would take to make up for it, W/m², negative:
 * (ε/α)·F_sky·σ·(T_sky⁴ − T_a⁴) (ISO 9806:2017, net irradiance of unglazed collectors; sky by Swinbank 1963).
 */
export function netLongWave({ emittanceShare, tilt }: Bare, ambientC: number): Uncertain {
  const skyView = (1 + Math.cos((tilt * Math.PI) / 180)) / 2;
  const skyC = skyTemperature(ambientC);
  // Between black surfaces h·ΔT is σ·ΔT⁴ exactly.
  const exchange = radiationCoefficient(skyC, ambientC, 1, 1) * (skyC - ambientC);
  const value = emittanceShare * skyView * exchange;
  return withSource(value, DOUBT * Math.abs(value), { kind: "sky", owner: "", dof: Infinity });
}
