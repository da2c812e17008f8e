import { standardPressure } from "../fluids/moistAir";
import { upperMiddle } from "../numeric/middle";
import { sunPosition } from "../sun/position";
import { clearSkyInPlane } from "../sun/clearSky";
import { causesOf, type Cause } from "./causes";
import { alike, type LanesAlike } from "./alike";
import { outletsExchanged, type OutletsExchanged } from "./exchanged";
import { atSunniest, lightLost, SUNNY, typical, type AtSunniest } from "./sunniest";
import { clocksApart, type ClocksApart } from "./clocks";
import type { AssembledRun } from "./assemble";
import type { HeatRecord } from "./heatRecord";
import { zoneOffset } from "../log/zone";
import { clockOffset, mountingRatios, type ClockedSeries } from "./sunClock";
import { flowPerGrossArea } from "./points";
import { spellsOf, sunShaded, type Spell, type SunShaded } from "./spells";
import { statedReading, type RunSeries, type RunSetup } from "./setup";

/** Something readings or set-up say that physics does not allow, or hardly. An import names it; the verdict doubts it. */
export type Implausible =
  | AtSunniest
  /** In clear hours the sensor in the plane sees a plane that faces the other way. */
  | { kind: "planeTurned"; azimuth: number; planeRatio: number; turnedRatio: number }
  /** Without a sun sensor: cooler at the outlet through the middle of the day. */
  | { kind: "coolsByDay"; lane: string; riseK: number; minutes: number }
  | { kind: "flowOdd"; lane: string; flowPerArea: number; usual: readonly [number, number] }
  | { kind: "worldsApart"; lanes: [string, string]; ratio: number }
  | { kind: "flowBackwards"; lane: string; minutes: number }
  | {
      kind: "noFlowInSun";
      lane: string;
      minutes: number;
      share: number;
      spells?: readonly Spell[];
      /** How often the fan stopped where it goes on and off as a thermostat's does; left out where it stood for long. */
      cycles?: number;
    }
  /** Without a sun sensor: the lane's best hour against what a clear sky sends then. */
  | { kind: "besideClearSky"; lane: string; share: number; heatWm2: number; atMs: number; causes: readonly Cause[] }
  /** Water that flows below its freezing point. */
  | { kind: "waterFrozen"; lane: string; temperatureC: number; minutes: number }
  | SunShaded
  | { kind: "noRiseInSun"; lane: string; riseK: number; minutes: number }
  | LanesAlike
  | OutletsExchanged
  | { kind: "constantSun"; irradianceWm2: number; hours: number }
  | { kind: "sunTooStrong"; irradianceWm2: number; minutes: number }
  | { kind: "sunAtNight"; irradianceWm2: number; hours: number }
  | { kind: "heatAtNight"; hours: number }
  | { kind: "clockOff"; lateMinutes: number; by: "sun" | "rise" }
  /** Right before the clocks changed and an hour off after, or the other way about. */
  | { kind: "clockNotChanged"; lateMinutes: number; changedMs: number; wrong: "before" | "after"; by: "sun" | "rise" }
  | { kind: "sunMounting"; planeRatio: number; horizontalRatio: number; mounted: "plane" | "horizontal" }
  | { kind: "outsideOdd"; temperatureC: number }
  | { kind: "pressureFar"; pressurePa: number; expectedPa: number }
  /** One row of a sheet, far from those of the same box around it. */
  | { kind: "rowOff"; lane: string; atMs: number; heatW: number; expectedW: number }
  | { kind: "oddArea"; lane: string; areaM2: number }
  | ClocksApart
  | { kind: "farApart"; readings: number; fromMs: number; toMs: number };

/** What a finding is called within its run. */
export function implausibleKey(found: Implausible): string {
  if (found.kind === "rowOff") return `rowOff ${found.lane} ${found.atMs}`;
  if ("streams" in found) return `${found.kind} ${found.channels.join("/")}`.slice(0, 60);
  if ("lanes" in found) return `${found.kind} ${found.lanes.join("")}`;
  return "lane" in found ? `${found.kind} ${found.lane}` : found.kind;
}

