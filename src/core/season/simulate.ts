import { accountOf, emptySums, emptyTrace, yearOf, type Account, type Trace } from "./account";
import { boxAfter, pullOf } from "./collectorStep";
import type { Mode, System } from "./parts";
import { heldInRoom } from "./room";
import { beginRun, book, emptyCounts, STEP, type Counts, type Run } from "./run";
import { addHeat, heldHeat, meanOf, outletOf } from "./store";
import { photovoltaicShare } from "./sunFan";
import { stepUse } from "./uses";
import { HOURS, monthOfHour, type WeatherYear } from "./weather";

const { abs, exp, max, min } = Math;

const PER_HOUR = 3600 / STEP;
const KWH = 3.6e6;

export interface Year extends Counts {
  account: Account;
  trace: Trace;
  /** What the account does not explain, share of all that came in. */
  imbalance: number;
}

const SILENT = () => false;

/**
 * A year of a system, in steps of ten minutes. Its last month is run once before the year counts, so that stores and walls begin
 * as they would be.
 * @param progress called a few times with the share done; true stops, and null is returned
 */
export function simulateYear(
  system: System,
  weather: WeatherYear,
  progress: (done: number) => boolean = SILENT,
): Year | null {
  const run = beginRun(system, weather);
  for (let h = HOURS - 744; h < HOURS; h++) hour(run, h);
  run.sums = emptySums();
  run.trace = emptyTrace();
  run.count = emptyCounts();
  const before = held(run);
  for (let h = 0; h < HOURS; h++) {
    if (h % 1460 === 0 && progress(h / HOURS)) return null;
    hour(run, h);
  }
  const account = accountOf(run.sums);
  return { ...run.count, account, trace: run.trace, imbalance: imbalance(account, (held(run) - before) / KWH) };
}

const held = ({ system, store, room, boxC }: Run): number =>
  system.rows.reduce((s, row, i) => s + row.capacityJK * boxC[i], 0) +
  (store ? heldHeat(store) : 0) +
  (system.use.kind === "room" ? heldInRoom(system.use, room) : 0);

/** In less out less what is held more, as a share of what came in. */
function imbalance(a: Account, keptKwh: number): number {
  const sum = (...flows: (keyof Account)[]) => flows.reduce((s, f) => s + yearOf(a[f]), 0);
  const came = sum("absorbed", "missing", "gains");
  const went = sum("collectorLoss", "runLoss", "storeLoss", "vented", "used");
  return came > 1e-6 ? (came - went - keptKwh) / came : 0;
}

function hour(run: Run, h: number): void {
  const { system, weather, now } = run;
  now.month = monthOfHour[h];
  now.outsideC = weather.ambientC[h];
  if (system.use.kind === "drying" && h % 24 === 0) run.wetKg = system.use.waterKg[now.month];
  for (let k = 0; k < PER_HOUR; k++) {
    aim(run, system.modes[now.month]);
    drive(run, h);
    step(run, h);
    trace(run, h);
  }
}

/** Where the stream goes, what it returns from, and how well it gives its heat there. */
function aim(run: Run, mode: Mode): void {
  const { system, store, room, now } = run;
  const { use } = system;
  now.toUse = now.toStore = false;
  if (mode === "off") return;
  if (use.kind === "hotWater") now.toStore = store !== null && meanOf(store) < use.capC;
  else if (mode === "charge") now.toStore = store !== null;
  else if (mode === "heat" || use.kind !== "room" || !store) now.toUse = true;
  else if (room.airC < use.setC + 1) now.toUse = true;
  else now.toStore = true;
  const { flowWK } = system.stages[0];
  now.share = system.exchanger ?? 1;
  now.sinkC = use.kind === "room" ? room.airC : now.outsideC;
  if (!now.toStore || !store) return;
  if (store.temperatures.length > 1) now.sinkC = outletOf(store, max(run.supplyC, run.boxC[0]), flowWK);
  else {
    now.sinkC = store.temperatures[0];
    if (store.exchange !== Infinity) now.share *= 1 - exp(-store.exchange / flowWK);
  }
}

