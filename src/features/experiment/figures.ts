import type { FigureName, Operating, Prediction } from "@/core/collector/prediction";
import type { QuantityId } from "@/core/quantity/quantities";
import { budget, measured, subtract, type Uncertain } from "@/core/uncertainty/uncertain";
import { expandedStated } from "@/core/uncertainty/normal";
import type { FigureData } from "@/ui/FigureText";
import type { WorkingData } from "@/ui/Working";

interface Meta {
  label: string;
  quantity: QuantityId;
  formula: string[];
  inputs: FigureName[];
  note?: string;
}

/** Each predicted figure: its name, unit, and how it is worked out. Inputs are other figures of the same prediction. */
export const FIGURE_META: Record<FigureName, Meta> = {
  massFlow: {
    label: "Flow through one box",
    quantity: "massFlow",
    formula: ["ṁ = flow per area · A_{gross}, or what fan or draught brings"],
    inputs: [],
  },
  inlet: {
    label: "Inlet",
    quantity: "temperature",
    formula: ["T_i as set, or as the exchanger returns it"],
    inputs: [],
  },
  outlet: {
    label: "Outlet",
    quantity: "temperature",
    formula: ["T_o = T_i + Q/(ṁ · c_p)"],
    inputs: ["inlet", "heat", "massFlow"],
    note: "Hotter is not better: less flow gives a hotter outlet and less heat.",
  },
  rise: { label: "Rise", quantity: "temperatureDifference", formula: ["ΔT = T_o − T_i"], inputs: ["inlet", "outlet"] },
  heat: {
    label: "Heat",
    quantity: "power",
    formula: [
      "Q = A_{aperture} · F_R · [(τα) · G − U_L · (T_i − T_a)]",
      "equal to the balance of all layers, summed over eight stretches along the stream",
    ],
    inputs: ["removalFactor", "transmittanceAbsorptance", "collectorLoss", "inlet"],
  },
  heatPerArea: { label: "Heat at your point", quantity: "heatFlux", formula: ["q = Q/A"], inputs: ["heat"] },
  heatPerMetre: {
    label: "Heat per metre of pipe",
    quantity: "heatPerLength",
    formula: ["q = Q/length of pipe"],
    inputs: ["heat"],
  },
  efficiency: { label: "Efficiency at your point", quantity: "fraction", formula: ["η = Q/(A · G)"], inputs: ["heat"] },
  eta0: {
    label: "Zero-loss efficiency",
    quantity: "fraction",
    formula: [
      "η = η_0 − a_1 · x − a_2 · G · x²",
      "least squares over five inlet temperatures, a_1 and a_2 not negative",
    ],
    inputs: ["a1", "a2"],
  },
  a1: {
    label: "Loss a₁",
    quantity: "lossCoefficient",
    formula: ["η = η_0 − a_1 · x − a_2 · G · x²"],
    inputs: ["eta0", "a2"],
  },
  a2: {
    label: "Loss a₂",
    quantity: "curvature",
    formula: ["η = η_0 − a_1 · x − a_2 · G · x²"],
    inputs: ["eta0", "a1"],
  },
  plateMean: {
    label: "Absorber, mean",
    quantity: "temperature",
    formula: ["T_p: mean over eight stretches of the layers’ balance"],
    inputs: ["heat", "collectorLoss"],
  },
  plateMax: {
    label: "Absorber, hottest",
    quantity: "temperature",
    formula: ["largest T_p along the stream"],
    inputs: ["plateMean"],
  },
  stagnation: {
    label: "Absorber without flow",
    quantity: "temperature",
    formula: [
      "(τα) · G = losses at T_p, with ṁ = 0",
      "at 1,000 W/m², 30 °C, wind 0.5 m/s (ISO 9806:2017 states these)",
    ],
    inputs: ["transmittanceAbsorptance"],
  },
  stagnationHere: {
    label: "… on your hottest day",
    quantity: "temperature",
    formula: ["(τα) · G = losses at T_p, with ṁ = 0, at your site’s extreme"],
    inputs: ["stagnation"],
  },
  stagnationMirror: {
    label: "… with the mirror",
    quantity: "temperature",
    formula: ["(τα) · G · gain = losses at T_p, with ṁ = 0", "the mirror’s worst gain over all sun angles"],
    inputs: ["stagnationHere"],
  },
  pressure: {
    label: "Pressure loss",
    quantity: "pressureLoss",
    formula: ["Δp = Σ (f · L/D + ζ) · ρ · v²/2 over ports, manifold, path and absorber"],
    inputs: ["massFlow"],
  },
  fanPower: {
    label: "Fan or pump power",
    quantity: "power",
    formula: ["P = P_{full} · (speed)³, at the speed whose curve meets Δp"],
    inputs: ["pressure", "massFlow"],
  },
  netHeat: {
    label: "Heat less fan power",
    quantity: "power",
    formula: ["Q_{net} = Q − P"],
    inputs: ["heat", "fanPower"],
  },
  heatCapacity: {
    label: "Effective heat capacity",
    quantity: "heatCapacityPerArea",
    formula: ["C = Σ m · c · dT_k/dT_m over all layers"],
    inputs: [],
    note: "A layer counts by how far it follows the fluid.",
  },
  timeConstant: {
    label: "Time constant",
    quantity: "duration",
    formula: ["outlet after the sun is shut off: 63.2 % of its fall", "the layers’ balance in implicit steps"],
    inputs: ["heatCapacity"],
  },
  transmittanceAbsorptance: {
    label: "Light taken in (τα)",
    quantity: "fraction",
    formula: ["(τα) = light absorbed inside/light on the aperture, all reflections counted"],
    inputs: [],
  },
  collectorLoss: {
    label: "Overall loss U_L",
    quantity: "lossCoefficient",
    formula: ["U_L = (absorbed − Q)/[A_{aperture} · (T_p − T_a)]"],
    inputs: ["heat", "plateMean", "transmittanceAbsorptance"],
  },
  efficiencyFactor: {
    label: "Efficiency factor F′",
    quantity: "fraction",
    formula: ["F′ = Q/{A_{aperture} · [(τα) · G − U_L · (T_m − T_a)]}"],
    inputs: ["heat", "collectorLoss", "transmittanceAbsorptance"],
  },
  removalFactor: {
    label: "Heat removal factor F_R",
    quantity: "fraction",
    formula: ["F_R = Q/{A_{aperture} · [(τα) · G − U_L · (T_i − T_a)]}"],
    inputs: ["heat", "collectorLoss", "transmittanceAbsorptance"],
  },
  arrayOutlet: {
    label: "Outlet of the last box",
    quantity: "temperature",
    formula: ["boxes in series: each box’s inlet is the outlet before it"],
    inputs: ["outlet"],
  },
  arrayHeat: {
    label: "Heat of all boxes",
    quantity: "power",
    formula: ["Q = Σ over boxes in series · rows in parallel"],
    inputs: ["heat"],
  },
};

