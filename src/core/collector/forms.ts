import type { QuantityId } from "../quantity/quantities";

export const ABSORBER_FORMS = [
  "flat",
  "corrugated",
  "fins",
  "mesh",
  "columns",
  "ductCoil",
  "hose",
  "tubeSheet",
  "perforated",
  "masonry",
] as const;
export type AbsorberForm = (typeof ABSORBER_FORMS)[number];

/** Forms whose fluid is a liquid in pipes; the others heat air. */
export const LIQUID_FORMS: readonly AbsorberForm[] = ["hose", "tubeSheet"];

export interface FormField {
  name: string;
  quantity: QuantityId;
  min: number;
  max: number;
  usual: number;
  whole?: boolean;
}

const length = (name: string, min: number, max: number, usual: number): FormField => ({
  name,
  quantity: "smallLength",
  min,
  max,
  usual,
});
const count = (name: string, min: number, max: number, usual: number): FormField => ({
  name,
  quantity: "number",
  min,
  max,
  usual,
  whole: true,
});

/** The dimensions each absorber form has beyond its sheet: one table for model, forms, checks and storage. */
export const FORM_FIELDS: Record<AbsorberForm, readonly FormField[]> = {
  flat: [],
  corrugated: [length("depthM", 0.003, 0.12, 0.018), length("pitchM", 0.01, 0.4, 0.076)],
  fins: [
    length("heightM", 0.003, 0.2, 0.03),
    length("spacingM", 0.004, 0.3, 0.04),
    length("finM", 0.0001, 0.01, 0.0005),
  ],
  mesh: [
    count("layers", 1, 12, 3),
    length("wireM", 0.00005, 0.004, 0.00025),
    length("meshPitchM", 0.0003, 0.03, 0.0015),
    length("depthM", 0.002, 0.2, 0.03),
  ],
  columns: [length("diameterM", 0.02, 0.25, 0.066), count("count", 1, 80, 13), length("cellM", 0.03, 3, 0.115)],
  ductCoil: [
    length("diameterM", 0.05, 0.3, 0.1),
    { name: "lengthM", quantity: "length", min: 0.5, max: 60, usual: 12 },
  ],
  hose: [
    length("outerM", 0.006, 0.08, 0.02),
    length("innerM", 0.003, 0.075, 0.0154),
    length("pitchM", 0.006, 0.4, 0.024),
    count("circuits", 1, 40, 1),
  ],
  tubeSheet: [
    length("outerM", 0.004, 0.06, 0.012),
    length("innerM", 0.003, 0.055, 0.01),
    length("spacingM", 0.01, 0.5, 0.1),
    { name: "bondWmK", quantity: "bondConductance", min: 0.05, max: 1000, usual: 30 },
  ],
  perforated: [length("holeM", 0.0005, 0.02, 0.0016), length("pitchM", 0.003, 0.1, 0.017)],
  masonry: [],
};

/** Depth an absorber takes across the box, m. */
export function formDepth({
  form,
  thicknessM,
  shape: s,
}: {
  form: AbsorberForm;
  thicknessM: number;
  shape: Record<string, number>;
}): number {
  switch (form) {
    case "corrugated":
      return Math.max(thicknessM, s.depthM);
    case "fins":
      return thicknessM + s.heightM;
    case "mesh":
      return s.depthM;
    case "columns":
    case "ductCoil":
      return s.diameterM;
    case "hose":
      return s.outerM;
    case "tubeSheet":
      return thicknessM + s.outerM;
    default:
      return thicknessM;
  }
}

/** Surface of a sine-shaped sheet over its plan area (numerical arc length over one wave). */
export function corrugationRatio(depthM: number, pitchM: number): number {
  const steps = 64;
  let sum = 0;
  for (let i = 0; i < steps; i++) {
    const slope = ((Math.PI * depthM) / pitchM) * Math.cos((2 * Math.PI * (i + 0.5)) / steps);
    sum += Math.sqrt(1 + slope * slope);
  }
  return sum / steps;
}
