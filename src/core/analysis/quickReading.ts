import { airDensity, airSpecificHeat } from "../fluids/moistAir";
import { ductArea } from "../flow/duct";
import { combine, divide, fromLimit, multiply, subtract, withSource, type Uncertain } from "../uncertainty/uncertain";

export interface QuickReading {
  inletC: number;
  outletC: number;
  speedMs: number;
  /** Read as a volume instead of a speed, m³/s; null: by speed, duct and profile. */
  volumeM3S?: number | null;
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
  const massFlow = multiply(density, volumeOf(r, multiply(profile, speed)));
  const cp = airSpecificHeat({ ...state, temperatureC: (r.inletC + r.outletC) / 2 });
  const rise = subtract(outlet, inlet);
  const heat = multiply(massFlow, rise);
  return { heat: combine(heat.value * cp, [[cp, heat]]), massFlow, densityKgM3: rho };
}

function volumeOf({ volumeM3S, diameterM, speedLimitShare }: QuickReading, mean: Uncertain): Uncertain {
  if (volumeM3S === null || volumeM3S === undefined) {
    const area = ductArea({ kind: "round", diameterM });
    return combine(mean.value * area, [[area, mean]]);
  }
  const limit = fromLimit(speedLimitShare * volumeM3S);
  return withSource(volumeM3S, limit, { kind: "volumeMeter", meter: "spot", owner: "", dof: Infinity });
}

/** Efficiency of a quick reading under a sun that was read too, with its ± limits as shares. */
export function quickEfficiency(
  heat: Uncertain,
  { areaM2, irradianceWm2, sunLimitShare }: { areaM2: number; irradianceWm2: number; sunLimitShare: number },
): Uncertain {
  const sun = withSource(irradianceWm2, fromLimit(sunLimitShare * irradianceWm2), {
    kind: "sunSensor",
    sensor: "spot",
    owner: "",
    dof: Infinity,
  });
  const perArea = combine(heat.value / areaM2, [[1 / areaM2, heat]]);
  return divide(perArea, sun);
}

/** The same figure as a plain model, for drawing: inputs in the order inlet, outlet, speed, profile factor. */
export const quickHeatModel =
  (r: QuickReading) =>
  ([inletC, outletC, speedMs, profileFactor]: readonly number[]): number => {
    const state = { pressurePa: r.pressurePa, relativeHumidity: r.relativeHumidity };
    return (
      airDensity({ ...state, temperatureC: outletC }) *
      (r.volumeM3S == null
        ? ductArea({ kind: "round", diameterM: r.diameterM }) * profileFactor * speedMs
        : // Drawn with the meter's share, as the speed is.
          (r.volumeM3S * speedMs) / r.speedMs) *
      airSpecificHeat({ ...state, temperatureC: (inletC + outletC) / 2 }) *
      (outletC - inletC)
    );
  };
