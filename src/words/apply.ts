import type { EpwProblem } from "../core/site/epw";
import type { Asked } from "../core/season/scenario";
import type { SeasonDoubt } from "../core/season/doubts";
import type { SeasonProblem, WhatIf } from "../core/season/job";
import type { StoredUse, StoredStore } from "../core/season/schema";
import type { Mode } from "../core/season/parts";
import type { Origin } from "../core/season/origins";
import type { Holding } from "../core/season/thermostat";

export const USE_WORDS: Record<StoredUse["kind"], string> = {
  room: "a room or greenhouse",
  freshAir: "fresh air that must come in anyway",
  drying: "air for drying",
  hotWater: "water for washing",
};

export const STORE_WORDS: Record<StoredStore["kind"], string> = {
  none: "none",
  water: "water in a tank or joined containers",
  bottles: "closed water containers in the air stream",
  rock: "bin of stones",
  slab: "floor or wall slab",
  latent: "latent store",
};

export const MODE_WORDS: Record<Mode, string> = {
  heat: "heat",
  heatAndCharge: "heat and charge",
  charge: "charge only",
  off: "off",
};

const GROUND_WORDS: Record<Origin, string> = {
  curve: "a measured curve",
  condition: "one tested condition",
  prediction: "a drawing",
  typed: "figures typed in",
  panels: "panels",
};
const list = (names: readonly string[]) =>
  names.length < 2 ? names.join("") : `${names.slice(0, -1).join(", ")} and ${names.at(-1)}`;

export const ORIGIN_WORDS: Record<Origin, string> = {
  curve: "measured curve",
  condition: "one tested condition, loss as drawn",
  prediction: "prediction of the drawing",
  typed: "typed in",
  panels: "panels",
};

export const ASKED_WORDS: Record<Asked, string> = {
  use: "what it heats",
  rows: "how many boxes, and where they look",
  control: "what starts and stops the fan",
  pipes: "how long the run to the use is",
  storeForWater: "the tank: water for washing needs one",
};

export const GAP_WORDS = {
  sketch: "the box is a sketch; draw it in Build",
  noCurve: "no curve was measured",
  noPoint: "no steady window with sun and flow",
  problems: "the drawing cannot be built yet",
  bare: "a bare absorber’s curve holds the sky it was tested under",
  inletFlow: "the loss stated at the inlet is more than this flow can carry",
  mirrored: "what was measured holds the mirror’s light, and a year would count it twice",
} as const;

export function seasonProblemWords(p: SeasonProblem): string {
  switch (p.kind) {
    case "noClimate":
      return "The site has no climate. Choose one at the site, or give a typical-weather file there.";
    case "records":
      return `The weather file holds ${p.found} hours; a year has 8,760. Give a whole file at the site.`;
    case "missing":
      return `The weather file lacks ${p.hours} hours of ${p.field === "dryBulbC" ? "outside air" : "sunshine"}. Take another file, or the monthly means.`;
    case "hemisphere":
      return `The weather file is of ${Math.abs(p.file).toFixed(1)}° ${p.file < 0 ? "south" : "north"}, the site lies at ${Math.abs(p.site).toFixed(1)}° ${p.site < 0 ? "south" : "north"}: its seasons are turned round. Take a file of this hemisphere.`;
    case "far":
      return `The weather file’s place lies ${p.degrees.toFixed(1)}° from the site: its sun and air are those of there.`;
    case "tight":
      return `The stream of ${p.name} would lose ${Math.round(p.pressurePa).toLocaleString("en")} Pa in the ${p.where === "bin" ? "bin of stones: make it larger, shorter or of coarser stones" : "run to the use: take a wider one"}, or less flow. No usual fan or pump brings more than ${p.mostPa.toLocaleString("en")} Pa.`;
    case "file":
      return `The weather file could not be read: ${fileWords(p.problem)}`;
  }
}

const fileWords = (p: EpwProblem): string =>
  p.kind === "notEpw" ? "it is no typical-weather file." : `it breaks off or is damaged (${p.kind}).`;

export function whatIfWords(change: WhatIf["change"]): string {
  switch (change.kind) {
    case "obstacleGone":
      return `${change.name} gone`;
    case "upright":
      return "all rows upright";
    case "noMirrors":
      return "without mirrors";
    case "noStore":
      return "without the store";
  }
}

export const HOLDING_WORDS: Record<Holding, string> = {
  holds: "holds: the fan runs on",
  hunts: "hunts: the fan starts and stops",
  overheats: "overheats",
  neverStarts: "never starts",
};

const share = (v: number) => `${Math.round(100 * v)} %`;

export function seasonDoubtWords(d: SeasonDoubt): string {
  switch (d.kind) {
    case "far":
      return seasonProblemWords(d);
    case "roomLoss":
      return `The room loses ${d.perM2.toFixed(2)} W/K for each square metre of floor: usual are 0.5 (well wrapped) to 4 (single boards). Is the loss that of the whole room, not of a square metre?`;
    case "facesAway":
      return `A row faces ${Math.round(d.azimuth)}°, away from the midday sun: south is 180°, north 0°.`;
    case "outsideTested":
      return `${share(d.share)} of the heat of ${d.name} is collected warmer or colder over outside than its curve was tested at: there the curve is only drawn on.`;
    case "noBand":
      return `Nothing is known of how well the curve of ${d.name} is known: it stands without ±.`;
    case "smallTank":
      return `The tank holds ${d.days.toFixed(1)} days of water: it is drawn empty before the sun has filled it.`;
    case "price":
      return `The energy costs ${d.price} for a kilowatt-hour: is that the price of a litre, a kilogram or a megawatt-hour?`;
    case "weakPanel":
      return `The panel brings ${share(d.share)} of what the fan takes at full speed: it never reaches that.`;
    case "freshFlow":
      return `The boxes are tested at ${d.times.toFixed(1)} times the fresh air that is needed: what passes them is the fresh air itself. Take fewer side by side, or more air.`;
    case "mixedGround":
      return `The variants do not rest on like ground: ${d.grounds.map((g) => `${list(g.names)} on ${GROUND_WORDS[g.origin]}`).join(", ")}. What lies between them is also what lies between a drawing and a test: no order is claimed. Choose one way for all under “Variants and their curves”, where each has it.`;
    case "storeUnused":
      return "The store is left out: warmed air that is wanted as it comes passes it by. Choose “none”, or heat a room.";
    case "indoors":
      return `The tank stands indoors: its surroundings are taken at ${d.celsius} °C.`;
    case "pumpedOut":
      return `With ${d.name} the control sends ${Math.round(d.kwh)} kWh a year out of the store again, into boxes cooler than it. Take a control by difference, or stop at a higher temperature.`;
    case "airAlone":
      return `The same air unheated would dry ${share(d.share)} of what dries with ${d.name}: the boxes are credited with the rest only.`;
    case "nothingNeeded":
      return "The use lacks next to no heat without boxes: is its loss, its temperature or its amount said right?";
  }
}
