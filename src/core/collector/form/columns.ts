import { count, length, type Form } from "./form";
import { backBoard, cover, gap, PAINT, paintedLiner, wool } from "./layers";
import { pipeFilm, pipeLoss, SHEET_ROUGHNESS } from "./pipes";

const { PI } = Math;
/** A punched can's neck and step, on the velocity head in the can. Typical value. */
const CELL_LOSS = 2;
/** Each can's neck breaks the stream up anew. */
const ROUGH = 1.2;

/** Columns of cans or pipes with air inside. */
export const columns: Form = {
  fields: [length("diameterM", 0.02, 0.25, 0.066), count("count", 1, 80, 13), length("cellM", 0.03, 3, 0.115)],
  carries: "air",
  stream: "inside",
  allRound: true,
  start: {
    before: [cover("cover"), gap("gap", 20)],
    absorber: { material: "aluminium-can", thicknessM: 0.0001, coating: PAINT },
    behind: [paintedLiner, wool, backBoard],
    manifoldLoss: 2.5,
  },
  depthM: (s) => s.diameterM,
  covered: (s, { widthM }) => Math.min(1, (s.diameterM * s.count) / widthM),
  pipeLengthM: (s, { lengthM }) => lengthM * s.count,
  outerM: (s) => s.diameterM,
  surfaceRatio: () => PI / 2,
  volumeM: (s, thicknessM, { widthM }) => (s.count * PI * s.diameterM * thicknessM) / widthM,
  contact: (s, { widthM }) => [widthM / s.count, s.diameterM],
  // The entry length is one can.
  insideTransfer: ({ shape: s, opening: { widthM }, massFlow, p }, transfer) =>
    (pipeFilm(massFlow / s.count, s.diameterM, s.cellM, p, transfer * ROUGH) * PI * s.diameterM * s.count) / widthM,
  insideLoss: ({ shape: s, opening: { lengthM }, massFlow, p }) =>
    pipeLoss(
      massFlow / s.count,
      s.diameterM,
      lengthM,
      SHEET_ROUGHNESS / s.diameterM,
      p,
      (CELL_LOSS * lengthM) / s.cellM,
    ),
  problems: (s, { widthM }) =>
    s.diameterM * s.count > widthM + 1e-6
      ? [{ kind: "pipesTooWide", neededM: s.diameterM * s.count, availableM: widthM }]
      : [],
  fit: (s, { widthM }) => ({
    ...s,
    count: Math.max(1, Math.min(80, Math.floor(widthM / (s.diameterM * 1.05)))),
  }),
  bill: {
    pieces: (s, { lengthM }) => s.count * Math.ceil(lengthM / s.cellM),
    painted: (s, { lengthM }) => lengthM * s.count * PI * s.diameterM,
    hours: (s, { lengthM }) => s.count * Math.ceil(lengthM / s.cellM) * 0.04,
  },
};
