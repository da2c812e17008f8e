import { combine, scale, withSource, type Uncertain } from "../uncertainty/uncertain";
import { fluidProperties } from "../fluids/fluid";
import { designAreas } from "./content";
import type { Design } from "./design";
import type { StatedCurve } from "./form/form";
import type { Operating, Prediction } from "./prediction";
import { INLET_STEPS, STILL } from "./standard";

/** How far a module on a roof lies from the one its maker had tested: shares of η0 and of the losses, standard (typical values). */
const SPREAD = { eta0: 0.02, losses: 0.1 };

const model = { owner: "", dof: Infinity };

/** Heat per gross area, W/m², of a curve at a difference of mean fluid and outside temperature. */
function heatAt(
  eta0: Uncertain,
  losses: Uncertain,
  { a1, a2 }: StatedCurve,
  G: number,
  differenceK: number,
): Uncertain {
  const loss = a1 * differenceK + a2 * differenceK ** 2;
  return combine(G * eta0.value - loss, [
    [G, eta0],
    [-loss, losses],
  ]);
}

/**
 * What a module's stated curve promises at the operating point, on its gross area. Its ± is that of any module against the
 * one in the maker's test; nothing is said of layers, pressure or time, which the curve does not hold.
 */
export function predictStated(design: Design, curve: StatedCurve, op: Operating, flow?: number): Prediction {
  const areas = designAreas(design);
  const G = op.irradianceWm2;
  const massFlow = flow ?? op.massFluxKgM2S * areas.gross;
  const eta0 = withSource(curve.eta0, SPREAD.eta0 * curve.eta0, { kind: "transmittance", ...model });
  const losses = withSource(1, SPREAD.losses, { kind: "insulation", ...model });
  const { specificHeat } = fluidProperties(design.fluid, op.inletC + 8, op.pressurePa);
  const perWatt = massFlow > 0 ? areas.gross / (2 * massFlow * specificHeat) : 0;
  // q = G·η0 − a1·(Tm − Ta) − …, Tm = Tin + q·A/(2·ṁ·cp): a few substitutions settle it.
  const solve = (inletC: number): Uncertain => {
    let q = 0;
    for (let i = 0; i < 60; i++)
      q = 0.5 * q + 0.5 * heatAt(eta0, losses, curve, G, inletC + q * perWatt - op.ambientC).value;
    return heatAt(eta0, losses, curve, G, inletC + q * perWatt - op.ambientC);
  };
  const q = solve(op.inletC);
  const onBasis = areas.gross / areas[op.basis];
  const heat = scale(q, areas.gross);
  const rise = massFlow > 0 ? scale(heat, 1 / (massFlow * specificHeat)) : null;
  const figures: Prediction["figures"] = {
    massFlow: combine(massFlow, []),
    inlet: combine(op.inletC, []),
    heat,
    heatPerArea: scale(q, onBasis),
    eta0: scale(eta0, onBasis),
    a1: scale(losses, curve.a1 * onBasis),
    a2: scale(losses, curve.a2 * onBasis),
  };
  if (G > 0) figures.efficiency = scale(q, onBasis / G);
  if (rise) Object.assign(figures, { rise, outlet: combine(op.inletC + rise.value, [[1, rise]]) });
  const still = stagnation(curve, STILL.irradianceWm2, STILL.ambientC);
  if (still !== null)
    figures.stagnation = combine(still, [
      [still - STILL.ambientC, eta0],
      [STILL.ambientC - still, losses],
    ]);
  const here = stagnation(curve, op.extremeIrradianceWm2, op.extremeAmbientC);
  if (here !== null) figures.stagnationHere = combine(here, [[here - op.extremeAmbientC, losses]]);
  const points = INLET_STEPS[design.fluid.kind].map((step) => {
    const at = solve(op.ambientC + step);
    const mean = op.reduced === "mean" ? at.value * perWatt : 0;
    return { x: (step + mean) / G, efficiency: scale(at, onBasis / G) };
  });
  const none = design.layers.map(() => null);
  return {
    figures,
    layers: none,
    profile: none,
    stillProfile: none,
    points: G > 0 && massFlow > 0 ? points : [],
    shares: null,
    fanEnough: true,
    drivenFlow: massFlow,
    areaM2: areas[op.basis],
  };
}

/** Temperature, °C, at which a curve gives no heat; null for one without losses. */
function stagnation({ eta0, a1, a2 }: StatedCurve, G: number, ambientC: number): number | null {
  if (!(a1 > 0 || a2 > 0)) return null;
  if (a2 === 0) return ambientC + (G * eta0) / a1;
  return ambientC + (-a1 + Math.sqrt(a1 ** 2 + 4 * a2 * G * eta0)) / (2 * a2);
}
