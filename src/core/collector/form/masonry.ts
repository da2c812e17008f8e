import type { Form } from "./form";
import { backBoard, channel, cover, PAINT, wool } from "./layers";

/** A dark board or slab that holds warmth. */
export const masonry: Form = {
  fields: [],
  carries: "air",
  stream: "along",
  board: true,
  start: {
    before: [cover("cover"), channel("channel", 30)],
    absorber: { material: "concrete-dense", thicknessM: 0.04, coating: PAINT },
    behind: [wool, backBoard],
  },
  depthM: (_, thicknessM) => thicknessM,
  volumeM: (_, thicknessM) => thicknessM,
  bill: { hours: () => 0.5 },
};
