import { QUANTITIES } from "../quantity/quantities";
import type { FlowSetup } from "./setup";

/** A slip that would make an impossible figure a usual one. */
export type Cause =
  /** Figures written in one unit were read as another. */
  | { kind: "unit"; written: string; read: string; efficiency: number }
  /** Temperatures in °F were read as °C. */
  | { kind: "fahrenheit"; efficiency: number }
  /** A duct's radius was stated as its diameter, or the other way about. */
  | { kind: "radius"; efficiency: number }
  /** The outside's column stands for the inlet's, and the other way about. */
  | { kind: "outsideInlet"; efficiency: number }
  /** In and out are exchanged. */
  | { kind: "exchanged"; efficiency: number };

/** What boxes with flow give in full sun, of bare sheets in the cold to good ones. */
const USUAL = [0.3, 0.75] as const;
const MIDDLE = 0.55;
/** More would be a list, not a hint. */
const MOST = 3;

/** Nobody measures a duct's air in gallons or a loop's water in cubic feet, and nobody a box in cubic metres a second. */
const NOT_OF = { air: ["gal/min", "m³/s"], liquid: ["ft³/min", "m³/s"] } as const;
const QUANTITY = { speed: "speed", volume: "volumeFlow", mass: "massFlow", constant: "massFlow" } as const;

/** Two units so near each other in size are no slip worth naming. */
const NEAR = 1.25;

/** Stream and outside at the moment that is looked at, °C. */
export interface Ends {
  inletC: number;
  outletC: number;
  ambientC: number;
}
/** Outside this much warmer than what enters a box in the sun is worth a second look, K. */
const WARMER_OUTSIDE = 3;

/**
 * What may be behind an efficiency that cannot be: heat goes with the flow and with the rise, so that a slip of units multiplies it by a
 * factor that is known. Those are named that would make it usual, the likeliest first.
 *
 * @param efficiency as read, over the incidence modifier
 * @param outsideC middle of the outside temperature, °C as read; null where none was logged
 */
export function causesOf(
  efficiency: number,
  flow: FlowSetup,
  { fluid, outsideC, ends }: { fluid: "air" | "liquid"; outsideC: number | null; ends?: Ends },
): Cause[] {
  const out: (Cause & { far: number })[] = [];
  const usual = (e: number) => e >= USUAL[0] && e <= USUAL[1];
  const far = (e: number) => Math.abs(Math.log(e / MIDDLE));
  if (efficiency < 0 && usual(-efficiency)) return [{ kind: "exchanged", efficiency: -efficiency }];
  // Read as °C, a mild day of 50 °F is a desert: then all rises are too large by 9/5.
  const inFahrenheit = (efficiency * 5) / 9;
  if (outsideC !== null && outsideC > 30 && usual(inFahrenheit))
    return [{ kind: "fahrenheit", efficiency: inFahrenheit }];
  if (ends && ends.ambientC - ends.inletC > WARMER_OUTSIDE) {
    const turned = (efficiency * (ends.outletC - ends.ambientC)) / (ends.outletC - ends.inletC);
    // What the temperatures themselves say comes before any unit.
    if (usual(turned)) out.push({ kind: "outsideInlet", efficiency: turned, far: 0 });
  }
  // A tank's heat rests on no flow.
  if (flow.kind === "tank") return out;
  const units = QUANTITIES[QUANTITY[flow.kind]].units.filter(
    (u) => !(NOT_OF[fluid] as readonly string[]).includes(u.symbol),
  );
  for (const written of units)
    for (const read of units) {
      const ratio = written.factor / read.factor;
      const e = efficiency * ratio;
      if (ratio < NEAR && ratio > 1 / NEAR) continue;
      if (usual(e)) out.push({ kind: "unit", written: written.symbol, read: read.symbol, efficiency: e, far: far(e) });
    }
  if (flow.kind === "speed" && flow.duct.kind === "round")
    for (const e of [4 * efficiency, efficiency / 4])
      if (usual(e)) out.push({ kind: "radius", efficiency: e, far: far(e) });
  return out
    .sort((a, b) => a.far - b.far)
    .slice(0, MOST)
    .map(({ far: _, ...cause }) => cause);
}
