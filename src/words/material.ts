import type { MaterialProblem } from "@/core/materials/csv";
import type { MaterialFlag, MaterialGroup, MaterialUnit } from "@/core/materials/material";

export const GROUP_WORDS: Record<MaterialGroup, string> = {
  glazing: "Glazing",
  sheet: "Sheet metal and cloth",
  coating: "Coating",
  mesh: "Mesh",
  tube: "Tube, hose and duct",
  insulation: "Insulation",
  board: "Board and frame",
  masonry: "Masonry",
  reflector: "Reflector",
  sundry: "Sundries",
};
export const UNIT_WORDS: Record<MaterialUnit, string> = { m2: "m²", m: "m", piece: "pc", litre: "L", kg: "kg" };
export const FLAG_WORDS: Record<MaterialFlag, string> = {
  foam: "foam",
  solvent: "solvent",
  outgasses: "gives off fumes when new",
  brittle: "breaks",
  combustible: "burns",
  fibres: "sheds fibres",
  plasticSheet: "grows with heat",
  sharp: "sharp edges",
  cures: "must cure",
};

/** One bad cell of a materials file. */
export function materialProblemWords(p: MaterialProblem): string {
  switch (p.kind) {
    case "longLine":
      return `Line ${p.row + 1} is longer than any material’s: this is no table of materials. Nothing was taken.`;
    case "manyRows":
      return `This table has more than ${p.most.toLocaleString("en")} rows; no library of materials has. Nothing was taken.`;
    case "missingColumn":
      return `The column "${p.column}" is missing. Save the library as CSV and use its header.`;
    case "notNumber":
      return `Row ${p.row}, ${p.column}: "${p.value}" is no number.`;
    case "outOfRange":
      return `Row ${p.row}, ${p.column}: ${p.value} is outside ${p.min} to ${p.max}.`;
    case "unknownWord":
      return `Row ${p.row}, ${p.column}: "${p.value}" is not one of ${p.allowed.join(", ")}.`;
    case "empty":
      return `Row ${p.row}: ${p.column} is empty.`;
    case "twice":
      return `Row ${p.row}: the key "${p.key}" comes twice.`;
    case "more":
      return `${p.count} more cells are like that.`;
  }
}
