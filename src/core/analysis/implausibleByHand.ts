import { upperMiddle } from "../numeric/middle";
import { sunPosition } from "../sun/position";
import type { HandReading } from "./handReading";
import type { HeatRecord } from "./heatRecord";
import {
  apart,
  areas,
  flowOdd,
  LIMIT_MARGIN,
  NIGHT_DEG,
  NOISE,
  OUTSIDE_RANGE,
  SUNNY,
  TINY,
  type Implausible,
} from "./implausible";
import type { RunSetup } from "./setup";

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
    ...setup.lanes.flatMap(({ lane, opticalLimit }) => {
      const own = readings.filter((r) => r.lane === lane);
      return own.length ? readOdd(lane, own, opticalLimit ?? 1) : [];
    }),
  ];
}

const spanHours = (rows: readonly HandReading[]) => (rows[rows.length - 1].startMs - rows[0].startMs) / 3600000;

/** What the middle of a lane's rows says that cannot be. */
function readOdd(lane: string, own: readonly HandReading[], limit: number): Implausible[] {
  const riseK = upperMiddle(own.map((r) => r.rise.value));
  const minutes = Math.max(1, 60 * spanHours(own));
  const lit = own.filter((r) => r.irradiance && r.irradiance.value > SUNNY);
  if (lit.length) {
    const efficiency = upperMiddle(lit.map((r) => r.efficiency!.value));
    const at = { irradianceWm2: upperMiddle(lit.map((r) => r.irradiance!.value)), atMs: lit[0].startMs };
    if (efficiency < -NOISE) return [{ kind: "efficiencyBelowZero", lane, efficiency, riseK, ...at }];
    if (efficiency < TINY && riseK > 0.2) return [{ kind: "efficiencyTiny", lane, efficiency, ...at }];
    if (efficiency > LIMIT_MARGIN * limit) return [{ kind: "efficiencyAboveLimit", lane, efficiency, limit, ...at }];
  }
  if (riseK < -1) return [{ kind: "coolsByDay", lane, riseK, minutes }];
  return Math.abs(riseK) < 0.2 ? [{ kind: "noRiseInSun", lane, riseK, minutes }] : [];
}
