import type { BrokenKind, BrokenPart } from "../core/experiment/records";

/** What a stored part is called, what its absence means, and what putting it away does. */
const WORDS: Record<BrokenKind, { what: string; meaning: string; mend: string }> = {
  settings: {
    what: "the settings of the experiment",
    meaning: "Nothing of it can be shown.",
    mend: "Begin with standard settings",
  },
  site: { what: "the site", meaning: "It is shown as a plain place in UTC.", mend: "Make it a plain place" },
  design: { what: "a drawing", meaning: "Its variant and lane are left out.", mend: "Take the drawing off" },
  bill: { what: "a bill", meaning: "The drawing’s own prices stand in.", mend: "Begin the bill anew" },
  checklist: { what: "a checklist", meaning: "It is shown empty.", mend: "Begin the checklist anew" },
  specimen: {
    what: "what was measured on a specimen",
    meaning: "Its lane is left out of everything computed.",
    mend: "Go by the drawing",
  },
  run: { what: "a run", meaning: "It is left out of everything computed.", mend: "Delete the run" },
  layer: { what: "a layer", meaning: "Its whole run is left out of everything computed.", mend: "Take the layer off" },
  plan: { what: "a plan", meaning: "A new one is proposed.", mend: "Drop the plan" },
  calibration: { what: "a calibration", meaning: "Runs that use it are left out.", mend: "Delete the calibration" },
  instrument: { what: "an instrument", meaning: "It is missing from the register.", mend: "Delete the instrument" },
  climate: { what: "a climate", meaning: "It cannot be chosen.", mend: "Delete the climate" },
  unavailable: { what: "a time away", meaning: "Plans do not know it.", mend: "Delete the time" },
  material: { what: "a material", meaning: "It is missing from the library.", mend: "Delete the material" },
};

/** Words of a part that cannot be shown: what and where, why and what follows, and what its button does. */
export function brokenWords(part: BrokenPart): { title: string; detail: string; mend: string } {
  const { what, meaning, mend } = WORDS[part.kind];
  const fault = part.computed ? "could not be computed" : "cannot be read";
  return {
    title: `${part.name}: ${what} ${fault}`,
    detail: [part.why && `${part.why}.`, meaning].filter(Boolean).join(" "),
    mend,
  };
}
