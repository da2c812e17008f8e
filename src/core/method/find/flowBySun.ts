import { coverageFactor } from "../../uncertainty/coverage";
import { withSource } from "../../uncertainty/uncertain";
import type { LaneMinutes } from "../../analysis/laneMinutes";
import { localDay } from "../../log/zone";
import { eachLane, type Finder, type FinderInput, type Finding, type GapReason } from "./finding";
import { robustFit } from "./robust";
import { efficiencyShare } from "./stated";
import { laneIn, minuteMs } from "./span";

const STILL = 0.05;
const REFERENCE_WM2 = 800;
/** A flow that follows the sun by less than this power is a fan's own. */
const LEAST_EXPONENT = 0.1;
const LAG_MIN = 60;

interface Minute {
  day: string;
  sun: number;
  flow: number;
  mass: number;
}

/**
 * What flow a lane really had: how it follows the sun (natural draught, a fan on its own panel: ṁ ∝ G^n), and how often and how long it
 * stands (a thermostat, a timer), with the efficiency of whole days at the flow that occurred.
 */
export const flowBySun: Finder = (input) => eachLane(input, ({ lane }) => flowOf(input, lane));

/** A lane's minutes in the sun, how often its flow began in them, and what they gave of what light. */
function sunnyMinutes(spans: FinderInput["spans"], lane: string) {
  const minutes: Minute[] = [];
  let [heat, light, capacity, starts] = [0, 0, 0, 0];
  for (const span of spans) {
    const own = laneIn(span, lane);
    const sun = span.minutes.irradiance;
    if (!own || !sun) continue;
    let running = false;
    for (let i = 0; i < span.minutes.count; i++) {
      if (!(sun[i] > 100) || Number.isNaN(own.heat[i])) continue;
      const on = Math.abs(own.flow[i]) > STILL * own.usualFlow;
      if (on && !running) starts++;
      running = on;
      heat += own.heat[i];
      capacity += own.capacity[i];
      light += sun[i] * own.lane.areaM2;
      minutes.push({
        day: localDay(minuteMs(span, i), span.setup.zone),
        sun: sun[i],
        flow: on ? own.flow[i] : 0,
        mass: massOf(own, i),
      });
    }
  }
  return { minutes, heat, light, capacity, starts };
}

function flowOf({ spans }: FinderInput, lane: string): Finding[] | GapReason {
  if (!spans.some((s) => s.minutes.irradiance && s.setup.sunSensor.mounting !== "modelled")) return "noSun";
  const { minutes, heat, light, capacity, starts } = sunnyMinutes(spans, lane);
  if (minutes.length < 3 * 60) return "fewHours";
  const own = spans.map((s) => laneIn(s, lane)).find((l) => l)!;
  const days = new Set(minutes.map((m) => m.day)).size;
  const on = minutes.filter((m) => m.flow > 0);
  const share = on.length / minutes.length;
  const exponent = followed(on);
  if (share > 0.97 && (exponent === null || exponent.n < LEAST_EXPONENT)) return "flowSteady";
  const base = { lane, hours: minutes.length / 60, days };
  const plain = (value: number, standard: number, figure: string, dof: number) =>
    withSource(value, standard, {
      kind: "methodScatter",
      method: "flowBySun",
      figure: `${lane}/${figure}`,
      owner: lane,
      dof,
    });
  const out: Finding[] = [
    { ...base, name: "onShare", figure: plain(share, 0, "on", Infinity), quantity: "fraction" },
    { ...base, name: "startsPerHour", figure: plain(starts / base.hours, 0, "starts", Infinity), quantity: "number" },
    {
      ...base,
      name: "dayEfficiency",
      // As the instruments are stated: what makes a day's sum uncertain.
      figure: plain(
        heat / light,
        (heat / light) * efficiencyShare(own.lane, spans[0].setup, own.usualFlow, heat / Math.max(1e-9, capacity)),
        "day",
        Infinity,
      ),
      quantity: "fraction",
    },
  ];
  if (exponent && exponent.n - coverageFactor(exponent.dof) * exponent.standard > 0)
    out.push(
      {
        ...base,
        name: "flowExponent",
        figure: plain(exponent.n, exponent.standard, "exponent", exponent.dof),
        quantity: "number",
      },
      {
        ...base,
        name: "flowAtSun",
        figure: plain(exponent.at, exponent.at * exponent.atShare, "at", exponent.dof),
        quantity: "massFlow",
      },
      { ...base, name: "startSun", figure: plain(exponent.least, 0, "start", Infinity), quantity: "irradiance" },
    );
  return out;
}

const massOf = (own: LaneMinutes, i: number): number => Math.abs(own.mass[i]);

/** ln ṁ = ln ṁ800 + n·ln(G/800), ten minutes each. */
function followed(on: readonly Minute[]) {
  const blocks: { sun: number; mass: number; block: number }[] = [];
  for (let i = 0; i + 10 <= on.length; i += 10) {
    const part = on.slice(i, i + 10);
    blocks.push({
      sun: part.reduce((s, m) => s + m.sun, 0) / 10,
      mass: part.reduce((s, m) => s + m.mass, 0) / 10,
      block: Math.floor(Date.parse(part[0].day) / 86_400_000),
    });
  }
  const suns = blocks.map((b) => b.sun);
  if (blocks.length < 12 || Math.max(...suns) < 1.5 * Math.min(...suns)) return null;
  const fit = robustFit(
    {
      x: blocks.map((b) => [1, Math.log(b.sun / REFERENCE_WM2)]),
      y: blocks.map((b) => Math.log(Math.max(1e-9, b.mass))),
      block: blocks.map((b) => b.block),
    },
    LAG_MIN / 10,
  );
  return (
    fit && {
      n: fit.beta[1],
      standard: fit.standard[1],
      at: Math.exp(fit.beta[0]),
      atShare: fit.standard[0],
      least: Math.min(...suns),
      dof: fit.dof,
    }
  );
}
