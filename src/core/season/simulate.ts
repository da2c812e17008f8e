import { accountOf, emptySums, emptyTrace, yearOf, type Account, type Trace } from "./account";
import { stepRow } from "./collectorStep";
import type { Mode, HeatingSystem } from "./parts";
import { heldInRoom } from "./room";
import { beginRun, book, emptyCounts, STEP, type Counts, type Run } from "./run";
import { addHeat, heldHeat, meanOf, passThrough, take, warmedTo, type Store } from "./store";
import { photovoltaicShare } from "./sunFan";
import { newDryingDay, stepUse } from "./uses";
import { HOURS, monthOfHour, type WeatherYear } from "./weather";

const { abs, exp, max, min } = Math;

const KWH = 3.6e6;

export interface Year extends Counts {
  account: Account;
  /** Hour by hour; null in a year that was kept without its hours. */
  trace: Trace | null;
  /** What the account does not explain, share of all that came in. */
  imbalance: number;
}

/** A year with its hours. */
export type HourlyYear = Year & { trace: Trace };

const SILENT = () => false;

/** A year repeats itself where stores hold at its end what they held at its beginning, as a share of what came in. */
const REPEATS = 0.002;
const MOST_YEARS = 4;

/**
 * A year of a system, in steps of ten minutes. Its last month is run once before the year counts, so that stores and walls begin
 * as they would be; a store that keeps heat for longer is led through whole years until the year repeats itself.
 * @param progress called a few times with the share done; true stops, and null is returned
 * @param stepS seconds of a step; another than the usual is for holding the year against itself
 */
export function simulateYear(
  system: HeatingSystem,
  weather: WeatherYear,
  progress: (done: number) => boolean = SILENT,
  stepS = STEP,
): HourlyYear | null {
  const run = beginRun(system, weather, stepS);
  for (let h = HOURS - 744; h < HOURS; h++) hour(run, h);
  for (let round = 1; ; round++) {
    run.sums = emptySums();
    run.trace = emptyTrace();
    run.count = emptyCounts();
    const before = held(run);
    for (let h = 0; h < HOURS; h++) {
      if (h % 1460 === 0 && progress(h / HOURS)) return null;
      hour(run, h);
    }
    const account = accountOf(run.sums);
    const kept = (held(run) - before) / KWH;
    const came = yearOf(account.absorbed) + yearOf(account.missing) + yearOf(account.gains);
    if (round < MOST_YEARS && abs(kept) > REPEATS * came && kept !== 0) continue;
    return { ...run.count, account, trace: run.trace, imbalance: imbalance(account, kept) };
  }
}

const held = ({ system, store, room, boxC }: Run): number =>
  system.rows.reduce((s, row, i) => s + (row.capacityJK / boxC[i].length) * boxC[i].reduce((t, c) => t + c, 0), 0) +
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
  if (system.use.kind === "drying" && h % 24 === 0) newDryingDay(run, system.use, h);
  for (let k = 0; k < run.perHour; k++) {
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
  const chargedC = now.toStore ? now.sinkC : null;
  now.toUse = now.toStore = false;
  if (mode === "off") return;
  if (use.kind === "hotWater") now.toStore = store !== null && meanOf(store) < use.capC;
  else if (mode === "charge") now.toStore = store !== null;
  else if (mode === "heat" || use.kind !== "room" || !store) now.toUse = true;
  else if (room.airC < use.setC + 1) now.toUse = true;
  else now.toStore = true;
  now.sinkC = use.kind === "room" ? room.airC : now.outsideC;
  if (!now.toStore || !store) return;
  // Where a bin was charged a step ago its stream comes back about as it did; what is assumed here is settled in the step.
  if (store.temperatures.length === 1) now.sinkC = store.temperatures[0];
  else now.sinkC = run.running && chargedC !== null ? chargedC : store.temperatures[store.temperatures.length - 1];
}

/** How well a stream gives its heat to what it heats: an exchanger's ε falls and a coil's rises as the stream slows. */
function shareAt({ system, store, now }: Run, flowWK: number): number {
  let share = 1;
  if (system.exchanger !== null) {
    // Known at the first stage; its surface stays the same: NTU goes with 1/F (balanced counterflow, ε = NTU/(1 + NTU)).
    const ntu = (system.exchanger / max(1e-9, 1 - system.exchanger)) * (system.stages[0].flowWK / flowWK);
    share = ntu / (1 + ntu);
  }
  if (now.toStore && store && store.temperatures.length === 1 && store.exchange !== Infinity)
    share *= 1 - exp(-store.exchange / flowWK);
  return share;
}

/** The last box of the first row, where the sensor sits, after a step under some flow. */
function sensorAfter(run: Run, h: number, flowWK: number, duty: number): { boxC: number; supplyC: number } {
  const { system, now, boxC, nextC } = run;
  const row = system.rows[0];
  const { supplyC } = stepRow(
    row,
    boxC[0],
    nextC[0],
    {
      light: row.light[h],
      outsideC: now.outsideC,
      flowWK: flowWK * row.flowShare,
      duty,
      share: flowWK > 0 ? shareAt(run, flowWK) : 1,
      sinkC: now.sinkC,
    },
    run.stepS,
  );
  return { boxC: nextC[0][nextC[0].length - 1], supplyC };
}