/** What even edge-lit clouds give for minutes only, W/m² in a plane with some snow before it (Gueymard 2017: extremes near 1,500). */
const STRONGEST = 1450;
const LONG_MINUTES = 30;
/** Weather moves a barometer by 3 %; what is reduced to sea level is off by 1.2 % each hundred metres. */
const PRESSURE_SHARE = 0.05;
const AREA_RANGE = [0.02, 60] as const;
/** Sun below this altitude gives next to no light, degrees. */
export const NIGHT_DEG = -6;

/** Flow below this share of the lane's usual stands. */
const STILL = 0.05;
/** Minutes. */
const HEAT_LAG = 10;
/** Air is blown and water pumped through collectors at these flows per gross area, kg/(s·m²), with room on both sides. */
const USUAL_FLOW = { air: [0.003, 0.12], liquid: [0.002, 0.12] } as const;
/** Two boxes side by side seldom differ by more, as ratio of heat per area: bare against glazed in the cold does. */
const APART = 1.8;
/** A clear sky's light in the stated plane is exceeded by so much by no cloud's edge for a tenth of all clear time. */
const TURNED_AWAY = 1.5;
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
    ...sun(setup, assembled),
    ...pressure(setup, series),
    ...frozen(setup, series),
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

/** A logger on a fixed offset over the day clocks changed: one side fits the sky, the other is off by the hour. */
function clockNotChanged(setup: RunSetup, series: ClockedSeries, by: "sun" | "rise"): Implausible | null {
  const { startMs, stepMs, values } = series;
  const at = (i: number) => zoneOffset(startMs + i * stepMs, setup.zone);
  const changed = Array.from({ length: Math.ceil(values.length / DAY_CELLS(stepMs)) + 1 }, (_, d) =>
    Math.min(values.length, d * DAY_CELLS(stepMs)),
  ).find((i, d, all) => d > 0 && at(i) !== at(all[d - 1]));
  if (changed === undefined) return null;
  const lag = by === "rise" ? HEAT_LAG : 0;
  const late = (part: ClockedSeries) => (clockOffset(setup, part)?.lateMinutes ?? lag) - lag;
  const changedMs = startMs + changed * stepMs;
  const before = late({ startMs, stepMs, values: values.subarray(0, changed) });
  const after = late({ startMs: changedMs, stepMs, values: values.subarray(changed) });
  const isHour = (minutes: number) => Math.abs(Math.abs(minutes) - 60) <= 25;
  if (isHour(before) === isHour(after) || Math.min(Math.abs(before), Math.abs(after)) > 25) return null;
  const wrong = isHour(before) ? "before" : "after";
  return { kind: "clockNotChanged", lateMinutes: wrong === "before" ? before : after, changedMs, wrong, by };
}

/** Cells of half a day: fine enough to find the day clocks changed. */
const DAY_CELLS = (stepMs: number): number => Math.max(1, Math.round(43_200_000 / stepMs));

