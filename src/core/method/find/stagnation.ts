import { fromLimit, withSource, combine } from "../../uncertainty/uncertain";
import { autocorrelatedMean } from "../../uncertainty/typeA";
import { localDay } from "../../log/zone";
import { grouped, eachLane, type Finder, type FinderInput, type Finding, type GapReason } from "./finding";
import { minuteMs, type MethodSpan } from "./span";

/** The standard's condition, W/m² and °C (ISO 9806:2017, clause 9): air collectors and liquid ones are compared at it. */
const STANDARD = { irradianceWm2: 1000, ambientC: 30 };
/** W/m²: below it the plate's place over outside is mostly what it still holds. */
const LEAST_SUN = 800;
const STILL = 0.05;
/** The plate has come to rest: over so many minutes it moves by no more than this, K. */
const REST_MIN = 10;
const REST_K = 2;

/**
 * The plate without flow, normalised to 1,000 W/m² and 30 °C: T = 30 + 1000/G·(T_plate − T_a) (ISO 9806:2017, clause 9), from every minute in which
 * the sun is strong, nothing flows and the plate has come to rest.
 */
export const stagnation: Finder = (input) => eachLane(input, ({ lane }) => stillOf(input, lane));

function stillOf({ spans }: FinderInput, lane: string): Finding[] | GapReason {
  if (!spans.some((s) => s.minutes.irradiance && s.setup.sunSensor.mounting !== "modelled")) return "noSun";
  if (!spans.some((s) => s.other("plate", lane))) return "noPlate";
  const rest = spans.flatMap((s) => restOf(s, lane));
  if (rest.length < REST_MIN) return "neverStill";
  const byDay = grouped(rest, (r) => r.day);
  const days = [...byDay.values()].map((d) => d.reduce((s, r) => s + r.standardC, 0) / d.length);
  const all = autocorrelatedMean(rest.map((r) => r.standardC));
  const mean = days.reduce((a, b) => a + b, 0) / days.length;
  const spread = Math.sqrt(days.reduce((s, d) => s + (d - mean) ** 2, 0) / Math.max(1, days.length - 1) / days.length);
  const { setup } = spans[0];
  const figure = combine(mean, [
    [
      1,
      withSource(0, days.length > 1 ? Math.max(spread, all.standardError) : all.standardError, {
        kind: "methodScatter",
        method: "stagnation",
        figure: `${lane}/stagnation`,
        owner: lane,
        dof: Math.max(1, days.length > 1 ? days.length - 1 : all.effectiveSize - 1),
      }),
    ],
    [
      -(mean - STANDARD.ambientC),
      withSource(0, fromLimit(setup.sunSensor.limitShare), {
        kind: "sunSensor",
        sensor: setup.sunSensor.key,
        owner: "",
        dof: Infinity,
      }),
    ],
    // Nobody states what the plate's own probe is worth: a couple pressed on a plate reads within about 2 K (by judgement).
    [1, withSource(0, fromLimit(2), { kind: "probe", probe: `${lane} plate`, owner: lane, dof: Infinity })],
  ]);
  return [{ name: "stagnationC", lane, figure, quantity: "temperature", hours: rest.length / 60, days: byDay.size }];
}

function restOf(span: MethodSpan, lane: string): { day: string; standardC: number }[] {
  const plate = span.other("plate", lane);
  const { irradiance, ambient, count } = span.minutes;
  const own = span.minutes.lanes.find((l) => l.lane.lane === lane);
  if (!plate || !irradiance || !ambient) return [];
  const out: { day: string; standardC: number }[] = [];
  for (let i = REST_MIN; i < count; i++) {
    // A lane without a meter on is taken to stand still where its readings say nothing else.
    const still = !own || Number.isNaN(own.flow[i]) || Math.abs(own.flow[i]) <= STILL * own.usualFlow;
    if (!still || !(irradiance[i] > LEAST_SUN)) continue;
    const moved = Math.abs(plate[i] - plate[i - REST_MIN]);
    if (!(moved < REST_K) || Number.isNaN(ambient[i])) continue;
    let sun = 0;
    for (let k = i - REST_MIN + 1; k <= i; k++) sun += irradiance[k] / REST_MIN;
    if (!(Math.abs(sun / irradiance[i] - 1) < 0.05)) continue;
    out.push({
      day: localDay(minuteMs(span, i), span.setup.zone),
      standardC: STANDARD.ambientC + (STANDARD.irradianceWm2 / sun) * (plate[i] - ambient[i]),
    });
  }
  return out;
}