/** What the control lets the fan do in this step. Its sensor sits on the last box of the first row. */
function drive(run: Run, h: number): void {
  const { system, now, count } = run;
  const { control, stages } = system;
  const boxC = run.boxC[0][run.boxC[0].length - 1];
  const sink = now.sinkC;
  now.duty = 0;
  if (!now.toUse && !now.toStore) return;
  if (control.kind === "sun") {
    const speed = system.panel ? photovoltaicShare(system.panel, system.rows[0].plainLight[h]) : 1;
    now.duty = speed > 0 ? 1 : 0;
    now.flowWK = stages[0].flowWK * speed;
    now.powerW = 0;
    if (speed <= 0 && sensorAfter(run, h, 0, 0).boxC - sink > 15) count.stuck += run.stepS / 3600;
    return;
  }
  const stage = stages.length > 1 && boxC > system.stageC ? stages[1] : stages[0];
  const paired = control.kind === "thermostat";
  const on = paired ? control.onC : sink + control.onK;
  const off = paired ? control.offC : sink + control.offK;
  // In the dark a box that stands cold stays so.
  if (!run.running && system.rows[0].light[h] <= 0 && max(boxC, now.outsideC) <= on) return;
  const still = sensorAfter(run, h, 0, 0).boxC;
  if (!run.running && still <= on) return;
  now.flowWK = stage.flowWK;
  now.powerW = stage.powerW + (now.toStore ? stage.bedW : 0);
  if (sensorAfter(run, h, stage.flowWK, 1).supplyC >= off) now.duty = 1;
  else if (still > on) {
    // Neither state holds: on and off by turns about the middle of the pair.
    count.hunting += run.stepS / 3600;
    const middle = (on + off) / 2;
    let [low, high] = [0, middle > sink ? 1 : 0];
    for (let k = 0; k < 14 && high > low; k++) {
      const duty = (low + high) / 2;
      if (sensorAfter(run, h, stage.flowWK, duty).boxC > middle) low = duty;
      else high = duty;
    }
    now.duty = (low + high) / 2;
  }
}

/** All rows through the step with a sink of that temperature: written to `nextC`; what reaches the sink, W, and what is lost on the way. */
function collect(run: Run, h: number, sinkC: number): { taken: number; lost: number } {
  const { system, now } = run;
  let taken = 0;
  let supply = 0;
  let back = 0;
  const share = now.duty > 0 ? shareAt(run, now.flowWK) : 1;
  for (let i = 0; i < system.rows.length; i++) {
    const row = system.rows[i];
    const flowWK = now.duty > 0 ? now.flowWK * row.flowShare : 0;
    const after = stepRow(
      row,
      run.boxC[i],
      run.nextC[i],
      { light: row.light[h], outsideC: now.outsideC, flowWK, duty: now.duty, share, sinkC },
      run.stepS,
    );
    taken += after.takenW;
    supply += row.flowShare * after.supplyC;
    back += row.flowShare * after.returnC;
  }
  const lost = now.duty > 0 ? runLoss(run, taken, supply, back) : 0;
  return { taken, lost };
}

/** What pipes or ducts lose and leak, W; never more than there is. @param supplyC out of the boxes @param returnC into them */
function runLoss({ system, now }: Run, collected: number, supplyC: number, returnC: number): number {
  if (collected <= 0) return 0;
  const { run: pipes, use } = system;
  const over = supplyC - now.outsideC;
  // Outside air needs no way back.
  const back = use.kind === "room" || use.kind === "hotWater" ? pipes.returnWK * (returnC - now.outsideC) : 0;
  return min(collected, max(0, now.duty * (pipes.supplyWK * over + back + pipes.leakShare * now.flowWK * over)));
}

/** Where the stream would come back from the store on average, if it brings so much heat, W. A store of one temperature is followed through the step. */
function backFrom(run: Run, store: Store, sinkC: number, delivered: number): number {
  const { now, stepS } = run;
  if (store.temperatures.length > 1) {
    const supply = sinkC + delivered / (now.duty * now.flowWK);
    return passThrough(store, supply, now.flowWK, now.duty * stepS);
  }
  const before = store.temperatures[0];
  const after = warmedTo(store, delivered * stepS);
  // An exponential's mean over the step lies nearer its end the faster it is.
  const x = (now.duty * now.flowWK * stepS) / store.nodeCapacity;
  const part = x < 1e-3 ? 0.5 + x / 12 : 1 / (1 - exp(-x)) - 1 / x;
  return before + (store.melting ? 1 : part) * (after - before);
}

/** A tank may pass its cap by this, K: a pump's own sensor is no finer. */
const CAP_K = 0.1;

/** Sink temperatures meet within this, K. */
const MEETS = 0.01;

/**
 * The store's temperature over the step and what the boxes bring it belong together: a cooler sink collects more and is warmed more.
 * Found by secants kept within a bracket, so that no step is too long for a small store.
 */