/** The sun's own record, before it is moved to the collector plane; without one, the lanes' heat, which follows the sun. */
function clock(setup: RunSetup, { shared }: AssembledRun, record: HeatRecord): Implausible[] {
  const { startMs, stepMs, irradiance } = shared;
  const unmeasured = setup.sunSensor.mounting === "modelled" || !irradiance;
  const told = unmeasured ? record.minutes : { startMs, stepMs, values: irradiance };
  const notChanged = told && clockNotChanged(setup, told, unmeasured ? "rise" : "sun");
  if (notChanged) return [notChanged];
  if (setup.sunSensor.mounting === "modelled" || !irradiance) {
    const heat = record.minutes;
    const off = heat && clockOffset(setup, heat);
    // Heat comes some ten minutes after the sun, by what a box stores: only hours are told by it.
    return off && Math.abs(off.lateMinutes - HEAT_LAG) >= 45
      ? [{ kind: "clockOff", lateMinutes: off.lateMinutes, by: "rise" }]
      : [];
  }
  const series = { startMs, stepMs, values: irradiance };
  const off = clockOffset(setup, series);
  if (off) return [{ kind: "clockOff", lateMinutes: off.lateMinutes, by: "sun" }];
  const ratios = mountingRatios(setup, series);
  if (!ratios) return [];
  const { mounting } = setup.sunSensor;
  // A plane that was entered facing north gets next to no light at noon, and the sensor sees a sky that faces south.
  if (mounting === "plane" && ratios.plane > TURNED_AWAY && Math.abs(ratios.turned - 1) < 0.15)
    return [
      {
        kind: "planeTurned",
        azimuth: (setup.plane.azimuth + 180) % 360,
        planeRatio: ratios.plane,
        turnedRatio: ratios.turned,
      },
    ];
  const [stated, other] = mounting === "plane" ? [ratios.plane, ratios.horizontal] : [ratios.horizontal, ratios.plane];
  // One fits a clear sky closely, the stated one not at all.
  return Math.abs(other - 1) < 0.12 && Math.abs(Math.log(stated)) > 0.25
    ? [{ kind: "sunMounting", planeRatio: ratios.plane, horizontalRatio: ratios.horizontal, mounted: mounting }]
    : [];
}

function outside({ ambient }: RunSeries): Implausible[] {
  if (!ambient) return [];
  const temperatureC = upperMiddle(ambient);
  return temperatureC < OUTSIDE_RANGE[0] || temperatureC > OUTSIDE_RANGE[1]
    ? [{ kind: "outsideOdd", temperatureC }]
    : [];
}

