import {
  absorberArea,
  absorberLayer,
  apertureArea,
  opening,
  pipeLength,
  type AbsorberLayer,
  type Design,
} from "./design";
import { formOf } from "./form/list";

/** What a box is made of, before anything is solved: areas, volumes, masses. */
const { PI } = Math;

/** The three areas of a design, m². */
export const designAreas = (d: Design): Record<"gross" | "aperture" | "absorber", number> => ({
  gross: d.grossWidthM * d.grossLengthM,
  aperture: apertureArea(d),
  absorber: absorberArea(d),
});

/** Solid volume of an absorber per m² of aperture, m. */
export const absorberVolume = (d: Design, absorber: AbsorberLayer): number =>
  formOf(absorber).volumeM(absorber.shape, absorber.thicknessM, opening(d));

/** Liquid inside one box, m³; 0 for air. */
export function liquidContent(d: Design): number {
  const absorber = absorberLayer(d);
  const run = pipeLength(d);
  return d.fluid.kind === "air" || !absorber || run === null
    ? 0
    : run * (PI / 4) * (formOf(absorber).innerM?.(absorber.shape) ?? 0) ** 2;
}

/** Mass of one box, dry, kg, by layer; the frame last. */
export function layerMasses(d: Design): number[] {
  const area = apertureArea(d);
  const depth = d.layers.reduce((sum, l) => sum + ("thicknessM" in l ? l.thicknessM : 0), 0);
  const frame =
    2 * (d.grossWidthM + d.grossLengthM) * d.frame.thicknessM * depth * d.materials[d.frame.material].density;
  const masses = d.layers.map((l) => {
    if (l.kind === "gap" || l.kind === "channel") return 0;
    const volume = l.kind === "absorber" ? absorberVolume(d, l) : l.thicknessM;
    return volume * area * d.materials[l.material].density;
  });
  return [...masses, frame];
}
