import type { SeasonAnswer } from "./seasonJob";
import type { ApplySettings } from "./schema/apply";

/** What may make a year other than it looks: entries that are likely slips, and curves used beyond what was tested. */
export type SeasonDoubt =
  | { kind: "roomLoss"; perM2: number }
  | { kind: "facesAway"; azimuth: number }
  | { kind: "outsideTested"; name: string; share: number }
  | { kind: "noBand"; name: string }
  | { kind: "smallTank"; days: number }
  | { kind: "price"; price: number }
  | { kind: "weakPanel"; share: number }
  | { kind: "far"; degrees: number }
  | { kind: "nothingNeeded" }
  | { kind: "freshFlow"; times: number };

/** W/K for a square metre of floor: a passive house's 0.3, and a shed of single boards' 8. */
const ROOM_LOSS = [0.3, 8] as const;
/** A cubic metre of air, J/K: near enough to see that flows do not fit. */
const AIR_WJ = 1150;
/** Money for a kilowatt-hour of energy, in most currencies' large unit; beyond it the price is likely that of a litre, a kilogram or a megawatt-hour. */
const PRICES = [0.01, 2] as const;

export function seasonDoubts(a: ApplySettings, latitude: number, answer: SeasonAnswer): SeasonDoubt[] {
  const doubts: SeasonDoubt[] = [...answer.notes];
  const { use, store, money, control } = a;
  if (use?.kind === "room") {
    const perM2 = use.lossWK / use.floorM2;
    if (perM2 < ROOM_LOSS[0] || perM2 > ROOM_LOSS[1]) doubts.push({ kind: "roomLoss", perM2 });
  }
  // A plane that leans away from the midday sun; an upright or flat one may have its reasons.
  const midday = latitude < 0 ? 0 : 180;
  for (const r of a.rows) {
    const off = Math.abs(((r.azimuth - midday + 540) % 360) - 180);
    if (Math.abs(latitude) > 12 && r.tilt > 15 && off > 100) doubts.push({ kind: "facesAway", azimuth: r.azimuth });
  }
  for (const s of answer.seasons) {
    if (s.outsideTested > 0.3) doubts.push({ kind: "outsideTested", name: s.candidate.name, share: s.outsideTested });
    if (s.usefulSd === 0) doubts.push({ kind: "noBand", name: s.candidate.name });
  }
  if (use?.kind === "hotWater" && store.kind === "water" && store.kg < 0.4 * use.litresADay)
    doubts.push({ kind: "smallTank", days: store.kg / use.litresADay });
  const [first] = answer.seasons;
  if (use?.kind === "freshAir" && first) {
    const streams = a.rows.reduce((n, r) => n + r.sideBySide, 0);
    const times = (first.candidate.flowWK * streams) / (use.flowM3PerS * AIR_WJ);
    if (times > 1.25) doubts.push({ kind: "freshFlow", times });
  }
  if (money && (money.fuelPrice < PRICES[0] || money.fuelPrice > PRICES[1]))
    doubts.push({ kind: "price", price: money.fuelPrice });
  if (control?.kind === "sun" && control.panelW < 0.7 * control.fanW)
    doubts.push({ kind: "weakPanel", share: control.panelW / control.fanW });
  if (answer.need.reduce((x, y) => x + y, 0) < 10 && use?.kind !== "drying") doubts.push({ kind: "nothingNeeded" });
  return doubts;
}
