import { count, length, type Form } from "./form";
import { BEND_LOSS, PIPE_ROUGHNESS, pipeFilm, pipeLoss } from "./pipes";

const { log, PI } = Math;

/** Hose in a coil, bare or under a cover. */
export const hose: Form = {
  fields: [
    length("outerM", 0.006, 0.08, 0.02),
    length("innerM", 0.003, 0.075, 0.0154),
    length("pitchM", 0.006, 0.4, 0.024),
    count("circuits", 1, 40, 1),
  ],
  carries: "liquid",
  stream: "inside",
  allRound: true,
  start: {
    before: [],
    absorber: { material: "hose-pe", thicknessM: 0.0023, coating: null },
    behind: [{ id: "sheet", kind: "sheet", material: "fibre-cement-dark", thicknessM: 0.005, coating: null }],
    ports: { diameterM: 0.015, count: 1 },
  },
  depthM: (s) => s.outerM,
  covered: (s) => Math.min(1, s.outerM / s.pitchM),
  pipeLengthM: (s, { widthM, lengthM }) => (widthM * lengthM) / s.pitchM,
  innerM: (s) => s.innerM,
  outerM: (s) => s.outerM,
  surfaceRatio: () => PI / 2,
  volumeM: (s) => ((PI / 4) * (s.outerM ** 2 - s.innerM ** 2)) / s.pitchM,
  contact: (s) => [s.pitchM, s.outerM],
  insideTransfer({ shape: s, opening: { widthM, lengthM }, wall, massFlow, p }, transfer) {
    const perMetre = 1 / s.pitchM;
    const run = (widthM * lengthM) / s.pitchM / s.circuits;
    const h = pipeFilm(massFlow / s.circuits, s.innerM, run, p, transfer * 1);
    return perMetre / (1 / (h * PI * s.innerM) + log(s.outerM / s.innerM) / (2 * PI * wall.conductivity));
  },
  insideLoss({ shape: s, opening: { widthM, lengthM }, massFlow, p }) {
    const run = (widthM * lengthM) / s.pitchM / s.circuits;
    return pipeLoss(
      massFlow / s.circuits,
      s.innerM,
      run,
      PIPE_ROUGHNESS / s.innerM,
      p,
      (2 * BEND_LOSS * run) / lengthM,
    );
  },
  problems: (s) =>
    s.pitchM < s.outerM - 1e-9 ? [{ kind: "pipesTooWide", neededM: s.outerM, availableM: s.pitchM }] : [],
  bill: {
    painted: (s, { widthM, lengthM }) => ((widthM * lengthM) / s.pitchM) * PI * s.outerM,
    hours: (s, { widthM, lengthM }) => ((widthM * lengthM) / s.pitchM) * 0.05,
  },
};
