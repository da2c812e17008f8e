import { isLiquid, type Fluid } from "../fluids/fluid";
import { libraryMaterial } from "../materials/library";
import type { Design, Layer } from "./design";
import type { AbsorberForm } from "./forms";
import { materialsOf, namedMaterials, presetDesign } from "./presets";

/** What a person with only a log says about a box: enough to draw it and to divide by an area. */
export interface Outline {
  absorber: AbsorberForm;
  fluid: Fluid;
  covers: number;
  grossAreaM2: number;
}

/** Share of the outside the frame takes in a usual build; a box twice as long as wide. */
const RATIO = 2;

/** A design of this outline with usual dimensions, marked as a sketch: only what the outline says is known. */
export function designFromOutline(o: Outline): Design {
  const start = presetDesign(o.absorber);
  const width = Math.sqrt(o.grossAreaM2 / RATIO);
  const body = {
    ...start,
    // A form says whether air or a liquid; which liquid is for the outline to say.
    fluid: isLiquid(o.fluid) && isLiquid(start.fluid) ? o.fluid : start.fluid,
    grossWidthM: round(width),
    grossLengthM: round(o.grossAreaM2 / round(width)),
    frame: { ...start.frame, thicknessM: Math.min(start.frame.thicknessM, width / 10) },
    layers: withCovers(start.layers, o.covers),
    sketch: true,
  };
  const fitted = fitShape(body);
  return { ...fitted, materials: materialsOf(namedMaterials(fitted)) };
}

const round = (m: number) => Math.round(m * 1e4) / 1e4;

/** The same stack under none, one or two covers of its first one's kind (or toughened glass), 20 mm apart. */
export function withCovers(layers: readonly Layer[], covers: number): Layer[] {
  const first = layers.find((l) => l.kind === "cover");
  const material = first?.kind === "cover" ? first.material : "glass-toughened";
  const thicknessM = first?.thicknessM ?? libraryMaterial(material).thicknessM;
  const rest = layers.filter((l) => l.kind !== "cover");
  // Air between cover and absorber goes with the cover, unless air flows in it.
  const start = rest.findIndex((l) => l.kind !== "gap");
  const below = rest.slice(start);
  if (covers === 0) return below[0].kind === "channel" ? behindAbsorber(below) : below;
  const absorber = below.find((l) => l.kind === "absorber");
  const open = absorber?.kind === "absorber" && (absorber.form === "mesh" || absorber.form === "perforated");
  const out: Layer[] = [];
  for (let k = 1; k <= covers; k++) {
    out.push({ id: k === 1 ? "cover" : `cover${k}`, kind: "cover", material, thicknessM });
    if (k < covers || below[0].kind !== "channel")
      out.push(
        k < covers
          ? { id: `gap${k + 1}`, kind: "gap", thicknessM: 0.02 }
          : { id: open ? "front" : "gap", kind: open ? "channel" : "gap", thicknessM: 0.025 },
      );
  }
  return [...out, ...below];
}

/** Without a cover there is nothing to flow under: the front channel goes behind the absorber, or falls away where one lies there already. */
function behindAbsorber([channel, ...rest]: Layer[]): Layer[] {
  const at = rest.findIndex((l) => l.kind === "absorber");
  return rest.some((l) => l.kind === "channel") ? rest : [...rest.slice(0, at + 1), channel, ...rest.slice(at + 1)];
}

/** Columns and coils as many and as long as the smaller or larger opening takes, as close as in the usual build. */
function fitShape<D extends Omit<Design, "materials">>(d: D): D {
  const widthM = d.grossWidthM - 2 * d.frame.thicknessM;
  const lengthM = d.grossLengthM - 2 * d.frame.thicknessM;
  return {
    ...d,
    layers: d.layers.map((l) => {
      if (l.kind !== "absorber") return l;
      if (l.form === "columns")
        return {
          ...l,
          shape: { ...l.shape, count: Math.max(1, Math.min(80, Math.floor(widthM / (l.shape.diameterM * 1.05)))) },
        };
      if (l.form === "ductCoil")
        return {
          ...l,
          shape: {
            ...l.shape,
            diameterM: Math.min(l.shape.diameterM, widthM / 2),
            lengthM: Math.max(0.5, Math.min(60, (0.64 * widthM * lengthM) / Math.min(l.shape.diameterM, widthM / 2))),
          },
        };
      return l;
    }),
  };
}
