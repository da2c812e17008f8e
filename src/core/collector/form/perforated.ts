import { suctionEffectiveness } from "../convection";
import { length, type Form, type Shape } from "./form";
import { backBoard, channel, liner, PAINT, wool } from "./layers";

const { max, min, PI } = Math;

const covered = (s: Shape): number => 1 - (PI / 4) * min(1, s.holeM / s.pitchM) ** 2;

/** A sheet full of small holes that draws outside air through its face. */
export const perforated: Form = {
  fields: [length("holeM", 0.0005, 0.02, 0.0016), length("pitchM", 0.003, 0.1, 0.017)],
  carries: "air",
  stream: "through",
  start: {
    before: [],
    absorber: { material: "aluminium-sheet", thicknessM: 0.0008, coating: PAINT },
    behind: [channel("plenum", 60), liner, wool, backBoard],
  },
  depthM: (_, thicknessM) => thicknessM,
  covered,
  volumeM: (s, thicknessM) => thicknessM * covered(s),
  /** Kutscher 1994: ζ = 6.82·((1−σ)/σ)²·Re^−0.236 on the face velocity. */
  faceLoss(s, flux, p) {
    const porosity = (PI / 4) * (s.holeM / s.pitchM) ** 2;
    const reynolds = max(1, ((flux / porosity) * s.holeM) / p.viscosity);
    return 6.82 * ((1 - porosity) / porosity) ** 2 * reynolds ** -0.236 * (flux ** 2 / (2 * p.density));
  },
  throughEffectiveness(s, flux, p, windMs, transfer) {
    const e = suctionEffectiveness({
      holeM: s.holeM,
      pitchM: s.pitchM,
      massFluxKgM2S: flux,
      density: p.density,
      viscosity: p.viscosity,
      conductivity: p.conductivity,
      specificHeat: p.specificHeat,
      windMs,
    });
    return 1 - (1 - e) ** transfer;
  },
  problems: (s) => (s.holeM >= s.pitchM ? [{ kind: "pipesTooWide", neededM: s.holeM, availableM: s.pitchM }] : []),
  bill: { hours: () => 2 },
};
