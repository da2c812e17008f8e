import { screenLoss, wireNusselt } from "../convection";
import { count, length, type Form } from "./form";
import { backBoard, channel, cover, liner, PAINT, wool } from "./layers";

const { exp, max, min, PI } = Math;

/** Layers of screen that the air passes through. */
export const mesh: Form = {
  fields: [
    count("layers", 1, 12, 3),
    length("wireM", 0.00005, 0.004, 0.00025),
    length("meshPitchM", 0.0003, 0.03, 0.0015),
    length("depthM", 0.002, 0.2, 0.03),
  ],
  carries: "air",
  stream: "through",
  allRound: true,
  start: {
    before: [cover("cover"), channel("front", 25)],
    absorber: { material: "mesh-aluminium", thicknessM: 0.00025, coating: PAINT },
    behind: [channel("back", 25), liner, wool, backBoard],
  },
  depthM: (s) => s.depthM,
  covered: (s) => 1 - (1 - min(0.99, s.wireM / s.meshPitchM)) ** (2 * max(1, s.layers)),
  surfaceRatio: (s) => min(4, max(1, (2 * PI * s.wireM * s.layers) / s.meshPitchM)),
  volumeM: (s) => (s.layers * 2 * (PI / 4) * s.wireM ** 2) / s.meshPitchM,
  /** Screen by screen (Wieghardt 1953). */
  faceLoss(s, flux, p) {
    const solidity = 1 - (1 - min(0.95, s.wireM / s.meshPitchM)) ** 2;
    return s.layers * screenLoss(solidity, (flux * s.wireM) / p.viscosity) * (flux ** 2 / (2 * p.density));
  },
  throughEffectiveness(s, flux, p, _, transfer) {
    const solidity = 1 - (1 - min(0.95, s.wireM / s.meshPitchM)) ** 2;
    const reynolds = (flux / (1 - solidity)) * (s.wireM / p.viscosity);
    const h = (wireNusselt(reynolds) * p.conductivity) / s.wireM;
    const area = (2 * PI * s.wireM * s.layers) / s.meshPitchM;
    return 1 - exp((-transfer * h * area) / (flux * p.specificHeat));
  },
  problems: (s) =>
    s.wireM >= s.meshPitchM ? [{ kind: "pipesTooWide", neededM: s.wireM, availableM: s.meshPitchM }] : [],
  bill: {
    sheets: (s) => s.layers,
    painted: (s, { widthM, lengthM }) => widthM * lengthM * s.layers,
    hours: (s) => 0.4 * s.layers,
  },
};
