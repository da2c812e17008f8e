import { upperMiddle } from "../numeric/middle";
import { sunPosition } from "../sun/position";
import { causesOf } from "./causes";
import { LONGEST_ROUND, type HandReading } from "./handReading";
import type { HeatRecord } from "./heatRecord";
import { flowOdd } from "./flowSlips";
import { apart, areas, OUTSIDE_RANGE } from "./implausible";
import { NIGHT_DEG } from "./night";
import type { Implausible } from "./slip";
import { LIMIT_MARGIN, NOISE, SUNNY, TINY } from "./sunniest";
import type { LaneSetup, RunSetup } from "./setup";

/** All that is implausible in a run read by hand: its rows are few, and each is looked at. */
export function implausibleByHand(setup: RunSetup, record: HeatRecord): Implausible[] {
  const { readings, rounds } = record;
  const outsideC = upperMiddle(readings.map((r) => r.ambientC));
  const night = readings.filter((r) => r.heat.value > 0 && sunPosition(r.startMs, setup.place).altitude < NIGHT_DEG);
  return [
    ...areas(setup),
    ...(outsideC < OUTSIDE_RANGE[0] || outsideC > OUTSIDE_RANGE[1]
      ? [{ kind: "outsideOdd" as const, temperatureC: outsideC }]
      : []),
    ...flowOdd(setup, { ...record, hours: readings }),
    ...apart({ ...record, hours: rounds }),
    ...(night.length > readings.length / 2 ? [{ kind: "heatAtNight" as const, hours: spanHours(night) }] : []),
    ...setup.lanes.flatMap((lane) => {
      const own = readings.filter((r) => r.lane === lane.lane);
      return own.length ? readOdd(lane, own) : [];
    }),
    ...rowsOff(readings),
  ];
}

/** Rows of one box no further apart say what the one between them should, ms; so far from it is no scatter of reading. */
const NEAR_MS = 60 * 60_000;
const OFF = Math.log(1.3);
/** What another box may have seen of a cloud at the same time. */
const CLOUD = Math.log(1.12);

/** Single rows far from the same box's rows before and after, while the other boxes show nothing of the kind: misread or mistyped. */
function rowsOff(readings: readonly HandReading[]): Implausible[] {
  const per = (r: HandReading) => r.efficiency?.value ?? r.heat.value / r.area.value;
  const off = readings.flatMap((row) => {
    const own = readings.filter((r) => r.lane === row.lane && r !== row);
    const near = own.filter((r) => Math.abs(r.startMs - row.startMs) <= NEAR_MS);
    const [before, after] = [near.findLast((r) => r.startMs < row.startMs), near.find((r) => r.startMs > row.startMs)];
    const beside = before && after ? [before, after] : near.slice(0, 3);
    if (beside.length < 2) return [];
    const expected = beside.reduce((s, r) => s + per(r), 0) / beside.length;
    const agree = beside.every((r) => Math.abs(Math.log(per(r) / expected)) < OFF / 2);
    return expected > 0 && agree ? [{ row, expected, log: Math.log(Math.max(1e-3, per(row) / expected)) }] : [];
  });
  return off
    .filter(({ row, log }) => {
      const others = off.filter(
        (o) => o.row.lane !== row.lane && Math.abs(o.row.startMs - row.startMs) <= LONGEST_ROUND / 2,
      );
      const cloud = others.some((o) => Math.sign(o.log) === Math.sign(log) && Math.abs(o.log) > CLOUD);
      return Math.abs(log) > OFF && !cloud;
    })
    .map(({ row, expected }) => ({
      kind: "rowOff",
      lane: row.lane,
      atMs: row.startMs,
      heatW: row.heat.value,
      expectedW: (row.heat.value / per(row)) * expected,
    }));
}

const spanHours = (rows: readonly HandReading[]) => (rows[rows.length - 1].startMs - rows[0].startMs) / 3600000;

/** What the middle of a lane's rows says that cannot be. */
function readOdd(setup: LaneSetup, own: readonly HandReading[]): Implausible[] {
  const { lane, flow } = setup;
  const limit = setup.opticalLimit ?? 1;
  const fluid = setup.fluid.kind === "air" ? "air" : "liquid";
  const riseK = upperMiddle(own.map((r) => r.rise.value));
  const minutes = Math.max(1, 60 * spanHours(own));
  const lit = own.filter((r) => r.irradiance && r.irradiance.value > SUNNY);
  if (lit.length) {
    const efficiency = upperMiddle(lit.map((r) => r.efficiency!.value));
    const causes = causesOf(efficiency, flow, { fluid, outsideC: upperMiddle(own.map((r) => r.ambientC)) });
    const at = { irradianceWm2: upperMiddle(lit.map((r) => r.irradiance!.value)), atMs: lit[0].startMs, causes };
    if (efficiency < -NOISE) return [{ kind: "efficiencyBelowZero", lane, efficiency, riseK, ...at }];
    if (efficiency < TINY && riseK > 0.2) return [{ kind: "efficiencyTiny", lane, efficiency, ...at }];
    if (efficiency > LIMIT_MARGIN * limit) return [{ kind: "efficiencyAboveLimit", lane, efficiency, limit, ...at }];
  }
  if (riseK < -1) return [{ kind: "coolsByDay", lane, riseK, minutes }];
  return Math.abs(riseK) < 0.2 ? [{ kind: "noRiseInSun", lane, riseK, minutes }] : [];
}