/** What the control lets the fan do in this step. Its sensor sits in the first row. */
function drive(run: Run, h: number): void {
  const { system, now, count } = run;
  const { control, stages } = system;
  const row = system.rows[0];
  const [light, outside, boxC, sink] = [row.light[h], now.outsideC, run.boxC[0], now.sinkC];
  now.duty = 0;
  if (!now.toUse && !now.toStore) return;
  const still = boxAfter(row, boxC, light, outside, 0, sink, STEP);
  if (control.kind === "sun") {
    const speed = system.panel ? photovoltaicShare(system.panel, row.plainLight[h]) : 1;
    now.duty = speed > 0 ? 1 : 0;
    now.flowWK = stages[0].flowWK * speed;
    now.powerW = 0;
    if (speed <= 0 && still - sink > 15) count.stuck += STEP / 3600;
    return;
  }
  const stage = stages.length > 1 && boxC > system.stageC ? stages[1] : stages[0];
  const paired = control.kind === "thermostat";
  const on = paired ? control.onC : sink + control.onK;
  const off = paired ? control.offC : sink + control.offK;
  if (!run.running && still <= on) return;
  const flow = stage.flowWK * row.flowShare;
  const pull = pullOf(flow, now.share);
  const runs = boxAfter(row, boxC, light, outside, pull, sink, STEP);
  now.flowWK = stage.flowWK;
  now.powerW = stage.powerW;
  if (runs + (pull * (runs - sink)) / (2 * flow) >= off) now.duty = 1;
  else if (still > on) {
    // Neither state holds: on and off by turns about the middle of the pair.
    count.hunting += STEP / 3600;
    const middle = (on + off) / 2;
    const u = row.areaM2 * (row.curve.a1 + row.curve.a2 * abs(middle - outside));
    const heat =
      row.areaM2 * row.curve.eta0 * light - u * (middle - outside) - (row.capacityJK * (middle - boxC)) / STEP;
    if (middle > sink) now.duty = max(0, min(1, heat / (pull * (middle - sink))));
  }
}

function step(run: Run, h: number): void {
  const { system, store, now, count } = run;
  let collected = 0;
  for (let i = 0; i < system.rows.length; i++) {
    const row = system.rows[i];
    const light = row.light[h];
    const pull = now.duty > 0 ? now.duty * pullOf(now.flowWK * row.flowShare, now.share) : 0;
    const boxC = boxAfter(row, run.boxC[i], light, now.outsideC, pull, now.sinkC, STEP);
    const taken = pull * (boxC - now.sinkC);
    const absorbed = row.areaM2 * row.curve.eta0 * light;
    book(run, "light", row.areaM2 * light);
    book(run, "absorbed", absorbed);
    book(run, "collectorLoss", absorbed - taken - (row.capacityJK * (boxC - run.boxC[i])) / STEP);
    run.boxC[i] = boxC;
    collected += taken;
  }
  const flowing = now.duty * now.flowWK;
  const lost = flowing > 0 ? runLoss(run, flowing, collected) : 0;
  now.collected = collected;
  now.delivered = collected - lost;
  book(run, "collected", collected);
  book(run, "runLoss", lost);
  book(run, "fan", now.duty * now.powerW);
  if (flowing > 0) run.supplyC = now.sinkC + now.delivered / flowing;
  if (now.toStore && store && now.delivered !== 0) {
    addHeat(store, now.delivered * STEP, run.supplyC, flowing);
    book(run, "toStore", now.delivered);
  }
  stepUse(run, h, now.toStore ? 0 : now.delivered, flowing);
  if (flowing > 0 && !run.running) count.starts++;
  run.running = flowing > 0;
}

/** What pipes or ducts lose and leak, W; never more than there is. */
function runLoss(run: Run, flowing: number, collected: number): number {
  const { now } = run;
  const { run: pipes, use } = run.system;
  if (collected <= 0) return 0;
  const over = now.sinkC + collected / flowing - now.outsideC;
  // Outside air needs no way back.
  const back = use.kind === "room" || use.kind === "hotWater" ? pipes.returnWK * (now.sinkC - now.outsideC) : 0;
  return min(collected, max(0, now.duty * (pipes.supplyWK * over + back) + pipes.leakShare * flowing * over));
}

function trace(run: Run, h: number): void {
  const { trace: t, store, room, system, now, count } = run;
  const part = 1 / PER_HOUR;
  const boxC = run.boxC[0];
  t.collected[h] += now.collected * part;
  if (now.toStore) t.toStore[h] += now.delivered * part;
  else t.toUse[h] += now.delivered * part;
  t.missing[h] += now.missing * part;
  t.vented[h] += now.vented * part;
  t.boxC[h] += boxC * part;
  t.running[h] += now.duty * part;
  if (system.use.kind === "room") t.useC[h] = room.airC;
  if (store) t.storeC[h] = meanOf(store);
  count.running += (now.duty * STEP) / 3600;
  if (boxC > count.hottestBoxC) count.hottestBoxC = boxC;
  if (system.limitC !== null && boxC > system.limitC) count.overLimit += STEP / 3600;
}
