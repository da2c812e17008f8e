import { expanded } from "../uncertainty/coverage";
import { measured } from "../uncertainty/uncertain";
import { designAreas } from "./content";
import { fluidProperties, type FluidKind } from "../fluids/fluid";
import { isBought, type Design } from "./design";
import { drivenFlow, powerAt } from "./drive";
import { buildNetwork } from "./network";
import { pressureLoss } from "./pressure";
import type { Operating } from "./prediction";
import { predict } from "./predict";
import { solveNetwork, type Solution } from "./solve";

export interface FlowRow {
  /** kg/(s·m²) of gross area. */
  massFlux: number;
  massFlow: number;
  /** m³/(h·m²) as at the outlet. */
  volumeFlux: number;
  efficiency: number;
  outletC: number;
  pressurePa: number;
  fanPowerW: number;
  heatW: number;
  /** Heat less the fan's electricity, weighted. */
  netHeatW: number;
  fanEnough: boolean;
}

export interface FlowAdvice {
  rows: FlowRow[];
  /** Row of highest net heat. */
  peak: FlowRow;
  /** Narrowest range of flow within 1 % of the peak's net heat, kg/(s·m²). */
  flat: [number, number];
  /** Where the design's own fan or pump works, kg/(s·m²); null when it moves nothing. */
  own: number | null;
  /** Net heat at the peak, 95 %, W. */
  peakPlusMinusW: number;
}

const RANGE: Record<FluidKind, [number, number]> = {
  air: [0.002, 0.08],
  water: [0.001, 0.06],
  glycol: [0.001, 0.06],
};

/**
 * Efficiency, outlet, pressure, fan power and net heat against flow per gross area, at the operating point's sun and temperatures.
 *
 * @param electricityWeight heat a watt-hour of electricity is worth; 1 counts energy, 2.5 counts a typical power plant's fuel
 * @param steps rows, spaced evenly on a logarithmic scale
 * @throws RangeError for a module without layers: its maker's curve holds at one flow and says nothing about others
 */
export function flowAdvice(design: Design, op: Operating, electricityWeight = 1, steps = 28): FlowAdvice {
  if (isBought(design)) throw new RangeError("a bought module has no layers to work a flow out from");
  const net = buildNetwork(design);
  const gross = designAreas(design).gross;
  const basis = designAreas(design)[op.basis];
  const [low, high] = RANGE[design.fluid.kind];
  let last: Solution | undefined;
  const c = {
    irradianceWm2: op.irradianceWm2 * design.concentration,
    ambientC: op.ambientC,
    inletC: op.inletC,
    windMs: op.windMs,
    tilt: op.tilt,
    pressurePa: op.pressurePa,
  };
  const rows = Array.from({ length: steps }, (_, k): FlowRow => {
    const massFlux = low * (high / low) ** (k / (steps - 1));
    const massFlow = massFlux * gross;
    last = solveNetwork(net, { ...c, massFlowKgPerS: massFlow }, last);
    const density = fluidProperties(design.fluid, last.outletC, op.pressurePa).density;
    const pressurePa = pressureLoss(net, massFlow, (last.inletC + last.outletC) / 2, op.pressurePa);
    const fan = powerAt(net, massFlow, pressurePa, density);
    return {
      massFlux,
      massFlow,
      volumeFlux: (massFlux * 3600) / density,
      efficiency: op.irradianceWm2 > 0 ? last.usefulW / (op.irradianceWm2 * basis) : 0,
      outletC: last.outletC,
      pressurePa,
      fanPowerW: fan.powerW,
      heatW: last.usefulW,
      netHeatW: last.usefulW - electricityWeight * fan.powerW,
      fanEnough: fan.enough,
    };
  });
  const peak = rows.reduce((best, r) => (r.netHeatW > best.netHeatW ? r : best));
  const near = rows.filter((r) => r.netHeatW >= peak.netHeatW - 0.01 * Math.abs(peak.netHeatW));
  const own = drivenFlow(net, c).massFlow / gross;
  const at = predict(design, op, peak.massFlow);
  return {
    rows,
    peak,
    flat: [near[0].massFlux, near[near.length - 1].massFlux],
    own: own > 1e-6 ? own : null,
    peakPlusMinusW: at.figures.heat ? expanded(measured(at.figures.heat)) : 0,
  };
}