function settle(run: Run, h: number, store: Store): { taken: number; lost: number } {
  const { now } = run;
  let [a, b] = [now.sinkC, now.sinkC];
  let found = collect(run, h, a);
  let ga = backFrom(run, store, a, found.taken - found.lost) - a;
  if (abs(ga) < MEETS) return found;
  b = a + ga;
  let [low, high] = ga > 0 ? [a, Infinity] : [-Infinity, a];
  for (let k = 0; k < 40; k++) {
    found = collect(run, h, b);
    const gb = backFrom(run, store, b, found.taken - found.lost) - b;
    now.sinkC = b;
    if (abs(gb) < MEETS) return found;
    if (gb > 0) low = max(low, b);
    else high = min(high, b);
    let next = gb === ga ? b + gb : b - (gb * (b - a)) / (gb - ga);
    if (!(next > low && next < high)) next = Number.isFinite(low + high) ? (low + high) / 2 : b + gb / 2;
    [a, ga, b] = [b, gb, next];
  }
  return found;
}

function step(run: Run, h: number): void {
  const { system, store, now, count, stepS } = run;
  const charging = now.duty > 0 && now.toStore && store !== null;
  let { taken, lost } = charging ? settle(run, h, store) : collect(run, h, now.sinkC);
  const capC = charging && system.use.kind === "hotWater" ? system.use.capC + CAP_K : Infinity;
  if (capC < Infinity && warmedTo(store!, (taken - lost) * stepS) > capC) {
    // The pump stops when the tank reaches its cap, within the step.
    let [low, high] = [0, now.duty];
    for (let k = 0; k < 14; k++) {
      now.duty = (low + high) / 2;
      now.sinkC = store!.temperatures[0];
      ({ taken, lost } = settle(run, h, store!));
      if (warmedTo(store!, (taken - lost) * stepS) > capC) high = now.duty;
      else low = now.duty;
    }
    now.duty = low;
    now.sinkC = store!.temperatures[0];
    ({ taken, lost } = settle(run, h, store!));
  }
  for (let i = 0; i < system.rows.length; i++) {
    const row = system.rows[i];
    const n = run.boxC[i].length;
    const absorbed = row.areaM2 * row.curve.eta0 * row.light[h];
    const [before, after] = [run.boxC[i], run.nextC[i]];
    let kept = 0;
    for (let k = 0; k < n; k++) {
      kept += ((row.capacityJK / n) * (after[k] - before[k])) / stepS;
      before[k] = after[k];
    }
    book(run, run.sums.light, row.areaM2 * row.light[h]);
    book(run, run.sums.absorbed, absorbed);
    book(run, run.sums.collectorLoss, absorbed - kept);
  }
  book(run, run.sums.collectorLoss, -taken);
  const flowing = now.duty * now.flowWK;
  now.collected = taken;
  now.delivered = taken - lost;
  book(run, run.sums.collected, taken);
  book(run, run.sums.runLoss, lost);
  book(run, run.sums.fan, now.duty * now.powerW);
  if (flowing > 0) run.supplyC = now.sinkC + now.delivered / flowing;
  if (charging) {
    charge(run, store);
    book(run, run.sums.toStore, now.delivered);
    count.pumpedOutKwh += (max(0, -now.delivered) * stepS) / KWH;
  }
  stepUse(run, h, now.toStore ? 0 : now.delivered, flowing);
  if (flowing > 0 && !run.running) count.starts++;
  run.running = flowing > 0;
}

/** Exactly what was delivered goes into the store, where the stream leaves it. */
function charge({ now, supplyC, stepS }: Run, store: Store): void {
  const heat = now.delivered * stepS;
  if (store.temperatures.length === 1) return addHeat(store, heat);
  passThrough(store, supplyC, now.flowWK, now.duty * stepS);
  const sum = store.taken.reduce((s, q) => s + q, 0);
  // The two agree to the sinks' few millikelvin.
  take(store, abs(sum) > 1e-9 ? heat / sum : 0);
  if (abs(sum) <= 1e-9)
    for (let i = 0; i < store.taken.length; i++)
      store.temperatures[i] += heat / store.taken.length / store.nodeCapacity;
}

function trace(run: Run, h: number): void {
  const { trace: t, store, room, system, now, count } = run;
  const part = 1 / run.perHour;
  // The last box of the first row is the hottest that is followed.
  const boxC = run.boxC[0][run.boxC[0].length - 1];
  t.collected[h] += now.collected * part;
  if (now.toStore) t.toStore[h] += now.delivered * part;
  else t.toUse[h] += now.delivered * part;
  t.missing[h] += now.missing * part;
  t.vented[h] += now.vented * part;
  t.boxC[h] += boxC * part;
  t.running[h] += now.duty * part;
  if (system.use.kind === "room") t.useC[h] = room.airC;
  if (store) t.storeC[h] = meanOf(store);
  count.running += (now.duty * run.stepS) / 3600;
  if (boxC > count.hottestBoxC) count.hottestBoxC = boxC;
  if (system.limitC !== null && boxC > system.limitC) count.overLimit += run.stepS / 3600;
}
