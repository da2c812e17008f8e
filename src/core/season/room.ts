import type { Use } from "./parts";

const { max, min } = Math;

type RoomUse = Extract<Use, { kind: "room" }>;

/** Air and mass of a room at an instant, °C, and what the last step came to, W. */
export interface RoomState {
  airC: number;
  massC: number;
  /** What the heater gave. */
  heater: number;
  vented: number;
  /** Taken of a store's offer. */
  offered: number;
  /** Through walls and with air. */
  loss: number;
}

/**
 * A room's air and mass over a while: both nodes implicitly, so that any length of step is stable and the account closes exactly.
 * The heater holds the set point and no more; above the cap heat is let out.
 * @param heatW all that comes in @param offer W that a store would give if the room lacked it
 * @param warm what else of its own heat stands in the room and joins it through so many W/K (a slab, a tank): as implicit as the walls
 * @returns W that `warm` gave
 */
export function stepRoom(
  use: RoomUse,
  state: RoomState,
  outsideC: number,
  heatW: number,
  seconds: number,
  offer = 0,
  warm: { capacityJK: number; joinWK: number; temperatureC: number } | null = null,
): number {
  const ca = use.airJK / seconds;
  const cm = use.massJK / seconds;
  const follow = cm > 0 ? use.joinWK / (cm + use.joinWK) : 0;
  // What the air's temperature costs a kelvin, and what is there without any heater: A·T = B + Q.
  const cw = warm ? warm.capacityJK / seconds : 0;
  const yields = warm && cw > 0 ? (cw * warm.joinWK) / (cw + warm.joinWK) : 0;
  const A = ca + use.lossWK + (cm > 0 ? use.joinWK * (1 - follow) : 0) + yields;
  const B =
    ca * state.airC +
    use.lossWK * outsideC +
    follow * cm * state.massC +
    heatW +
    (warm ? yields * warm.temperatureC : 0);
  let airC = B / A;
  state.heater = state.vented = state.offered = 0;
  if (airC < use.setC) {
    const lacking = A * use.setC - B;
    state.offered = min(max(0, offer), lacking);
    state.heater = use.heated ? lacking - state.offered : 0;
    airC = (B + state.offered + state.heater) / A;
  } else if (airC > use.capC) {
    // Outside air lets out no more than brings the room to outside.
    state.vented = max(0, B - A * max(use.capC, outsideC));
    airC = (B - state.vented) / A;
  }
  state.massC = cm > 0 ? (cm * state.massC + use.joinWK * airC) / (cm + use.joinWK) : airC;
  state.airC = airC;
  state.loss = use.lossWK * (airC - outsideC);
  return warm ? yields * (warm.temperatureC - airC) : 0;
}

export const heldInRoom = (use: RoomUse, s: Pick<RoomState, "airC" | "massC">): number =>
  use.airJK * s.airC + use.massJK * s.massC;
