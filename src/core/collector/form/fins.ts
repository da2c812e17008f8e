import { finEfficiency } from "../convection";
import { length, type Form } from "./form";
import { backBoard, channel, cover, gap, liner, PAINT, wool } from "./layers";

/** Heat transfer, W/(m²·K), at which a fin's efficiency is taken: it hardly depends on it. */
const FIN_TRANSFER = 8;

/** A sheet with fins standing in the stream. */
export const fins: Form = {
  fields: [
    length("heightM", 0.003, 0.2, 0.03),
    length("spacingM", 0.004, 0.3, 0.04),
    length("finM", 0.0001, 0.01, 0.0005),
  ],
  carries: "air",
  stream: "along",
  start: {
    before: [cover("cover"), gap("gap", 25)],
    absorber: { material: "aluminium-sheet", thicknessM: 0.0005, coating: PAINT },
    behind: [channel("channel", 5), liner, wool, backBoard],
  },
  depthM: (s, thicknessM) => thicknessM + s.heightM,
  volumeM: (s, thicknessM) => thicknessM + (s.heightM * s.finM) / s.spacingM,
  wetted(s, conductivity, finned) {
    if (!finned) return 1;
    const m = Math.sqrt((2 * FIN_TRANSFER) / (conductivity * s.finM));
    return 1 + ((2 * s.heightM) / s.spacingM) * finEfficiency(m, s.heightM);
  },
  channel(s, _, widthM, finned) {
    if (!finned) return { sectionM2: 0, perimeterM: 0 };
    const each = widthM / s.spacingM;
    return { sectionM2: widthM * s.heightM - each * s.heightM * s.finM, perimeterM: 2 * s.heightM * (1 + each) };
  },
  problems: (s) => (s.finM >= s.spacingM ? [{ kind: "pipesTooWide", neededM: s.finM, availableM: s.spacingM }] : []),
  bill: {
    sheets: (s) => 1 + s.heightM / s.spacingM,
    hours: (s, { widthM }) => (widthM / s.spacingM) * 0.05,
  },
};
