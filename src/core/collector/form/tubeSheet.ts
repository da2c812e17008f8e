import { length, type Form, type Opening, type Shape } from "./form";
import { backBoard, cover, gap, PAINT, wool } from "./layers";
import { PIPE_ROUGHNESS, pipeFilm, pipeLoss, PORT_LOSS, stripResistance } from "./pipes";

const { max, PI, round } = Math;

const tubesOf = (s: Shape, { widthM }: Opening): number => max(1, round(widthM / s.spacingM));

/** Tubes bonded to a sheet, side by side from header to header. */
export const tubeSheet: Form = {
  fields: [
    length("outerM", 0.004, 0.06, 0.012),
    length("innerM", 0.003, 0.055, 0.01),
    length("spacingM", 0.01, 0.5, 0.1),
    { name: "bondWmK", quantity: "bondConductance", min: 0.05, max: 1000, usual: 30 },
  ],
  carries: "liquid",
  stream: "inside",
  start: {
    before: [cover("cover"), gap("gap", 25)],
    absorber: { material: "aluminium-sheet", thicknessM: 0.0005, coating: PAINT },
    behind: [wool, backBoard],
    ports: { diameterM: 0.02, count: 1 },
  },
  depthM: (s, thicknessM) => thicknessM + s.outerM,
  pipeLengthM: (s, opening) => opening.lengthM * tubesOf(s, opening),
  innerM: (s) => s.innerM,
  volumeM: (s, thicknessM) => thicknessM + ((PI / 4) * (s.outerM ** 2 - s.innerM ** 2)) / s.spacingM,
  insideTransfer({ shape: s, opening, wall, massFlow, p }, transfer) {
    const tubes = tubesOf(s, opening);
    const h = pipeFilm(massFlow / tubes, s.innerM, opening.lengthM, p, transfer * 1);
    const perMetre = tubes / opening.widthM;
    return (
      1 /
      (stripResistance(1 / perMetre, s.outerM, wall.conductivity * wall.thicknessM) +
        1 / (perMetre * s.bondWmK) +
        1 / (perMetre * h * PI * s.innerM))
    );
  },
  insideLoss: ({ shape: s, opening, massFlow, p }) =>
    pipeLoss(massFlow / tubesOf(s, opening), s.innerM, opening.lengthM, PIPE_ROUGHNESS / s.innerM, p, PORT_LOSS),
  bill: {
    more: (s, opening) => [
      { key: "tube-copper", quantity: opening.lengthM * tubesOf(s, opening) + 2 * opening.widthM },
    ],
    hours: (s, opening) => opening.lengthM * tubesOf(s, opening) * 0.05,
  },
};
