import type { Design, Layer } from "@/core/collector/design";
import { fieldWords } from "@/words/build";
import { FORM_WORDS } from "@/words/forms";

const short = (name: string): string => name.split(",")[0];

/** What a layer is called: its material, or what its air does. */
export function layerName(layer: Layer, materials: Design["materials"]): string {
  switch (layer.kind) {
    case "gap":
      return "Air gap";
    case "channel":
      return "Air channel";
    case "absorber":
      return `${FORM_WORDS[layer.form][0].toUpperCase()}${FORM_WORDS[layer.form].slice(1)}`;
    default:
      return short(materials[layer.material]?.name ?? layer.material);
  }
}

/** What of a layer matters to the model, in a few figures. */
export function layerProperty(layer: Layer, materials: Design["materials"], transmittance: number | null): string {
  const m = "material" in layer ? materials[layer.material] : undefined;
  const coating = "coating" in layer && layer.coating ? materials[layer.coating] : undefined;
  switch (layer.kind) {
    case "gap":
      return "still air";
    case "channel":
      return "air stream";
    case "cover":
      return m ? `α ${m.absorptance.toFixed(2)}${transmittance === null ? "" : `, τ ${transmittance.toFixed(2)}`}` : "";
    case "insulation":
      return m ? `${m.conductivity} W/(m·K)` : "";
    case "sheet":
      return m ? `${coating ? short(coating.name) : "bare"}, ε ${(coating ?? m).emittance.toFixed(2)}` : "";
    case "absorber":
      return m
        ? `${short(m.name).toLowerCase()}, ${coating ? short(coating.name).toLowerCase() : "bare"}, α ${(coating ?? m).absorptance.toFixed(2)}, ε ${(coating ?? m).emittance.toFixed(2)}`
        : "";
  }
}

export { fieldWords };
