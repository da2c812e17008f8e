import { zoneOffset } from "../log/zone";
import { sunPosition } from "../sun/position";
import type { AssembledRun } from "./assemble";
import type { HeatRecord } from "./heatRecord";
import { HEAT_LAG, NIGHT_DEG, nightAt } from "./night";
import type { Implausible } from "./slip";
import { clockOffset, mountingRatios, type ClockedSeries } from "./sunClock";
import type { RunSetup } from "./setup";

/** What even edge-lit clouds give for minutes only, W/m² in a plane with some snow before it (Gueymard 2017: extremes near 1,500). */
const STRONGEST = 1450;
const LONG_MINUTES = 30;

/** A clear sky's light in the stated plane is exceeded by so much by no cloud's edge for a tenth of all clear time. */
const TURNED_AWAY = 1.5;

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
export function clock(setup: RunSetup, { shared }: AssembledRun, record: HeatRecord): Implausible[] {
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

/** Heat of a sunny hour while the sun is far below the horizon: the clock, the zone or the site is wrong. */
export function heatAtNight({ place }: RunSetup, { minutes }: HeatRecord): Implausible[] {
  if (!minutes) return [];
  const { startMs, stepMs, values } = minutes;
  const strongest = values.reduce((m, v) => (v > m ? v : m), 0);
  let night = 0;
  for (let i = 0; i < values.length; i++)
    if (values[i] > 0.3 * strongest && sunPosition(startMs + (i + 0.5) * stepMs, place).altitude < NIGHT_DEG) night++;
  const hours = (night * stepMs) / 3600000;
  return hours > 1 ? [{ kind: "heatAtNight", hours }] : [];
}

/** The sun's own channel, as logged: what cleaning takes out is part of what is told. */
export function sunOdd(setup: RunSetup, { cleaning }: AssembledRun): Implausible[] {
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
