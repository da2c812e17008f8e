import { fluidProperties } from "../fluids/fluid";
import { layerMasses, liquidContent } from "./content";
import type { HeatNetwork } from "./network";
import { solveNetwork, type Conditions, type Solution } from "./solve";

/** Warmth held by each node, J/(m²·K) of aperture: half of a thick layer at each face. The liquid inside counts with the absorber. */
export function nodeCapacities(net: HeatNetwork): Float64Array {
  const { design } = net;
  const out = new Float64Array(net.nodeCount);
  const masses = layerMasses(design);
  design.layers.forEach((l, i) => {
    const faces = net.faces[i];
    if (!faces || l.kind === "gap" || l.kind === "channel") return;
    const held = (masses[i] / net.apertureM2) * design.materials[l.material].specificHeat;
    out[faces.front] += held / 2;
    out[faces.back] += held / 2;
  });
  const p = fluidProperties(design.fluid, 40, 101325);
  out[net.absorberNode] += (liquidContent(design) * p.density * p.specificHeat) / net.apertureM2;
  return out;
}

/** Layers thick enough to have a warmth of their own follow the fluid only in part: each node's share is how far it moves when the inlet does. */
export function effectiveCapacity(net: HeatNetwork, low: Solution, high: Solution): number {
  const capacities = nodeCapacities(net);
  const mean = (s: Solution) => (s.inletC + s.outletC) / 2;
  const rise = mean(high) - mean(low);
  let sum = 0;
  for (let i = 0; i < net.nodeCount; i++) {
    const moved = high.segments.reduce((t, seg, k) => t + seg[i] - low.segments[k][i], 0) / high.segments.length;
    sum += capacities[i] * (Math.abs(rise) > 1e-6 ? moved / rise : 1);
  }
  return sum;
}

/**
 * Time constant, s: how long the outlet takes to lose 63.2 % of what it will lose when the sun is shut off (the box's own
 * balance in implicit steps; ISO 9806:2017 clause on the time constant). null when the outlet hardly rises.
 *
 * @param steady at the same conditions with sun
 */
export function timeConstant(net: HeatNetwork, c: Conditions, steady: Solution): number | null {
  const rise = steady.outletC - steady.inletC;
  if (c.massFlowKgPerS <= 0 || Math.abs(rise) < 0.2) return null;
  const dark = solveNetwork(net, { ...c, irradianceWm2: 0 }, steady);
  const capacities = nodeCapacities(net);
  const perArea = Math.max(1, steady.usefulW / Math.max(0.5, rise) / net.apertureM2);
  const fall = (stepS: number) => fallTime(net, c, { steady, dark, capacities }, stepS);
  // Heavy layers that hardly follow make the first guess long; it only sets the steps that are then taken.
  const guess = fall(capacities.reduce((a, b) => a + b, 0) / perArea / 8);
  if (guess === null) return null;
  const [coarse, fine] = [fall(guess / STEPS), fall(guess / (2 * STEPS))];
  // An implicit step lags by about half of itself: what half the step finds less of is taken off once more (Richardson).
  return coarse === null || fine === null ? null : 2 * fine - coarse;
}

/** Steps in about one time constant. */
const STEPS = 10;
const MOST_STEPS = 2000;

interface Fall {
  steady: Solution;
  dark: Solution;
  capacities: Float64Array;
}

/** Time until 63.2 % of the fall from steady to dark is over, s, in implicit steps; null where that takes too many. @testing */
export function fallTime(
  net: HeatNetwork,
  c: Conditions,
  { steady, dark, capacities }: Fall,
  stepS: number,
): number | null {
  const fall = steady.outletC - dark.outletC;
  const wanted = 1 - Math.exp(-1);
  let state = steady;
  let share = 0;
  for (let step = 1; step <= MOST_STEPS; step++) {
    state = solveNetwork(net, { ...c, irradianceWm2: 0 }, state, { capacities, stepS, before: state.segments });
    const now = (steady.outletC - state.outletC) / fall;
    if (now >= wanted) return stepS * (step - 1 + (wanted - share) / (now - share));
    share = now;
  }
  return null;
}