export function flowOdd({ lanes }: RunSetup, { hours }: HeatRecord): Implausible[] {
  return lanes.flatMap(({ lane, fluid, flow }): Implausible[] => {
    if (flow.kind === "tank") return [];
    const usual = USUAL_FLOW[fluid.kind === "air" ? "air" : "liquid"];
    const flowPerArea = upperMiddle(hours.filter((h) => h.lane === lane).map(flowPerGrossArea));
    return flowPerArea > 0 && (flowPerArea < usual[0] || flowPerArea > usual[1])
      ? [{ kind: "flowOdd", lane, flowPerArea, usual }]
      : [];
  });
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

/** Spells in which a lane's flow stands while another's runs and the sun is up. */
function stops(
  { place }: RunSetup,
  { lanes, startMs, stepMs }: RunSeries,
  lane: string,
): { spells?: readonly Spell[] } {
  const own = lanes.get(lane)?.flow;
  const others = [...lanes].flatMap(([l, { flow }]) => (l !== lane && flow ? [{ flow, usual: typical(flow) }] : []));
  if (!own || others.length === 0) return {};
  const usual = typical(own);
  const isNight = nightAt(place);
  const stands = (i: number) =>
    Math.abs(own[i]) <= STILL * usual &&
    others.some((o) => o.flow[i] > STILL * o.usual) &&
    !isNight(startMs + (i + 0.5) * stepMs);
  return { spells: spellsOf(stands, { startMs, stepMs, count: own.length }) };
}

/** A box's best hour of all days gives less of a clear sky's light than this only if none of them was sunny; and never more than that. */
const CLEAR_SHARE = [0.2, 1.05] as const;
/** Light worth holding it against, W/m². */
const CLEAR_LIGHT = 400;

/** What each lane gives in its best hour, as a share of the clear sky's light: a flow in a wrong unit shows though nobody measured the sun. */
function besideClearSky(setup: RunSetup, { ambient }: RunSeries, { hours }: HeatRecord): Implausible[] {
  const outsideC = ambient && upperMiddle(ambient);
  return setup.lanes.flatMap(({ lane, fluid, flow }): Implausible[] => {
    const best = hours
      .filter((h) => h.lane === lane)
      .flatMap((h) => {
        const atMs = (h.startMs + h.endMs) / 2;
        const clear = clearSkyInPlane(atMs, setup.place, setup.plane, setup.linkeTurbidity).total;
        const heatWm2 = h.heat.value / h.area.value;
        return clear > CLEAR_LIGHT ? [{ share: heatWm2 / clear, heatWm2, atMs }] : [];
      })
      .reduce<{ share: number; heatWm2: number; atMs: number } | null>(
        (a, b) => (a && a.share >= b.share ? a : b),
        null,
      );
    if (!best || !(best.heatWm2 > 0) || (best.share >= CLEAR_SHARE[0] && best.share <= CLEAR_SHARE[1])) return [];
    const causes = causesOf(best.share, flow, { fluid: fluid.kind === "air" ? "air" : "liquid", outsideC });
    return [{ kind: "besideClearSky", lane, ...best, causes }];
  });
}

/** Below this no water flows, °C, with room for a probe's own error; and for so long, minutes. */
const FROZEN_C = -1.5;
const FROZEN_MINUTES = 30;

function frozen({ lanes }: RunSetup, { lanes: series, stepMs }: RunSeries): Implausible[] {
  return lanes.flatMap(({ lane, fluid, flow: stated }): Implausible[] => {
    const own = series.get(lane);
    if (fluid.kind !== "water" || !own?.inlet || !own.outlet || stated.kind === "tank") return [];
    const usual = own.flow ? typical(own.flow) : 0;
    let [cells, coldest] = [0, 0];
    own.inlet.forEach((inlet, i) => {
      const cold = Math.min(inlet, own.outlet![i]);
      if (!(cold < FROZEN_C) || (own.flow && !(own.flow[i] > STILL * usual))) return;
      cells++;
      coldest = Math.min(coldest, cold);
    });
    const minutes = (cells * stepMs) / 60_000;
    return minutes > FROZEN_MINUTES ? [{ kind: "waterFrozen", lane, temperatureC: coldest, minutes }] : [];
  });
}

/** Heat of a sunny hour while the sun is far below the horizon: the clock, the zone or the site is wrong. */
function heatAtNight({ place }: RunSetup, { minutes }: HeatRecord): Implausible[] {
  if (!minutes) return [];
  const { startMs, stepMs, values } = minutes;
  const strongest = values.reduce((m, v) => (v > m ? v : m), 0);
  let night = 0;
  for (let i = 0; i < values.length; i++)
    if (values[i] > 0.3 * strongest && sunPosition(startMs + (i + 0.5) * stepMs, place).altitude < NIGHT_DEG) night++;
  const hours = (night * stepMs) / 3600000;
  return hours > 1 ? [{ kind: "heatAtNight", hours }] : [];
}

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

/** The sun's own channel, as logged: what cleaning takes out is part of what is told. */
function sun(setup: RunSetup, { cleaning }: AssembledRun): Implausible[] {
  if (setup.sunSensor.mounting === "modelled") return [];
  const isNight = nightAt(setup.place);
  const out: Implausible[] = [];
  for (const { channel } of cleaning) {
    if (channel.kind !== "irradiance") continue;
    const { times, values, clockOffsetMs } = channel;
    let strongMs = 0;
    let strong = 0;
    let nightMs = 0;
    let night = 0;
    let litMs = 0;
    const lit = new Map<number, number>();
    for (let i = 1; i < times.length; i++) {
      const ms = Math.min(times[i] - times[i - 1], 600000);
      const g = values[i];
      if (g > STRONGEST && setup.sunSensor.mounting !== "horizontal") {
        strongMs += ms;
        strong = Math.max(strong, g);
      }
      if (g > 50) {
        litMs += ms;
        lit.set(g, (lit.get(g) ?? 0) + ms);
      }
      if (g > 100 && isNight(times[i] + clockOffsetMs)) {
        nightMs += ms;
        night += g * ms;
      }
    }
    if (strongMs > LONG_MINUTES * 60000)
      out.push({ kind: "sunTooStrong", irradianceWm2: strong, minutes: strongMs / 60000 });
    if (nightMs > LONG_MINUTES * 60000)
      out.push({ kind: "sunAtNight", irradianceWm2: night / nightMs, hours: nightMs / 3600000 });
    const [value, same] = [...lit].reduce((a, b) => (b[1] > a[1] ? b : a), [0, 0]);
    if (same > 3 * 3600000 && same > 0.8 * litMs)
      out.push({ kind: "constantSun", irradianceWm2: value, hours: same / 3600000 });
  }
  return out;
}

/** The sun's altitude changes no faster, degrees per ms: a turn of the earth a day, and a little more. */
const FASTEST = 15.1 / 3600000;

/** Whether the sun is far below the horizon, asked at rising instants: its place is reckoned only when it may have got there. */
function nightAt(place: RunSetup["place"]): (ms: number) => boolean {
  let dayUntil = -Infinity;
  return (ms) => {
    if (ms < dayUntil) return false;
    const above = sunPosition(ms, place).altitude - NIGHT_DEG;
    if (above < 0) return true;
    dayUntil = ms + above / FASTEST;
    return false;
  };
}

function pressure({ place }: RunSetup, series: RunSeries): Implausible[] {
  const middle = upperMiddle(series.pressure ?? []);
  if (Number.isNaN(middle)) return [];
  const expectedPa = standardPressure(place.altitudeM);
  return Math.abs(middle / expectedPa - 1) > PRESSURE_SHARE
    ? [{ kind: "pressureFar", pressurePa: middle, expectedPa }]
    : [];
}

/** A thermostat's fan stops as often as this in an hour of sun, and for no longer than that each time, minutes. */
const CYCLES_AN_HOUR = 0.5;
const LONGEST_STOP = 60;
const FEWEST_CYCLES = 4;

/** How often a fan stopped, where its stops are many and short; null where it stood. */
function stopsOf(
  stands: (cell: number) => boolean,
  { stepMs, count }: { stepMs: number; count: number },
  sunny: number,
): number | null {
  let [stops, length, longest] = [0, 0, 0];
  for (let i = 0; i < count; i++) {
    if (!stands(i)) length = 0;
    else if (++length === 1) stops++;
    longest = Math.max(longest, length);
  }
  const often = stops >= FEWEST_CYCLES && stops > (CYCLES_AN_HOUR * sunny * stepMs) / 3_600_000;
  return often && (longest * stepMs) / 60_000 <= LONGEST_STOP ? stops : null;
}

/** Flow that stands still or runs backwards, and a rise that is none, while the sun shines. */
function flowInSun(lane: string, assumed: boolean, { irradiance, lanes, startMs, stepMs }: RunSeries): Implausible[] {
  const own = lanes.get(lane);
  if (!irradiance || !own) return [];
  const { flow, inlet, outlet } = own;
  let sunny = 0;
  let still = 0;
  let back = 0;
  const rises: number[] = [];
  const usual = flow ? typical(flow) : 0;
  for (let i = 0; i < irradiance.length; i++) {
    if (!(irradiance[i] > SUNNY)) continue;
    const runs = assumed || (flow !== null && flow[i] > 0.05 * usual);
    if (flow && !Number.isNaN(flow[i])) {
      sunny++;
      if (flow[i] < -0.05 * usual) back++;
      else if (!runs) still++;
    }
    if (runs && inlet && outlet && !Number.isNaN(outlet[i] - inlet[i])) rises.push(outlet[i] - inlet[i]);
  }
  const minutes = (cells: number) => (cells * stepMs) / 60000;
  const out: Implausible[] = [];
  if (minutes(back) > 10) out.push({ kind: "flowBackwards", lane, minutes: minutes(back) });
  if (minutes(still) > 10) {
    const stands = (i: number) => irradiance[i] > SUNNY && flow !== null && Math.abs(flow[i]) <= 0.05 * usual;
    const count = { startMs, stepMs, count: irradiance.length };
    const spells = spellsOf(stands, count);
    const cycles = stopsOf(stands, count, sunny);
    out.push({
      kind: "noFlowInSun",
      lane,
      minutes: minutes(still),
      share: still / sunny,
      spells,
      ...(cycles === null ? {} : { cycles }),
    });
  }
  const riseK = upperMiddle(rises);
  if (minutes(rises.length) > 10 && Math.abs(riseK) < 0.2)
    out.push({ kind: "noRiseInSun", lane, riseK, minutes: minutes(rises.length) });
  return out;
}
