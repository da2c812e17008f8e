import type { SeasonAnswer } from "./job";
import type { Candidate, Season } from "./season";
import type { Origin } from "./origins";
import { INDOORS } from "./uses";
import type { ApplySettings } from "./schema";
import { usedStore } from "./scenario";

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
  | { kind: "mixedGround"; grounds: { origin: Origin; names: string[] }[] }
  | { kind: "storeUnused" }
  | { kind: "indoors"; celsius: number }
  | { kind: "pumpedOut"; name: string; kwh: number }
  | { kind: "airAlone"; name: string; share: number }
  | { kind: "freshFlow"; times: number };

/** W/K for a square metre of floor: a passive house's 0.3, and a shed of single boards' 8. */
const ROOM_LOSS = [0.3, 8] as const;
/** Heat a control sends out of the store again, as a share of the useful, that is worth a word; and what unheated air dries of all. */
const PUMPED_OUT = 0.02;
const AIR_ALONE = 0.5;

function runningDoubts({ candidate: { name }, year, useful }: Season): SeasonDoubt[] {
  const doubts: SeasonDoubt[] = [];
  const kwh = year.pumpedOutKwh;
  if (kwh > 10 && kwh > PUMPED_OUT * useful) doubts.push({ kind: "pumpedOut", name, kwh });
  const [dried, plain] = [year.driedKg, year.driedPlainKg].map((m) => m.reduce((x, y) => x + y, 0));
  if (plain > AIR_ALONE * dried) doubts.push({ kind: "airAlone", name, share: plain / dried });
  return doubts;
}

/** The ways the curves of a table are known, of the experiment's own variants: more than one is no like ground. */
export function groundsOf(
  candidates: readonly Pick<Candidate, "name" | "origin">[],
): { origin: Origin; names: string[] }[] {
  const grounds = new Map<Origin, string[]>();
  for (const { name, origin } of candidates)
    if (origin !== "typed" && origin !== "panels") grounds.set(origin, [...(grounds.get(origin) ?? []), name]);
  return [...grounds].map(([origin, names]) => ({ origin, names }));
}

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
  const grounds = groundsOf(answer.seasons.map((s) => s.candidate));
  if (grounds.length > 1) doubts.push({ kind: "mixedGround", grounds });
  if (store.kind !== "none" && usedStore(a).kind === "none") doubts.push({ kind: "storeUnused" });
  if (use?.kind === "hotWater" && store.kind === "water" && store.inRoom && store.lossWK > 0)
    doubts.push({ kind: "indoors", celsius: INDOORS });
  for (const s of answer.seasons) doubts.push(...runningDoubts(s));
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
  if (answer.need.reduce((x, y) => x + y, 0) < 10) doubts.push({ kind: "nothingNeeded" });
  return doubts;
}
