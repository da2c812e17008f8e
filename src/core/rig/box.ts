import { nodeCapacities } from "../collector/capacity";
import { absorberLayer, type Design } from "../collector/design";
import { drivenFlow } from "../collector/drive";
import { designAreas } from "../collector/content";
import { drawnFigures } from "../collector/drawn";
import type { StatedCurve } from "../collector/form/form";
import { formOf } from "../collector/form/list";
import { buildNetwork, type HeatNetwork } from "../collector/network";
import { solveNetwork, type Conditions, type Solution } from "../collector/solve";
import { fluidProperties } from "../fluids/fluid";

/** What stands around a box in one step. */
export interface BoxWeather {
  /** On the box, incidence and mirror included, W/m² of aperture straight on. */
  irradianceWm2: number;
  /** Without mirror and cover: what the fan's own panel sees. */
  panelWm2: number;
  ambientC: number;
  windMs: number;
  inletC: number;
  tilt: number;
  pressurePa: number;
}

export interface BoxNow {
  outletC: number;
  /** Hottest of the absorber, °C. */
  plateC: number;
  massFlowKgPerS: number;
  /** To the stream of all boxes of the lane, W. */
  heatW: number;
  fanW: number;
}

/** Stretches along the stream: half of what a prediction takes, for the speed of a live bench. */
const SEGMENTS = 4;
/** Draught is looked for anew so often, s: it takes two dozen steady solutions. */
const DRAUGHT_EVERY_S = 60;

/** Above outside where a stated curve loses as much as it takes in, K: the positive root of η0·G = a1·x + a2·x². */
function stagnationRise({ eta0, a1, a2 }: StatedCurve, irradianceWm2: number): number {
  const light = eta0 * Math.max(0, irradianceWm2);
  return light > 0 ? (2 * light) / (a1 + Math.sqrt(a1 ** 2 + 4 * a2 * light)) : 0;
}

/** One drawn box through time: the same network as the prediction, with its layers' storage in implicit steps. */
export class RigBox {
  private readonly net: HeatNetwork | null;
  private readonly stated: StatedCurve | null;
  private readonly capacities: Float64Array;
  private state: Solution | null = null;
  private draught = 0;
  private draughtAge = Infinity;
  /** Of a bought module, which has a curve and no inside: heat follows the curve with its time constant, W/m². */
  private heatFlux = 0;
  private readonly areaM2: number;

  constructor(private readonly design: Design) {
    const absorber = absorberLayer(design);
    this.stated = (absorber && formOf(absorber).stated?.(absorber.shape)) ?? null;
    this.net = this.stated ? null : buildNetwork(design);
    this.capacities = this.net ? nodeCapacities(this.net) : new Float64Array();
    this.areaM2 = designAreas(design).gross;
  }

  /**
   * One step.
   * @param set kg/s through one box; null: whatever the drawing's own drive brings
   * @param running false: fan or pump stands still
   */
  step(w: BoxWeather, set: number | null, running: boolean, stepS: number): BoxNow {
    const { flow, fanW } = running ? this.flowOf(w, set, stepS) : { flow: 0, fanW: 0 };
    return this.net ? this.networkStep(this.net, w, flow, fanW, stepS) : this.statedStep(w, flow, fanW, stepS);
  }

  private flowOf(w: BoxWeather, set: number | null, stepS: number): { flow: number; fanW: number } {
    if (set !== null) return { flow: set, fanW: 0 };
    if (!this.net) return { flow: 0.02 * this.areaM2, fanW: 0 };
    const conditions = { ...w, irradianceWm2: w.panelWm2 * this.design.concentration };
    if (this.design.drive.kind !== "natural") {
      const driven = drivenFlow(this.net, conditions);
      return { flow: driven.massFlow, fanW: driven.powerW };
    }
    this.draughtAge += stepS;
    if (this.draughtAge >= DRAUGHT_EVERY_S) {
      this.draughtAge = 0;
      // The column in the duct follows within a minute or two.
      const aim = drivenFlow(this.net, { ...w, irradianceWm2: w.irradianceWm2 * this.design.concentration }).massFlow;
      this.draught += 0.6 * (aim - this.draught);
    }
    return { flow: this.draught, fanW: 0 };
  }

  private networkStep(net: HeatNetwork, w: BoxWeather, flow: number, fanW: number, stepS: number): BoxNow {
    const c: Conditions = {
      irradianceWm2: w.irradianceWm2 * this.design.concentration,
      ambientC: w.ambientC,
      inletC: w.inletC,
      windMs: w.windMs,
      massFlowKgPerS: flow,
      tilt: w.tilt,
      pressurePa: w.pressurePa,
    };
    // A box that is looked at for the first time has stood there for long.
    this.state = this.state
      ? solveNetwork(net, c, this.state, { capacities: this.capacities, stepS, before: this.state.segments }, SEGMENTS)
      : solveNetwork(net, c, undefined, undefined, SEGMENTS);
    const s = this.state;
    const boxes = this.design.inSeries * this.design.inParallel;
    return {
      outletC: s.outletC,
      plateC: Math.max(...s.segments.map((seg) => seg[net.absorberNode])),
      massFlowKgPerS: flow,
      heatW: s.usefulW * boxes,
      fanW,
    };
  }

  private statedStep(w: BoxWeather, flow: number, fanW: number, stepS: number): BoxNow {
    const { eta0, a1, a2 } = this.stated!;
    const { specificHeat } = fluidProperties(this.design.fluid, w.inletC + 8, w.pressurePa);
    const capacity = flow * specificHeat;
    const meanC = w.inletC + (capacity > 0 ? (this.heatFlux * this.areaM2) / (2 * capacity) : 0);
    const over = meanC - w.ambientC;
    // The warmer its own stream makes it the more it loses: both are followed within the step, so that no slow flow swings it.
    const loss = a1 + a2 * Math.abs(over);
    const own = capacity > 0 ? (loss * this.areaM2) / (2 * capacity) : 0;
    const aim = (eta0 * w.irradianceWm2 - loss * (w.inletC - w.ambientC)) / (1 + own);
    const rate = (1 + own) / drawnFigures(this.design).timeConstantS;
    this.heatFlux += (aim - this.heatFlux) * -Math.expm1(-stepS * rate);
    const heatW = capacity > 0 ? this.heatFlux * this.areaM2 : 0;
    const outletC = capacity > 0 ? w.inletC + heatW / capacity : w.inletC;
    // A curve gives no plate; without flow it settles where loss equals light.
    const stillC = w.ambientC + stagnationRise({ eta0, a1, a2 }, w.irradianceWm2);
    return { outletC, plateC: capacity > 0 ? outletC + 5 : stillC, massFlowKgPerS: flow, heatW, fanW };
  }
}
