import { airDensity, airSpecificHeat } from "../fluids/moistAir";
import { ductArea } from "../flow/duct";
import { combine, fromLimit, multiply, subtract, withSource, type Uncertain } from "../uncertainty/uncertain";

export interface QuickReading {
  inletC: number;
  outletC: number;
  speedMs: number;
  diameterM: number;
  pressurePa: number;
  relativeHumidity: number;
  /** Stated limits: probes, K; speed, share; profile factor and its ±. */
  probeLimitK: number;
  speedLimitShare: number;
  profileFactor: number;
  profileLimit: number;
}

/** Heat of an air stream from two temperatures and one speed, the meter at the outlet: Q = ρ·A·k·v·cp·(Tout − Tin). For a look at the bench; windows and curves come from logs. */
export function quickHeat(r: QuickReading): {
  heat: Uncertain;
  massFlow: Uncertain;
  densityKgM3: number;
} {
  if (!(r.speedMs >= 0)) throw new RangeError("a speed is not negative");
  const shared = { owner: "", dof: Infinity };
  const probe = (value: number, name: string) =>
    withSource(value, fromLimit(r.probeLimitK), { kind: "probe", probe: name, ...shared });
  const inlet = probe(r.inletC, "inlet");
  const outlet = probe(r.outletC, "outlet");
  const speedLimit = r.speedLimitShare * r.speedMs;
  const speed = withSource(r.speedMs, fromLimit(speedLimit), { kind: "speedMeter", meter: "spot", ...shared });
  const profile = withSource(r.profileFactor, fromLimit(r.profileLimit), { kind: "profile", meter: "spot", ...shared });
  const state = { pressurePa: r.pressurePa, relativeHumidity: r.relativeHumidity };
  const rho = airDensity({ ...state, temperatureC: r.outletC });
  const density = combine(rho, [[-rho / (r.outletC + 273.15), outlet]]);
  const volume = multiply(profile, speed);
  const area = ductArea({ kind: "round", diameterM: r.diameterM });
  const massFlow = multiply(density, combine(volume.value * area, [[area, volume]]));
  const cp = airSpecificHeat({ ...state, temperatureC: (r.inletC + r.outletC) / 2 });
  const rise = subtract(outlet, inlet);
  const heat = multiply(massFlow, rise);
  return { heat: combine(heat.value * cp, [[cp, heat]]), massFlow, densityKgM3: rho };
}

/** The same figure as a plain model, for drawing: inputs in the order inlet, outlet, speed, profile factor. */
export const quickHeatModel =
  (r: QuickReading) =>
  ([inletC, outletC, speedMs, profileFactor]: readonly number[]): number => {
    const state = { pressurePa: r.pressurePa, relativeHumidity: r.relativeHumidity };
    return (
      airDensity({ ...state, temperatureC: outletC }) *
      ductArea({ kind: "round", diameterM: r.diameterM }) *
      profileFactor *
      speedMs *
      airSpecificHeat({ ...state, temperatureC: (inletC + outletC) / 2 }) *
      (outletC - inletC)
    );
  };
