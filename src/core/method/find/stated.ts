import { meterFactor, meterReading } from "../../analysis/figures";
import type { LaneSetup, RunSetup } from "../../analysis/setup";
import { fromLimit, standardUncertainty } from "../../uncertainty/uncertain";

/** Standard share by which a lane's heat may be off as its instruments are stated: meter, duct, both probes against its mean rise. */
export function heatShare(lane: LaneSetup, usualFlow: number, meanRiseK: number): number {
  const meter = meterReading(lane, usualFlow);
  const factor = meterFactor(lane);
  const probes = fromLimit(Math.hypot(lane.inletProbe.limitK, lane.outletProbe.limitK));
  return Math.hypot(
    standardUncertainty(meter) / Math.max(1e-12, Math.abs(meter.value)),
    standardUncertainty(factor) / factor.value,
    probes / Math.max(0.1, Math.abs(meanRiseK)),
  );
}

/** The same of an efficiency: the sun sensor and the area come to it. */
export const efficiencyShare = (
  lane: LaneSetup,
  { sunSensor }: RunSetup,
  usualFlow: number,
  meanRiseK: number,
): number =>
  Math.hypot(heatShare(lane, usualFlow, meanRiseK), fromLimit(sunSensor.limitShare), fromLimit(lane.areaLimitShare));
