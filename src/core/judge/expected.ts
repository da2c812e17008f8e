import { designAreas } from "../collector/content";
import { isBought, type Design } from "../collector/design";
import { bestFigures, predict } from "../collector/predict";
import type { Operating } from "../collector/prediction";
import { designProblems } from "../collector/validate";
import { scale, type Uncertain } from "../uncertainty/uncertain";

/** How η0 and a1 go with flow: as its powers, near the tested flow. */
export interface FlowPower {
  eta0: number;
  a1: number;
}

/** What a lane's drawing says it should have given where it was tested. */
export interface Expected {
  /** Straight on, on the area its heat is divided by. */
  efficiency: Uncertain;
  /** W/(m²·K), on the same area. */
  a1: Uncertain;
  /** How its loss grows with warmth, W/(m²·K²), on the same area; left out where the drawing's curve is straight. */
  a2?: number;
  flowPower: FlowPower;
  /** What its own fan or pump brings, kg/(s·m²) of gross area; null where it brings nothing or none is drawn. */
  ownFlow: number | null;
  /** Electric, at the tested flow, W per box. */
  fanW: number;
}

const STEP = 1.2;

/**
 * A design at the condition a lane was tested at. null where it cannot be predicted: a sketch made by an import, or a drawing with
 * problems. @param massFlow tested, kg/s @param areaM2 that the lane's heat is divided by, as built
 */
export function expectedOf(design: Design, op: Operating, massFlow: number, areaM2: number): Expected | null {
  if (design.sketch || !(massFlow > 0) || designProblems(design).length) return null;
  const { figures, drivenFlow } = predict(design, op, massFlow);
  const { efficiency, a1, eta0 } = figures;
  if (!efficiency || !a1 || !eta0 || !(eta0.value > 0)) return null;
  const areas = designAreas(design);
  const asBuilt = areas[op.basis] / areaM2;
  const more = isBought(design) ? {} : bestFigures(design, op, STEP * massFlow);
  const power = (from: number, to: number | undefined) =>
    to !== undefined && to > 0 && from > 0 ? Math.log(to / from) / Math.log(STEP) : 0;
  const ownFlow = drivenFlow / areas.gross;
  return {
    efficiency: scale(efficiency, asBuilt),
    a1: scale(a1, asBuilt),
    ...(figures.a2 ? { a2: figures.a2.value * asBuilt } : {}),
    flowPower: { eta0: power(eta0.value, more.eta0), a1: power(a1.value, more.a1) },
    ownFlow: ownFlow > 1e-5 ? ownFlow : null,
    fanW: figures.fanPower?.value ?? 0,
  };
}
