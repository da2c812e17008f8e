import type { Form } from "./form";
import { backBoard, channel, cover, gap, liner, PAINT, wool } from "./layers";

/** A plain sheet; air passes along it. */
export const flat: Form = {
  fields: [],
  carries: "air",
  stream: "along",
  board: true,
  start: {
    before: [cover("cover"), gap("gap", 25)],
    absorber: { material: "aluminium-sheet", thicknessM: 0.0005, coating: PAINT },
    behind: [channel("channel", 20), liner, wool, backBoard],
  },
  depthM: (_, thicknessM) => thicknessM,
  volumeM: (_, thicknessM) => thicknessM,
  bill: { hours: () => 0.5 },
};