/** A predicted figure as the screen shows it. Expanded uncertainty at 95 %; the fan's own doubts leave a set flow exact. */
export function figureData(p: Prediction, name: FigureName): FigureData | null {
  const u = p.figures[name];
  return u ? data(u, FIGURE_META[name].quantity) : null;
}

const data = (u: Uncertain, quantity: QuantityId): FigureData => {
  const half = expandedStated(measured(u));
  return { si: u.value, expanded: half > 1e-9 ? half : null, quantity };
};

/** Uncertain figure of a layer, as shown. */
export const layerFigure = (u: Uncertain): FigureData => data(u, "temperature");

/** b − a with what both share cancelled. */
export function differenceData(a: Prediction, b: Prediction, name: FigureName): FigureData | null {
  const [x, y] = [a.figures[name], b.figures[name]];
  return x && y
    ? data(
        subtract(y, x),
        FIGURE_META[name].quantity === "temperature" ? "temperatureDifference" : FIGURE_META[name].quantity,
      )
    : null;
}

const budgetOf = (u: Uncertain): WorkingData["budget"] =>
  budget(u)
    .filter((l) => l.share > 0.004)
    .map((l) => ({ sources: [l.source], share: l.share, contribution: l.contribution }));

/** The working of a predicted figure: formula, the figures it is made of, the conditions, and which weakness of the model its ± comes from. */
export function predictedWorking(p: Prediction, name: FigureName, op: Operating, letter: string): WorkingData {
  const meta = FIGURE_META[name];
  const condition = (symbol: string, si: number, quantity: QuantityId, from: string) => ({
    symbol,
    figure: { si, expanded: null, quantity },
    from,
  });
  const inputs = meta.inputs.flatMap((n) => {
    const f = figureData(p, n);
    return f ? [{ symbol: FIGURE_META[n].label, figure: f, from: "predicted" }] : [];
  });
  return {
    title: `${meta.label}, predicted`,
    lanes: [letter],
    figure: figureData(p, name)!,
    coverage: 1.96,
    dof: null,
    formula: meta.formula,
    inputs: [
      ...inputs,
      condition("G", op.irradianceWm2, "irradiance", "Ask"),
      condition("T_a", op.ambientC, "temperature", "Ask"),
      condition("T_i", op.inletC, "temperature", "Ask"),
      condition("A", p.areaM2, "area", `${op.basis} area, from the drawing`),
    ],
    budget: budgetOf(p.figures[name]!),
    layers: [],
    note:
      meta.note ??
      "A prediction: the ± is the model’s own, from how well its formulas are known. A measurement replaces it.",
  };
}

/** The working of one layer's temperature. */
export function layerWorking(u: Uncertain, title: string, formula: string, op: Operating, letter: string): WorkingData {
  return {
    title,
    lanes: [letter],
    figure: layerFigure(u),
    coverage: 1.96,
    dof: null,
    formula: [formula, "heat in = heat out for every layer"],
    inputs: [
      { symbol: "G", figure: { si: op.irradianceWm2, expanded: null, quantity: "irradiance" }, from: "Ask" },
      { symbol: "T_a", figure: { si: op.ambientC, expanded: null, quantity: "temperature" }, from: "Ask" },
    ],
    budget: budgetOf(u),
    layers: [],
    note: "The hottest point of the layer, front or back, inlet or outlet end.",
  };
}
