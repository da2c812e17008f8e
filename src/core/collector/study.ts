import { checklistOf, type ChecklistItem } from "./checklist";
import type { Design } from "./design";
import { checkLimits, hazards, type Hazard, type HeatLimitCheck } from "./limits";
import { predict } from "./predict";
import type { Operating, Prediction } from "./prediction";
import { designProblems, type DesignProblem } from "./validate";

/** Everything the model says about one design; without prediction while it has problems. */
export interface Study {
  problems: DesignProblem[];
  prediction: Prediction | null;
  limits: HeatLimitCheck[];
  hazards: Hazard[];
  checklist: ChecklistItem[];
}

/** Checks a design and, when it can be built, predicts it. @param lowestC coldest night at the site, °C */
export function studyDesign(design: Design, op: Operating, lowestC: number): Study {
  const problems = designProblems(design);
  if (problems.length) return { problems, prediction: null, limits: [], hazards: [], checklist: [] };
  const prediction = predict(design, op);
  return {
    problems,
    prediction,
    limits: checkLimits(design, prediction, op),
    hazards: hazards(design, prediction, lowestC),
    checklist: checklistOf(design, prediction, lowestC),
  };
}
