import { fanPower, fanPressure, photovoltaicSpeed, workingFlow } from "../flow/fan";
import { driveWatts } from "../flow/path";
import { fluidProperties } from "../fluids/fluid";
import type { HeatNetwork } from "./network";
import { pressureLoss } from "./pressure";
import { solveNetwork, type Conditions, type Solution } from "./solve";

const GRAVITY = 9.80665;
const STEPS = 24;

export interface Driven {
  /** Through one box, kg/s. */
  massFlow: number;
  /** Electric, of the fan or pump for one box, W. */
  powerW: number;
}

/**
 * What fan, pump or draught brings through one box: fan curve against the path's loss (boxes in series add losses, rows side by
 * side share the fan), or density difference × height against it (natural draught, thermosiphon).
 */
export function drivenFlow(net: HeatNetwork, c: Omit<Conditions, "massFlowKgPerS">): Driven {
  const { design } = net;
  if (design.drive.kind === "natural") return { massFlow: naturalFlow(net, c, design.drive.heightM), powerW: 0 };
  const { fan } = design.drive;
  // A lens gathers light for the absorber; the fan's panel stands in the plain sun beside it.
  const speed =
    design.drive.kind === "photovoltaicFan"
      ? photovoltaicSpeed(fan, design.drive, c.irradianceWm2 / design.concentration)
      : 1;
  const density = fluidProperties(design.fluid, c.inletC, c.pressurePa).density;
  // A fan's curve is stated at 1.2 kg/m³: thinner air, less pressure.
  const thin = design.fluid.kind === "air" ? density / 1.2 : 1;
  const loss = (volume: number) =>
    (design.inSeries * pressureLoss(net, (volume * density) / design.inParallel, c.inletC + 10, c.pressurePa)) / thin;
  const volume = speed > 0 ? workingFlow(fan, loss, speed) : 0;
  return {
    massFlow: (volume * density) / design.inParallel,
    powerW: (fanPower(fan, speed) * thin) / (design.inSeries * design.inParallel),
  };
}

function naturalFlow(net: HeatNetwork, c: Omit<Conditions, "massFlowKgPerS">, heightM: number): number {
  const { design } = net;
  const density = (t: number) => fluidProperties(design.fluid, t, c.pressurePa).density;
  const still = density(c.inletC);
  let start: Solution | undefined;
  /** Draught left over at a flow; falls as flow rises. */
  const excess = (massFlow: number) => {
    start = solveNetwork(net, { ...c, massFlowKgPerS: massFlow }, start);
    // In the box the density is the mean of its ends over half the height, beyond it the outlet's.
    const mean = (density(start.inletC) + density(start.outletC)) / 2;
    const column = (mean + density(start.outletC)) / 2;
    return (
      (still - column) * GRAVITY * heightM -
      design.inSeries * pressureLoss(net, massFlow, (start.inletC + start.outletC) / 2, c.pressurePa)
    );
  };
  let [low, high] = [1e-5, 0.5];
  if (excess(low) <= 0) return 0;
  for (let i = 0; i < STEPS; i++) {
    const middle = Math.sqrt(low * high);
    if (excess(middle) > 0) low = middle;
    else high = middle;
  }
  return low;
}

/**
 * Electric power, W, of the fan or pump turned down to a set flow (fan laws). A fan too weak even at full speed is taken as
 * replaced by a usual one ({@link driveWatts}), and `enough` is false.
 */
export function powerAt(
  net: HeatNetwork,
  massFlow: number,
  lossPa: number,
  density: number,
): { powerW: number; enough: boolean } {
  const { drive, inParallel, inSeries } = net.design;
  if (drive.kind === "natural") return { powerW: 0, enough: true };
  const volume = (massFlow * inParallel) / density;
  const thin = net.design.fluid.kind === "air" ? density / 1.2 : 1;
  const loss = lossPa * inSeries;
  const boxes = inSeries * inParallel;
  if (fanPressure(drive.fan, volume) * thin < loss)
    return { powerW: driveWatts(loss, massFlow * inParallel, density) / boxes, enough: false };
  let [low, high] = [0, 1];
  for (let i = 0; i < 40; i++) {
    const speed = (low + high) / 2;
    if (fanPressure(drive.fan, volume, speed) * thin < loss) low = speed;
    else high = speed;
  }
  return { powerW: (fanPower(drive.fan, high) * thin) / boxes, enough: true };
}
