import { length, type Form } from "./form";
import { backBoard, cover, gap, PAINT, paintedLiner, wool } from "./layers";
import { BEND_LOSS, FLEXIBLE_ROUGHNESS, pipeFilm, pipeLoss } from "./pipes";

const { PI } = Math;
/** The pleats of pulled-out duct break the stream up. */
const ROUGH = 1.5;

/** Flexible metal duct laid in bends. */
export const ductCoil: Form = {
  fields: [length("diameterM", 0.05, 0.3, 0.1), { name: "lengthM", quantity: "length", min: 0.5, max: 60, usual: 12 }],
  carries: "air",
  stream: "inside",
  allRound: true,
  start: {
    before: [cover("cover"), gap("gap", 20)],
    absorber: { material: "duct-aluminium", thicknessM: 0.0001, coating: PAINT },
    behind: [paintedLiner, wool, backBoard],
    ports: { diameterM: 0.1, count: 1 },
  },
  depthM: (s) => s.diameterM,
  covered: (s, { widthM, lengthM }) => Math.min(1, (s.diameterM * s.lengthM) / (widthM * lengthM)),
  pipeLengthM: (s) => s.lengthM,
  outerM: (s) => s.diameterM,
  surfaceRatio: () => PI / 2,
  // A pulled-out pleated duct has about twice the foil of a smooth one.
  volumeM: (s, thicknessM, { widthM, lengthM }) => (2 * s.lengthM * PI * s.diameterM * thicknessM) / (widthM * lengthM),
  contact: (s, { widthM, lengthM }) => [(widthM * lengthM) / s.lengthM, s.diameterM],
  insideTransfer: ({ shape: s, opening: { widthM, lengthM }, massFlow, p }, transfer) =>
    (pipeFilm(massFlow, s.diameterM, s.lengthM, p, transfer * ROUGH) * PI * s.diameterM * s.lengthM) /
    (widthM * lengthM),
  insideLoss: ({ shape: s, opening: { lengthM }, massFlow, p }) =>
    pipeLoss(massFlow, s.diameterM, s.lengthM, FLEXIBLE_ROUGHNESS, p, (2 * BEND_LOSS * s.lengthM) / lengthM),
  problems: (s, { widthM, lengthM }) =>
    s.diameterM * s.lengthM > widthM * lengthM + 1e-6
      ? [{ kind: "coilTooLong", neededM: s.lengthM, availableM: (widthM * lengthM) / s.diameterM }]
      : [],
  fit(s, { widthM, lengthM }) {
    const diameterM = Math.min(s.diameterM, widthM / 2);
    return { ...s, diameterM, lengthM: Math.max(0.5, Math.min(60, (0.64 * widthM * lengthM) / diameterM)) };
  },
  bill: { painted: (s) => s.lengthM * PI * s.diameterM, hours: () => 0.5 },
};
