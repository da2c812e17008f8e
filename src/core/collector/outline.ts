import { isLiquid, type Fluid } from "../fluids/fluid";
import { libraryMaterial } from "../materials/library";
import type { Design, Layer } from "./design";
import type { Form } from "./form/form";
import { FORMS, formOf, type AbsorberForm } from "./form/list";
import { materialsOf, namedMaterials, presetDesign } from "./presets";

/** What a person with only a log says about a box: enough to draw it and to divide by an area. */
export interface Outline {
  absorber: AbsorberForm;
  fluid: Fluid;
  covers: number;
  grossAreaM2: number;
}

/** Whether a form can carry what the outline says. */
const fits = ({ absorber, fluid }: Outline): boolean =>
  FORMS[absorber].carries === "either" || (FORMS[absorber].carries === "liquid") === isLiquid(fluid);

/** Share of the outside the frame takes in a usual build; a box twice as long as wide. */
const RATIO = 2;

/** A design of this outline with usual dimensions, marked as a sketch: only what the outline says is known. */
export function designFromOutline(o: Outline): Design {
  const start = presetDesign(o.absorber);
  const width = Math.sqrt(o.grossAreaM2 / RATIO);
  const body = {
    ...start,
    // A form says whether air or a liquid; which liquid is for the outline to say.
    fluid: fits(o) ? o.fluid : start.fluid,
    grossWidthM: round(width),
    grossLengthM: round(o.grossAreaM2 / round(width)),
    frame: { ...start.frame, thicknessM: Math.min(start.frame.thicknessM, width / 10) },
    // A module as bought is closed: what covers it has is its maker's business.
    layers: (FORMS[o.absorber] as Form).stated ? start.layers : withCovers(start.layers, o.covers),
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
  const open = absorber?.kind === "absorber" && formOf(absorber).stream === "through";
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
const fitShape = <D extends Omit<Design, "materials">>(d: D): D => ({
  ...d,
  layers: d.layers.map((l) =>
    l.kind === "absorber" ? { ...l, shape: formOf(l).fit?.(l.shape, bare(d)) ?? l.shape } : l,
  ),
});

/** Opening without the least width that keeps a half-typed frame from turning inside out. */
const bare = (d: Pick<Design, "grossWidthM" | "grossLengthM" | "frame">) => ({
  widthM: d.grossWidthM - 2 * d.frame.thicknessM,
  lengthM: d.grossLengthM - 2 * d.frame.thicknessM,
});
