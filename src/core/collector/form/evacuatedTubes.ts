import { length, type Form, type Opening, type Shape } from "./form";
import { PIPE_ROUGHNESS, pipeFilm, pipeLoss, PORT_LOSS } from "./pipes";

const { max, min, PI, round } = Math;

/** Borosilicate tube, straight on: both faces reflect about 4 % (typical value). */
const GLASS_TRANSMITTANCE = 0.915;
const SIGMA = 5.670374e-8;
/** Absorber and glass at a usual test, K: radiation between them goes with the cube of this. */
const USUAL_K = 333;

const tubesOf = (s: Shape, { widthM }: Opening): number => max(1, round(widthM / s.pitchM));

/**
 * Glass tubes with a vacuum around a selective absorber; the fluid, air or a liquid, runs in a pipe inside each. What
 * crosses the vacuum is radiation alone: h = 4·σ·ε·T³ over the absorber's circumference, between long concentric
 * cylinders with the glass seen as black (DB 3.10.2, within 10 % for emittances below 0.15).
 */
export const evacuatedTubes: Form = {
  fields: [
    length("outerM", 0.03, 0.15, 0.058),
    length("absorberM", 0.02, 0.13, 0.047),
    length("innerM", 0.004, 0.12, 0.012),
    length("pitchM", 0.03, 0.3, 0.075),
  ],
  carries: "either",
  stream: "inside",
  allRound: true,
  start: {
    before: [],
    absorber: { material: "aluminium-sheet", thicknessM: 0.0005, coating: "foil-selective" },
    behind: [],
    ports: { diameterM: 0.022, count: 1 },
  },
  depthM: (s) => s.outerM,
  covered: (s) => min(1, s.absorberM / s.pitchM),
  pipeLengthM: (s, opening) => opening.lengthM * tubesOf(s, opening),
  innerM: (s) => s.innerM,
  surfaceRatio: () => PI / 2,
  volumeM: (s, thicknessM) => (PI * s.absorberM * thicknessM) / s.pitchM,
  contact: (s) => [s.pitchM, s.outerM / 4],
  // Sheet to pipe and round the absorber costs little beside the film (typical 0.02 m·K/W a tube).
  insideTransfer({ shape: s, opening, massFlow, p }, transfer) {
    const tubes = tubesOf(s, opening);
    const h = pipeFilm(massFlow / tubes, s.innerM, opening.lengthM, p, transfer);
    const perMetre = tubes / opening.widthM;
    return perMetre / (1 / (h * PI * s.innerM) + 0.02);
  },
  insideLoss: ({ shape: s, opening, massFlow, p }) =>
    pipeLoss(massFlow / tubesOf(s, opening), s.innerM, opening.lengthM, PIPE_ROUGHNESS / s.innerM, p, PORT_LOSS),
  envelope: (s, emittance) => ({
    transmittance: GLASS_TRANSMITTANCE,
    conductance: (4 * SIGMA * emittance * USUAL_K ** 3 * PI * s.absorberM) / s.pitchM,
  }),
  problems(s) {
    const inside = s.absorberM >= s.outerM;
    if (inside) return [{ kind: "pipesTooWide", neededM: s.absorberM, availableM: s.outerM }];
    if (s.innerM >= s.absorberM) return [{ kind: "pipesTooWide", neededM: s.innerM, availableM: s.absorberM }];
    return s.pitchM < s.outerM - 1e-9 ? [{ kind: "pipesTooWide", neededM: s.outerM, availableM: s.pitchM }] : [];
  },
  bill: {
    more: (s, opening) => [{ key: "tube-evacuated", quantity: tubesOf(s, opening) }],
    hours: (s, opening) => tubesOf(s, opening) * 0.1,
  },
};
