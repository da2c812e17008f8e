import { saturationPressure } from "../fluids/moistAir";
import { dryingRoom, EVAPORATION } from "./drying";
import type { Use } from "./parts";
import { stepRoom } from "./room";
import { book, type Run } from "./run";
import { addHeat, hottestOf, loseHeat, passThrough, SLAB_TRANSFER, take, WATER_HEAT, type Store } from "./store";

const { exp, max, min } = Math;

/** What surrounds a tank indoors where no room is followed, °C (typical value). */
export const INDOORS = 20;

/** A store warmer than the room by less is not worth a fan, K. */
const WORTH = 2;

type UseOf<K extends Use["kind"]> = Extract<Use, { kind: K }>;

/** What the use does in this step with the heat brought to it, and with the store's. @param direct W @param flowing W/K of the stream */
export function stepUse(run: Run, h: number, direct: number, flowing: number): void {
  const { system, store, now } = run;
  const { use } = system;
  now.missing = now.vented = 0;
  book(run, run.sums.toUse, direct);
  if (use.kind !== "room" && store) {
    const aroundC = store.inRoom ? INDOORS : now.outsideC;
    book(run, run.sums.storeLoss, loseHeat(store, aroundC, run.stepS) / run.stepS);
  }
  if (use.kind === "room") roomStep(run, use, h, direct);
  else if (use.kind === "freshAir") freshStep(run, use, h, direct);
  else if (use.kind === "drying") dryStep(run, use, h, direct, flowing);
  else waterStep(run, use, h);
  book(run, run.sums.missing, now.missing);
  book(run, run.sums.vented, now.vented);
}

function roomStep(run: Run, use: UseOf<"room">, h: number, direct: number): void {
  const { system, store, room, now, weather, count } = run;
  const { flowWK, powerW, bedW } = system.stages[0];
  const warm = store && standsInRoom(system, store);
  let passive = 0;
  let offer = 0;
  if (store) {
    if (!warm || system.store.kind === "slab") {
      const lost = loseHeat(store, store.inRoom ? room.airC : now.outsideC, run.stepS) / run.stepS;
      if (store.inRoom) passive += lost;
      else book(run, run.sums.storeLoss, lost);
    }
    if (system.store.kind !== "slab") offer = offerOf(store, room.airC, flowWK, run.stepS);
  }
  const gains = use.gainsW + use.sunM2 * weather.global[h];
  const given = stepRoom(use, room, now.outsideC, direct + passive + gains, run.stepS, offer, warm);
  if (store && room.offered > 0) {
    take(store, room.offered / offer);
    book(run, run.sums.fan, ((powerW + bedW) * room.offered) / offer);
  }
  if (store && warm) addHeat(store, -given * run.stepS);
  book(run, run.sums.fromStore, passive + given + room.offered);
  book(run, run.sums.gains, gains);
  book(run, run.sums.used, room.loss);
  now.missing = room.heater;
  now.vented = room.vented;
  if (room.airC < use.setC - 1e-6) count.coldHours += run.stepS / 3600;
  count.lowestC = min(count.lowestC, room.airC);
}

/** A store of one temperature whose skin, or floor, is in the room: both follow each other within the step. */
function standsInRoom({ store: spec }: Run["system"], store: Store): Parameters<typeof stepRoom>[6] {
  if (store.temperatures.length > 1 || store.melting) return null;
  const skinWK = store.inRoom ? store.lossWK : 0;
  const joinWK = spec.kind === "slab" ? SLAB_TRANSFER * spec.areaM2 : skinWK;
  return joinWK > 0 ? { capacityJK: store.nodeCapacity, joinWK, temperatureC: store.temperatures[0] } : null;
}

/** What a stream of room air would bring from the store over the step, W. */
function offerOf(store: Store, roomC: number, flowWK: number, seconds: number): number {
  // No stream leaves warmer than the hottest node.
  if (hottestOf(store) - roomC < WORTH) return 0;
  const outlet = passThrough(store, roomC, flowWK, seconds, true);
  return outlet - roomC < WORTH ? 0 : flowWK * (outlet - roomC);
}

function freshStep(run: Run, use: UseOf<"freshAir">, h: number, direct: number): void {
  const { now } = run;
  const clock = h % 24;
  const open = clock >= use.fromHour && clock < use.toHour;
  const need = open ? max(0, use.flowWK * (use.setC - now.outsideC)) : 0;
  const useful = min(max(0, direct), need);
  book(run, run.sums.used, need);
  now.missing = need - useful;
  now.vented = direct - useful;
}

/** The day's water comes wet. Where no hour's humidity is known the vapour of the day's mean stays in the air all day, so that nights are damper. */
export function newDryingDay(run: Run, use: UseOf<"drying">, h: number): void {
  run.wetKg = run.wetPlainKg = use.waterKg[run.now.month];
  const day = run.weather.ambientC.subarray(h, h + 24);
  run.vapourPa = use.humidity * saturationPressure(day.reduce((s, t) => s + t, 0) / day.length);
}

/**
 * Evaporation of the day's water with the warmed air. Useful is what the same air, unheated in the same hours, would not have dried:
 * late in a day that can be less than nothing, because the heat brought forward what unheated air dries then.
 */
function dryStep(run: Run, use: UseOf<"drying">, h: number, direct: number, flowing: number): void {
  const { now, weather, count } = run;
  const known = weather.humidity[h];
  const humidity = Number.isNaN(known) ? min(1, run.vapourPa / saturationPressure(now.outsideC)) : known;
  const takes = (airC: number, wetKg: number) => {
    if (!(flowing > 0) || wetKg <= 0) return 0;
    const room = dryingRoom(airC, now.outsideC, humidity, use.pressurePa);
    return min((flowing / 1006) * use.pickUp * room * run.stepS, wetKg);
  };
  const dried = takes(min(run.supplyC, use.capC), run.wetKg);
  const plain = takes(now.outsideC, run.wetPlainKg);
  run.wetKg -= dried;
  run.wetPlainKg -= plain;
  count.driedKg[now.month] += dried;
  count.driedPlainKg[now.month] += plain;
  const useful = min(max(0, direct), ((dried - plain) * EVAPORATION) / run.stepS);
  book(run, run.sums.used, useful);
  now.vented = direct - useful;
}

function waterStep(run: Run, use: UseOf<"hotWater">, h: number): void {
  const { store, now } = run;
  const cold = use.coldC[now.month];
  const flow = ((use.litresADay * use.profile[h % 24]) / 3600) * WATER_HEAT;
  const need = max(0, flow * (use.wantedC - cold));
  book(run, run.sums.used, need);
  now.missing = need;
  if (!store || need <= 0) return;
  const tank = store.temperatures[0];
  if (tank <= cold) return;
  // A mixing valve draws no more from a tank above the wanted temperature than it needs.
  const share = tank > use.wantedC ? (use.wantedC - cold) / (tank - cold) : 1;
  const capacity = store.nodeCapacity / run.stepS;
  const drawn = (tank - cold) * capacity * (1 - exp((-flow * share) / capacity));
  const useful = min(drawn, need);
  addHeat(store, -useful * run.stepS);
  book(run, run.sums.fromStore, useful);
  now.missing = need - useful;
}
