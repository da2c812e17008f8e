import type { AirPath } from "../core/collector/design";
import type { AbsorberForm } from "../core/collector/form/list";

export const FORM_WORDS: Record<AbsorberForm, string> = {
  flat: "flat sheet",
  corrugated: "corrugated sheet",
  fins: "finned sheet",
  mesh: "mesh layers",
  columns: "columns of cans or pipes",
  ductCoil: "coil of flexible duct",
  hose: "hose coil",
  tubeSheet: "tube and sheet",
  perforated: "perforated sheet",
  masonry: "dark masonry",
  evacuatedTubes: "evacuated tubes",
  boughtModule: "bought module",
};
export const PATH_WORDS: Record<AirPath, string> = {
  back: "air behind",
  front: "air in front",
  both: "air on both sides",
  through: "air through",
  inside: "air inside",
  none: "",
};
