import { standardPressure } from "../fluids/moistAir";
import { upperMiddle } from "../numeric/middle";
import { alike } from "./alike";
import type { AssembledRun } from "./assemble";
import { clocksApart } from "./clocks";
import { outletsExchanged } from "./exchanged";
import { besideClearSky, flowInSun, flowOdd, frozen, stops } from "./flowSlips";
import type { HeatRecord } from "./heatRecord";
import type { Implausible } from "./slip";
import { riseByItself } from "./ownRhythm";
import { sunShaded } from "./spells";
import { clock, heatAtNight, sunOdd } from "./sunSlips";
import { statedReading, type RunSeries, type RunSetup } from "./setup";
import { atSunniest, lightLost } from "./sunniest";

/** Weather moves a barometer by 3 %; what is reduced to sea level is off by 1.2 % each hundred metres. */
const PRESSURE_SHARE = 0.05;

const AREA_RANGE = [0.02, 60] as const;

/** Two boxes side by side seldom differ by more, as ratio of heat per area: bare against glazed in the cold does. */
const APART = 1.8;

/** Outside air on a bench, °C, as the middle of a run. */
export const OUTSIDE_RANGE = [-45, 48] as const;

/** All that is implausible in one arrangement of a run. Series cleaned, by the minute and with their sun in the collector plane. */
export function implausibleIn(
  setup: RunSetup,
  series: RunSeries,
  assembled: AssembledRun,
  record: HeatRecord,
): Implausible[] {
  const sunniest = [
    ...setup.lanes.flatMap((l) => flowInSun(l.lane, statedReading(l.flow) !== null, series)),
    ...atSunniest(setup, series),
    // With a sun its sunny minutes tell the same, with their efficiency.
    ...(assembled.shared.irradiance ? [] : withoutSun(setup, series, record)),
  ];
  const twins = alike(setup, assembled);
  // A lane that is named already, by its ends or as another's copy, says nothing of whose outlet it has.
  const named = new Set([...sunniest, ...twins].flatMap(lanesIn));
  return [
    ...areas(setup),
    ...clock(setup, assembled, record),
    ...clocksApart(setup, assembled),
    ...outside(series),
    ...flowOdd(setup, record),
    ...apart(record),
    ...(assembled.leftOut ? [{ kind: "farApart" as const, ...assembled.leftOut }] : []),
    ...sunOdd(setup, assembled),
    ...pressure(setup, series),
    ...frozen(setup, series),
    ...riseByItself(setup, series),
    ...sunniest,
    ...lightLost(setup, series, sunniest),
    ...outletsExchanged(setup, series).filter((f) => !f.lanes.some((l) => named.has(l))),
    ...(setup.sunSensor.mounting === "plane" ? sunShaded(setup, series, record.minutes) : []),
    ...twins,
  ];
}

const lanesIn = (found: Implausible): readonly string[] => {
  if ("lanes" in found) return found.lanes;
  return "lane" in found ? [found.lane] : [];
};

function outside({ ambient }: RunSeries): Implausible[] {
  if (!ambient) return [];
  const temperatureC = upperMiddle(ambient);
  return temperatureC < OUTSIDE_RANGE[0] || temperatureC > OUTSIDE_RANGE[1]
    ? [{ kind: "outsideOdd", temperatureC }]
    : [];
}

/** What sunny minutes would tell, told by the hours in which the other lanes warm. */
const withoutSun = (setup: RunSetup, series: RunSeries, record: HeatRecord): Implausible[] => [
  ...byDay(setup, record),
  ...setup.lanes.flatMap(({ lane }): Implausible[] => {
    const hours = record.hours.filter((h) => h.lane === lane && !h.byTank);
    const riseK = upperMiddle(hours.map((h) => h.rise.value));
    return hours.length > 0 && Math.abs(riseK) < 0.2
      ? [{ kind: "noRiseInSun", lane, riseK, minutes: 60 * hours.length }]
      : [];
  }),
  ...setup.lanes.flatMap(({ lane }): Implausible[] => {
    const days = record.days.filter((d) => d.lane === lane);
    const minutes = days.reduce((s, d) => s + d.stoppedMinutes, 0);
    const all = 60 * days.reduce((s, d) => s + d.hours, 0);
    return minutes > 10
      ? [{ kind: "noFlowInSun", lane, minutes, share: minutes / all, ...stops(setup, series, lane) }]
      : [];
  }),
  ...besideClearSky(setup, series, record),
  ...heatAtNight(setup, record),
];

/** Lanes that cool what flows through them from one day's end to the other. */
const byDay = ({ lanes }: RunSetup, { days }: HeatRecord): Implausible[] =>
  lanes.flatMap(({ lane }): Implausible[] => {
    const own = days.filter((d) => d.lane === lane && d.hours > 1);
    const hours = own.reduce((s, d) => s + d.hours, 0);
    const riseK = own.reduce((s, d) => s + d.hours * (d.outletC - d.inletC), 0) / hours;
    return hours > 1 && riseK < -1 ? [{ kind: "coolsByDay", lane, riseK, minutes: 60 * hours }] : [];
  });

export function apart({ hours }: HeatRecord): Implausible[] {
  const lanes = [...new Set(hours.map((h) => h.lane))].sort();
  const heat = (lane: string) =>
    upperMiddle(hours.filter((h) => h.lane === lane).map((h) => h.heat.value / h.area.value));
  return lanes.flatMap((a, i) =>
    lanes.slice(i + 1).flatMap((b): Implausible[] => {
      const ratio = heat(a) / heat(b);
      return ratio > APART || (ratio > 0 && ratio < 1 / APART) ? [{ kind: "worldsApart", lanes: [a, b], ratio }] : [];
    }),
  );
}

export const areas = ({ lanes }: RunSetup): Implausible[] =>
  lanes
    .filter((l) => l.areaM2 < AREA_RANGE[0] || l.areaM2 > AREA_RANGE[1])
    .map((l) => ({ kind: "oddArea", lane: l.lane, areaM2: l.areaM2 }));

function pressure({ place }: RunSetup, series: RunSeries): Implausible[] {
  const middle = upperMiddle(series.pressure ?? []);
  if (Number.isNaN(middle)) return [];
  const expectedPa = standardPressure(place.altitudeM);
  return Math.abs(middle / expectedPa - 1) > PRESSURE_SHARE
    ? [{ kind: "pressureFar", pressurePa: middle, expectedPa }]
    : [];
}
