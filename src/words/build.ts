import type { Aspect } from "@/core/collector/compare";
import type { LayerKind } from "@/core/collector/design";
import type { Hazard, LimitCase } from "@/core/collector/limits";
import type { DesignProblem } from "@/core/collector/validate";
import type { MaterialTable } from "@/core/materials/material";
import { quantityText } from "@/core/quantity/format";
import type { QuantityId, UnitSystem } from "@/core/quantity/quantities";

/** Where designs, their problems and hazards become English. */

export const ASPECT_WORDS: Record<Aspect, string> = {
  fluid: "fluid",
  absorber: "absorber form",
  absorberMaterial: "absorber material",
  absorberSize: "absorber dimensions",
  coating: "coating",
  glazing: "glazing",
  coverGap: "air gap under the glazing",
  airPath: "air path and channel depth",
  backing: "insulation and back",
  size: "size and frame",
  ports: "ports and manifold",
  drive: "fan or pump",
  reflector: "reflector",
  arrangement: "series, parallel, exchanger",
};

/** Which state of a drawing is shown, and whether it is saved. */
export function drawingState(
  { revision, workingFrom }: { revision: number; workingFrom: unknown },
  { busy, error }: { busy: boolean; error: string | null },
): string {
  const state = `revision ${revision}${workingFrom ? ", in progress" : ""}`;
  if (error !== null) return `${state}, last edit not saved`;
  if (busy) return `${state}, saving …`;
  return workingFrom ? `${state}, saved` : state;
}

export const KIND_WORDS: Record<LayerKind, string> = {
  cover: "Glazing",
  gap: "Air gap",
  channel: "Air channel",
  absorber: "Absorber",
  sheet: "Sheet",
  insulation: "Insulation",
};

/** `a, b and c`. */
export const listWords = (words: readonly string[]): string =>
  words.length < 2 ? (words[0] ?? "") : `${words.slice(0, -1).join(", ")} and ${words[words.length - 1]}`;

const FIELD_WORDS: Record<string, string> = {
  thicknessM: "thickness",
  grossWidthM: "width of the box",
  grossLengthM: "length of the box",
  frame: "frame thickness",
  portDiameter: "port diameter",
  portCount: "number of ports",
  manifoldLoss: "manifold loss factor",
  concentration: "concentration",
  inSeries: "boxes in series",
  inParallel: "rows in parallel",
  glycolShare: "share of glycol",
  exchanger: "effectiveness of the exchanger",
  draughtHeight: "height of the draught",
  panelPower: "power of the panel",
  mirrorLength: "length of the mirror",
  mirrorAngle: "angle of the mirror",
  mirrorGap: "gap at the mirror's hinge",
  mirrorWidth: "width of the mirror",
  mirrorAway: "distance of the free mirror",
  thermostatOn: "thermostat, on",
  thermostatOff: "thermostat, off",
  depthM: "depth",
  pitchM: "pitch",
  heightM: "fin height",
  spacingM: "spacing",
  finM: "fin thickness",
  layers: "number of layers",
  wireM: "wire diameter",
  meshPitchM: "wire spacing",
  diameterM: "diameter",
  count: "number of columns",
  cellM: "length of a can",
  lengthM: "length of duct",
  outerM: "outer diameter",
  innerM: "inner diameter",
  circuits: "number of circuits",
  bondWmK: "bond conductance",
  absorberM: "absorber diameter",
  apertureShare: "aperture, of gross area",
  absorberShare: "absorber, of gross area",
  statedEta0: "stated η₀, gross area",
  statedA1: "stated a₁",
  statedA2: "stated a₂",
  holeM: "hole diameter",
};
export const fieldWords = (name: string): string => FIELD_WORDS[name] ?? name;

const sizeText = (si: number, quantity: QuantityId, system: UnitSystem): string =>
  Number.isFinite(si) ? quantityText(si, quantity, { system, figures: 3 }) : "no number";

