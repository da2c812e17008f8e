import type { Form } from "./form";

/** Share of the gross area that lets light in, where nobody measured it. Typical of framed modules. */
const share = (name: string, usual: number) => ({ name, quantity: "fraction" as const, min: 0.05, max: 1, usual });

/**
 * A module as bought, without a drawing: areas, fluid, and the curve its maker states, if any (η0 of 0: none stated). It
 * can stand on the bench like any other; without a stated curve nothing is predicted of it.
 */
export const boughtModule: Form = {
  fields: [
    share("apertureShare", 0.9),
    share("absorberShare", 0.88),
    { name: "statedEta0", quantity: "fraction", min: 0, max: 0.95, usual: 0 },
    { name: "statedA1", quantity: "lossCoefficient", min: 0, max: 40, usual: 0 },
    { name: "statedA2", quantity: "number", min: 0, max: 1, usual: 0 },
    { name: "depthM", quantity: "smallLength", min: 0.01, max: 0.5, usual: 0.09 },
  ],
  carries: "either",
  stream: "inside",
  start: {
    before: [],
    absorber: { material: "aluminium-sheet", thicknessM: 0.0005, coating: null },
    behind: [],
    ports: { diameterM: 0.022, count: 1 },
  },
  depthM: (s) => s.depthM,
  volumeM: (_, thicknessM) => thicknessM,
  areas: (s, grossM2) => ({ aperture: grossM2 * s.apertureShare, absorber: grossM2 * s.absorberShare }),
  stated: (s) => (s.statedEta0 > 0 ? { eta0: s.statedEta0, a1: s.statedA1, a2: s.statedA2 } : null),
  bill: { hours: () => 0 },
};
