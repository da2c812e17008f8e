import { corrugationRatio, length, type Form } from "./form";
import { backBoard, channel, cover, gap, liner, PAINT, wool } from "./layers";

/** A sheet in waves or trapezes: more surface for light and stream. */
export const corrugated: Form = {
  fields: [length("depthM", 0.003, 0.12, 0.018), length("pitchM", 0.01, 0.4, 0.076)],
  carries: "air",
  stream: "along",
  start: {
    before: [cover("cover"), gap("gap", 25)],
    absorber: { material: "aluminium-corrugated", thicknessM: 0.0006, coating: PAINT },
    behind: [channel("channel", 15), liner, wool, backBoard],
  },
  depthM: (s, thicknessM) => Math.max(thicknessM, s.depthM),
  surfaceRatio: (s) => corrugationRatio(s.depthM, s.pitchM),
  volumeM: (s, thicknessM) => thicknessM * corrugationRatio(s.depthM, s.pitchM),
  wetted: (s) => corrugationRatio(s.depthM, s.pitchM),
  channel: (s, _, widthM) => ({
    sectionM2: (widthM * s.depthM) / 2,
    perimeterM: widthM * (corrugationRatio(s.depthM, s.pitchM) - 1),
  }),
  bill: {
    // Sold by cover width: its own surface is larger than what it covers, and is paid by what it covers.
    painted: (s, { widthM, lengthM }) => widthM * lengthM * corrugationRatio(s.depthM, s.pitchM),
    hours: () => 0.5,
  },
};