/** What is wrong, why, and the way out. @param name of the layer concerned, "" for the box */
export function problemWords(p: DesignProblem, name: string, materials: MaterialTable, system: UnitSystem): string {
  const mm = (m: number) => sizeText(m, "smallLength", system);
  switch (p.kind) {
    case "noLayers":
      return "The box is empty. Add an absorber to begin with.";
    case "noAbsorber":
      return "Nothing here takes the sun: add an absorber.";
    case "twoAbsorbers":
      return `${name} is a second absorber; the model knows one. Make it a sheet, or take one out.`;
    case "coverBehindAbsorber":
      return `${name} lies behind the absorber, where no light comes. Move it to the sun side, or make it a sheet.`;
    case "coverBehindInsulation":
      return `${name} lies behind the insulation, where no light comes. Move it to the sun side of the absorber, or take it out.`;
    case "insulationOverAbsorber":
      return `${name} lies on the sun side and shades the absorber. Move it behind the absorber.`;
    case "sheetOverAbsorber":
      return `${name} lies on the sun side and shades the absorber. Move it behind, or make it a glazing.`;
    case "coverOnAbsorber":
      return `${name} touches the absorber: there it insulates nothing and would soften. Put an air gap between them.`;
    case "waterInAirForm":
      return "This absorber cannot hold water: it would run out. Choose a hose coil or tube and sheet, or change the fluid to air.";
    case "airInLiquidForm":
      return "Hose and tubes of this size carry a liquid, not air. Change the fluid to water, or choose another absorber.";
    case "openFormNeedsChannel":
      return "Air goes through this absorber: it needs a channel behind it, and one in front when there is glazing.";
    case "noChannel":
      return "Air has no way through the box. Turn an air gap into a channel, or add one.";
    case "channelWithPipes":
      return `Air flows inside the pipes here; ${name} would be a second stream. Make it an air gap.`;
    case "channelWithLiquid":
      return `${name} carries air, but this collector heats a liquid. Make it an air gap.`;
    case "neighbouringAirLayers":
      return `${name} lies on another air layer with nothing between. Take one out, or put a sheet between them.`;
    case "airLayerOutside":
      return `${name} is open to the outside: an air layer needs a solid layer on both sides.`;
    case "tubeWall":
      return `${name} is as wide inside as outside, so it has no wall. Make the inner diameter smaller.`;
    case "tooFewFlowPoints":
      return "A fan curve needs at least two points.";
    case "thermostatCrossed":
      return "The thermostat’s set points are crossed: it stops where it starts, or above. Set off below on.";
    case "nothingStated":
      return "The maker’s curve is not given, so nothing is predicted. It can be tested all the same; if the data sheet states η₀ and a₁, enter them.";
    case "backMissing":
      return "The channel has no back: add a sheet or insulation behind it.";
    case "tooManyLayers":
      return `${p.count} layers are more than the ${p.most} the model takes. Join layers of one material into one.`;
    case "tooManyCovers":
      return `${p.count} glazings are more than the ${p.most} the optics take: each one costs more light than it saves heat.`;
    case "outOfRange":
      return `${name ? `${name}: the` : "The"} ${fieldWords(p.field)} of ${sizeText(p.value, p.quantity, system)} cannot be built; from ${sizeText(p.min, p.quantity, system)} to ${sizeText(p.max, p.quantity, system)} can.`;
    case "notGlazing":
      return `${materials[p.material]?.name ?? p.material} lets no light through. Choose a glazing for ${name}.`;
    case "materialMissing":
      return `${name || "The frame"} is of a material no longer in the library (${p.material}). Choose another.`;
    case "frameFillsBox":
      return `The frame (${mm(p.neededM)} on both sides together) leaves no opening in ${mm(p.availableM)}. Make the frame thinner or the box larger.`;
    case "pipesTooWide":
      return `${name} needs ${mm(p.neededM)}, there are ${mm(p.availableM)}. Take fewer, thinner or wider apart.`;
    case "coilTooLong":
      return `${sizeText(p.neededM, "length", system)} of duct do not fit beside each other; ${sizeText(p.availableM, "length", system)} do.`;
  }
}

export const CASE_WORDS: Record<LimitCase, string> = {
  use: "in use",
  still: "without flow (1\u2009000\u2009W/m², 30\u2009°C outside)",
  here: "without flow on your hottest day",
  mirror: "without flow, with the mirror",
};

/** What can happen and what to do. Short: it stands beside the figure it belongs to. */
export function hazardWords(h: Hazard, materials: MaterialTable): { title: string; todo: string } {
  const name = (key: string) => materials[key]?.name ?? key;
  const kg = (m: number) => `${Math.round(m)}\u2009kg`;
  switch (h.kind) {
    case "solventOnFoam":
      return {
        title: `${name(h.coating)} can eat ${name(h.foam)}`,
        todo: "Its solvent dissolves many foams. Paint a scrap first and wait a day, or take a water-based paint.",
      };
    case "outgassing":
      return {
        title: `${name(h.material)} gives off fumes when first hot`,
        todo: "You breathe this air. Bake the box out in the open for several sunny days, until it no longer smells, before it blows indoors.",
      };
    case "fibresInAir":
      return {
        title: `${name(h.material)} can shed fibres into the air you breathe`,
        todo: "Face it with foil or a sheet where the stream passes.",
      };
    case "glass":
      return {
        title: `The pane weighs ${kg(h.massKg)}`,
        todo: `Lift it with ${h.people} people, with gloves, on edge, never in wind.`,
      };
    case "lifting":
      return {
        title: `The box weighs about ${kg(h.massKg)}`,
        todo: `Move it with ${h.people} people or a trolley; fix it against wind before letting go.`,
      };
    case "expansion":
      return {
        title: `${name(h.material)} grows by ${h.movementMm.toFixed(0)}\u2009mm between frost and stagnation`,
        todo: `Leave ${h.gapMm}\u2009mm at each edge and drill ${h.holeMm}\u2009mm holes for ${h.screwMm}\u2009mm screws; screw it hand-tight.`,
      };
    case "freezing":
      return {
        title:
          `The liquid freezes at ${h.freezesC.toFixed(0)}\u2009°C; your nights reach ${h.lowestC.toFixed(0)}\u2009°C`.replace(
            /-/g,
            "\u2212",
          ),
        todo: "Drain it before frost, or run enough antifreeze. Pipes burst, and so do hoses at their clamps.",
      };
    case "boiling":
      return {
        title: `Without flow the liquid reaches ${Math.round(h.stagnationC)}\u2009°C and boils`,
        todo: "Never close the loop without a relief valve and an expansion vessel; leave pressurised loops to a licensed installer.",
      };
    case "concentrated":
      return {
        title: `Up to ${h.gain.toFixed(1)} suns fall on part of the box`,
        todo: "Mind eyes, fire and neighbours: cover or turn the mirror away whenever nobody watches or nothing flows.",
      };
  }
}
