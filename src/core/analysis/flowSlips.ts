import { upperMiddle } from "../numeric/middle";
import { clearSkyInPlane } from "../sun/clearSky";
import { causesOf } from "./causes";
import type { HeatRecord } from "./heatRecord";
import { nightAt } from "./night";
import { flowPerGrossArea } from "./points";
import type { Implausible } from "./slip";
import { spellsOf, type Spell } from "./spells";
import type { RunSeries, RunSetup } from "./setup";
import { SUNNY, typical } from "./sunniest";

/** Flow below this share of the lane's usual stands. */
const STILL = 0.05;

/** Air is blown and water pumped through collectors at these flows per gross area, kg/(s·m²), with room on both sides. */
const USUAL_FLOW = { air: [0.003, 0.12], liquid: [0.002, 0.12] } as const;

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

/** Spells in which a lane's flow stands while another's runs and the sun is up. */
export function stops(
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
export function besideClearSky(setup: RunSetup, { ambient }: RunSeries, { hours }: HeatRecord): Implausible[] {
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

export function frozen({ lanes }: RunSetup, { lanes: series, stepMs }: RunSeries): Implausible[] {
  return lanes.flatMap(({ lane, fluid }): Implausible[] => {
    const own = series.get(lane);
    if (fluid.kind !== "water" || !own?.inlet || !own.outlet || !own.flow) return [];
    const { outlet, flow } = own;
    const usual = typical(flow);
    let [cells, coldest] = [0, 0];
    own.inlet.forEach((inlet, i) => {
      const cold = Math.min(inlet, outlet[i]);
      if (!(cold < FROZEN_C) || !(flow[i] > STILL * usual)) return;
      cells++;
      coldest = Math.min(coldest, cold);
    });
    const minutes = (cells * stepMs) / 60_000;
    return minutes > FROZEN_MINUTES ? [{ kind: "waterFrozen", lane, temperatureC: coldest, minutes }] : [];
  });
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
export function flowInSun(
  lane: string,
  assumed: boolean,
  { irradiance, lanes, startMs, stepMs }: RunSeries,
): Implausible[] {
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
