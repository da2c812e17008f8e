import { incidenceCoefficient, slantedBy, type Slanted } from "../optics/covers";
import { absorberLayer, coveredShare, opening, type Design } from "./design";
import { formOf } from "./form/list";
import { coverStack } from "./optics";
import { predict } from "./predict";
import { designProblems } from "./validate";
import { tabled } from "../numeric/table";

/** What a test takes from the drawing where nobody measured it. */
export interface DrawnFigures {
  timeConstantS: number;
  /** Incidence modifier coefficient, by its covers. */
  b0: number;
  /** Beyond 60°, by its covers. */
  slanted: Slanted;
  /** Across round bodies that stand apart; null where all directions are alike. */
  b0Across: number | null;
}

/** Where a drawing cannot be reckoned: slower than most boxes, so that a window settles rather too long. */
const SLOW_S = 600;
/** An ordinary sunny hour: the time constant hardly depends on it. */
const ORDINARY = {
  irradianceWm2: 800,
  ambientC: 10,
  inletC: 15,
  windMs: 1.5,
  tilt: 50,
  pressurePa: 95000,
  extremeAmbientC: 30,
  extremeIrradianceWm2: 1000,
  basis: "gross",
  reduced: "mean",
} as const;

const MOST_KEPT = 200;
const asDrawn = tabled((_text: string, design: Design): DrawnFigures => {
  const covers = coverStack(design);
  return {
    timeConstantS: predictedTimeConstant(design) ?? SLOW_S,
    b0: Number(incidenceCoefficient(covers).toFixed(3)),
    slanted: slantedBy(covers),
    b0Across: acrossTubes(design),
  };
}, MOST_KEPT);

/** Time constant and incidence coefficient of a design as drawn. Kept by what is drawn: it is asked for with every page. */
export const drawnFigures = (design: Design): DrawnFigures => asDrawn(JSON.stringify(design), design);

/**
 * Round absorbers that stand apart show as much to light from the side as to light straight on, K = 1/cosθ, until each shades the next
 * at cosθ = diameter ÷ pitch; b0 by least squares from 0 to 60°. Only tubes with a glass of their own: whatever else is round lies
 * on something that takes the light between.
 */
function acrossTubes(design: Design): number | null {
  const absorber = absorberLayer(design);
  if (!absorber || !formOf(absorber).envelope) return null;
  const most = 1 / coveredShare(absorber, opening(design));
  let [xy, xx] = [0, 0];
  for (let angle = 5; angle <= 60; angle += 5) {
    const slant = 1 / Math.cos((angle * Math.PI) / 180);
    xy += (slant - 1) * (1 - Math.min(slant, most));
    xx += (slant - 1) ** 2;
  }
  return Number((xy / xx).toFixed(3));
}

function predictedTimeConstant(design: Design): number | null {
  if (designProblems(design).length) return null;
  const massFluxKgM2S = design.fluid.kind === "air" ? 0.02 : 0.015;
  const value = predict(design, { ...ORDINARY, massFluxKgM2S }).figures.timeConstant?.value;
  return value === undefined || !(value > 0) ? null : Math.min(14400, value);
}
