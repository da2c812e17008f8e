import { density, specificHeat, specificHeatShare, type Fluid } from "../fluids/fluid";
import { warmedHumidity, type AirState } from "../fluids/moistAir";
import { correct, correctionUncertainty } from "../calibration/correction";
import { ductArea } from "../flow/duct";
import {
  combine,
  exact,
  fromLimit,
  fromResolution,
  multiply,
  scale,
  withSource,
  type Uncertain,
} from "../uncertainty/uncertain";
import type { LaneSetup, ProbeSetup, RunSetup } from "./setup";

/** The air that density and specific heat of a stream follow from. */
export interface AirAround {
  ambient: Uncertain;
  pressure: Uncertain;
  humidity: Uncertain;
}

/** Pressure, Pa, and relative humidity as logged, else as stated for the run. @param barometer, hygrometer NaN where none was logged */
export const airOf = (setup: RunSetup, barometer: number, hygrometer: number): Omit<AirAround, "ambient"> => ({
  pressure: withSource(Number.isNaN(barometer) ? setup.pressurePa : barometer, fromLimit(setup.pressureLimitPa), {
    kind: "pressure",
    owner: "",
    dof: Infinity,
  }),
  humidity: withSource(Number.isNaN(hygrometer) ? setup.relativeHumidity : hygrometer, fromLimit(setup.humidityLimit), {
    kind: "humidity",
    owner: "",
    dof: Infinity,
  }),
});

/**
 * A probe's mean as it is known, °C: its stated limit, or corrected with what the bath left of its own error, its drift, and
 * the reference's error that all probes of the bath share. Without what averages out.
 * @param owner lane letter; "" for the outside probe
 */
export function probeReading(indicatedC: number, probe: ProbeSetup, owner: string): Uncertain {
  const kind = owner ? "probe" : "ambient";
  const whose = owner || probe.key;
  const layer = probe.calibration;
  const named = (standard: number, key: string) =>
    withSource(0, standard, { kind, probe: key, owner: whose, dof: Infinity });
  const own = (standard: number) => named(standard, probe.key);
  // What several probes of one stream differ by is no error of the instrument: the stream is not mixed.
  const spread = probe.spreadK ? [[1, named(probe.spreadK, `${probe.key}/spread`)] as const] : [];
  if (!layer) {
    const limit = Math.hypot(fromLimit(probe.limitK), fromResolution(probe.resolutionK));
    return combine(indicatedC, [[1, own(limit)], ...spread]);
  }
  const { correction } = layer;
  const left = Math.hypot(correctionUncertainty(correction, indicatedC), fromResolution(probe.resolutionK));
  const drift = withSource(0, layer.driftK, { kind: "drift", probe: probe.key, owner: whose, dof: Infinity });
  const reference = withSource(0, layer.referenceStandardK, {
    kind: "reference",
    bath: layer.bath,
    owner: "",
    dof: Infinity,
  });
  return combine(correct(correction, indicatedC), [[1, own(left)], [1, drift], [1, reference], ...spread]);
}

/** A specimen's area by the chosen basis, m². */
export const areaOf = (lane: LaneSetup): Uncertain =>
  withSource(lane.areaM2, fromLimit(lane.areaLimitShare * lane.areaM2), {
    kind: "area",
    specimen: lane.specimen,
    owner: lane.lane,
    dof: Infinity,
  });

const METER_KINDS = {
  speed: "speedMeter",
  volume: "volumeMeter",
  mass: "massMeter",
  constant: "massMeter",
  tank: "tankWater",
} as const;

/** What a meter shows, with its stated limit: in the meter's SI unit. */
export function meterReading(lane: LaneSetup, indicated: number): Uncertain {
  const { meter, kind } = lane.flow;
  return withSource(indicated, fromLimit(meter.limitShare * Math.abs(indicated) + meter.limitFixed), {
    kind: METER_KINDS[kind],
    meter: meter.key,
    owner: lane.lane,
    dof: Infinity,
  });
}

/** What turns a meter's reading into volume or mass per second before density: the duct's area times its profile factor, else the factor found for it. */
export function meterFactor(lane: LaneSetup): Uncertain {
  const { flow } = lane;
  const own = { meter: flow.meter.key, owner: lane.lane, dof: Infinity };
  if (flow.kind !== "speed")
    return flow.factor === undefined
      ? exact(1)
      : withSource(flow.factor, fromLimit(flow.factorLimit ?? 0), { kind: "profile", ...own });
  const area = ductArea(flow.duct);
  const relativeArea =
    flow.duct.kind === "round"
      ? (2 * flow.ductLimitM) / flow.duct.diameterM
      : flow.ductLimitM * Math.hypot(1 / flow.duct.widthM, 1 / flow.duct.heightM);
  const duct = withSource(area, fromLimit(relativeArea * area), { kind: "ductArea", ...own });
  const profile = withSource(flow.profileFactor, fromLimit(flow.profileLimit), { kind: "profile", ...own });
  return multiply(duct, profile);
}

/** True where the meter counts volume, so that the density at the meter is needed. */
export const countsVolume = (lane: LaneSetup): boolean => lane.flow.kind === "speed" || lane.flow.kind === "volume";

/** Density with its dependence on temperature, pressure and humidity. The hygrometer hangs outside: the stream holds the same vapour, warmed. */
export function densityAtMeter(
  fluid: Fluid,
  temperature: Uncertain,
  { pressure, humidity, ambient }: AirAround,
): Uncertain {
  const state: AirState = {
    temperatureC: temperature.value,
    pressurePa: pressure.value,
    relativeHumidity: warmedHumidity(humidity.value, ambient.value, temperature.value),
  };
  const rho = density(fluid, state);
  if (fluid.kind !== "air") {
    const at = (temperatureC: number) => density(fluid, { ...state, temperatureC });
    return combine(rho, [[at(temperature.value + 0.5) - at(temperature.value - 0.5), temperature]]);
  }
  const perHumidity = (density(fluid, { ...state, relativeHumidity: state.relativeHumidity + 0.01 }) - rho) / 0.01;
  return combine(rho, [
    [-rho / (temperature.value + 273.15), temperature],
    [rho / pressure.value, pressure],
    [perHumidity, scale(humidity, state.relativeHumidity / Math.max(0.01, humidity.value))],
  ]);
}

export function meanSpecificHeat(fluid: Fluid, meanC: number, shared: AirAround): Uncertain {
  const cp = specificHeat(fluid, {
    temperatureC: meanC,
    pressurePa: shared.pressure.value,
    relativeHumidity: warmedHumidity(shared.humidity.value, shared.ambient.value, meanC),
  });
  // Shared by all lanes of one fluid.
  return withSource(cp, specificHeatShare(fluid) * cp, {
    kind: "specificHeat",
    fluid: fluid.kind,
    owner: "",
    dof: Infinity,
  });
}
