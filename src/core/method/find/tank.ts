import { specificHeat } from "../../fluids/fluid";
import { combine, fromLimit, withSource } from "../../uncertainty/uncertain";
import {
  eachLane,
  type Finder,
  type FinderInput,
  type Finding,
  type FindingName,
  type GapReason,
  type MethodLane,
} from "./finding";
import { robustFit, type Rows } from "./robust";
import { lightOf } from "./dynamicRows";
import { minuteMs, type MethodSpan } from "./span";

/** Ten minutes each: a tank warms by tenths. */
const BLOCK = 10;
const DARK = 5;
const LEAST_NIGHT = 3 * 6;
const LEAST_DAY = 3 * 6;
/** Latent heat of fusion of water, J/kg (CRC Handbook, 0 °C). */
const FUSION = 333_600;
/** While there is ice the water stays below this, °C, and its warmth counts nothing. */
const ICE_C = 1.5;
const MELTED_C = 4;
/** What a box holds beside its water, which warms with the tank, J/(m²·K), and its ± (typical values: boards to a bare plate). */
export const BOX_HEAT = { value: 8000, limit: 5000 };
/** Water at the tank's usual warmth, J/(kg·K). */
export const TANK_CP = specificHeat({ kind: "water" }, { temperatureC: 35, pressurePa: 101325, relativeHumidity: 0 });

/**
 * A loop that heats its tank, without a flow meter: (m·cp + A·c)·dT/dt = A·[η0·K·G − U(T − T_a)] − UA_tank(T − T_a), with the light as it
 * falls in (K) and what the box itself holds (c). The nights, when nothing
 * circulates, tell the tank's own loss; the days then tell light and box. Fed back into itself the inlet rises all day: a ramp.
 */
export const tank: Finder = (input) => eachLane(input, (lane) => tankOf(input, lane));

function tankOf({ spans }: FinderInput, { lane, tank: stated }: MethodLane): Finding[] | GapReason {
  if (!spans.some((s) => s.other("tank", lane))) return "noTank";
  if (!stated) return "noTankMass";
  const all = spans.flatMap((s) => blocksOf(s, lane, stated.massKg));
  const areaM2 = spans.flatMap((s) => s.setup.lanes).find((l) => l.lane === lane)!.areaM2;
  const rows = stated.iceKg ? all.filter((r) => r.tankC > ICE_C) : all;
  const night = rows.filter((r) => r.sun < DARK);
  const day = rows.filter((r) => r.sun > 100);
  if (day.length < LEAST_DAY && !stated.iceKg) return "fewHours";
  const cooling = night.length >= LEAST_NIGHT ? fitOf(night, (r) => [-r.over]) : null;
  const own = cooling?.beta[0] ?? 0;
  if (stated.iceKg) return melted(all, { lane, areaM2, ownWK: own, stated, sunSensor: spans[0].setup.sunSensor });
  // By day what runs through it warms the box as well.
  const box = BOX_HEAT.value * areaM2;
  const withBox = 1 + box / (stated.massKg * TANK_CP);
  const fit = fitOf(
    day.map((r) => ({ ...r, power: r.power * withBox + own * r.over })),
    (r) => [r.light, -r.over],
  );
  if (!fit) return "alike";
  const days = new Set(day.map((r) => r.day)).size;
  const boxShare = (fromLimit(BOX_HEAT.limit) * areaM2) / (stated.massKg * TANK_CP + box);
  const finding = findingOf(lane, {
    boxShare,
    stated,
    sunSensor: spans[0].setup.sunSensor,
    hours: day.length / 6,
    days,
  });
  return [
    finding("eta0", fit.beta[0] / areaM2, fit.standard[0] / areaM2, fit.dof, "fraction"),
    finding(
      "a1",
      fit.beta[1] / areaM2,
      Math.hypot(fit.standard[1], cooling?.standard[0] ?? 0) / areaM2,
      fit.dof,
      "lossCoefficient",
    ),
    ...(cooling ? [finding("tankLoss", cooling.beta[0], cooling.standard[0], cooling.dof, "conductance")] : []),
  ];
}

/** Figures of a tank, each with what its water and the light are stated to. */
function findingOf(
  lane: string,
  {
    stated,
    sunSensor,
    hours,
    days,
    boxShare = 0,
  }: {
    stated: NonNullable<MethodLane["tank"]>;
    sunSensor: MethodSpan["setup"]["sunSensor"];
    hours: number;
    days: number;
    /** What is not known of the box's own heat, as a share of all. */
    boxShare?: number;
  },
) {
  const sun = withSource(0, fromLimit(sunSensor.limitShare), {
    kind: "sunSensor",
    sensor: sunSensor.key,
    owner: "",
    dof: Infinity,
  });
  return (name: FindingName, value: number, standard: number, dof: number, quantity: Finding["quantity"]): Finding => ({
    name,
    lane,
    figure: combine(value, [
      [
        1,
        withSource(0, standard, { kind: "methodScatter", method: "tank", figure: `${lane}/${name}`, owner: lane, dof }),
      ],
      // All heat is counted by the tank's water.
      [
        value,
        withSource(0, fromLimit(stated.limitShare), {
          kind: "area",
          specimen: `${lane} tank`,
          owner: lane,
          dof: Infinity,
        }),
      ],
      [
        name === "eta0" || name === "a1" ? value : 0,
        withSource(0, boxShare, { kind: "heatHeld", owner: lane, dof: Infinity }),
      ],
      // Light is the sensor's; losses know nothing of it.
      [name === "eta0" || name === "meltEfficiency" ? -value : 0, sun],
    ]),
    quantity,
    hours,
    days,
  });
}

/**
 * An ice bank: heat is counted by the ice that went and by the water that warmed, from the first reading to the last, day by day; what came in through the
 * tank's own wall, where nights told it, is taken off.
 */
function melted(
  rows: readonly Block[],
  {
    lane,
    areaM2,
    ownWK,
    stated,
    sunSensor,
  }: {
    lane: string;
    areaM2: number;
    ownWK: number;
    stated: NonNullable<MethodLane["tank"]>;
    sunSensor: MethodSpan["setup"]["sunSensor"];
  },
): Finding[] | GapReason {
  const [first, last] = [rows[0], rows.at(-1)];
  if (!first || !last || first.tankC > ICE_C || last.tankC < MELTED_C) return "notMelted";
  const seconds = BLOCK * 60;
  const heat = FUSION * (stated.iceKg ?? 0) + stated.massKg * TANK_CP * (last.tankC - first.tankC);
  const throughWall = rows.reduce((s, r) => s - ownWK * r.over * seconds, 0);
  const light = rows.reduce((s, r) => s + r.sun * areaM2 * seconds, 0);
  const sunny = rows.filter((r) => r.sun > 100);
  const days = new Set(sunny.map((r) => r.day)).size;
  const finding = findingOf(lane, { stated, sunSensor, hours: sunny.length / 6, days });
  return [
    finding("meltHeat", heat - throughWall, 0, Infinity, "energy"),
    ...(light > 0 ? [finding("meltEfficiency", (heat - throughWall) / light, 0, Infinity, "fraction")] : []),
  ];
}

interface Block {
  day: string;
  block: number;
  /** W into the tank. */
  power: number;
  sun: number;
  /** K·G: light as it falls in, W/m². */
  light: number;
  over: number;
  tankC: number;
}

const fitOf = (rows: readonly Block[], x: (r: Block) => number[]) =>
  robustFit({ x: rows.map(x), y: rows.map((r) => r.power), block: rows.map((r) => r.block) } satisfies Rows, 6);

function blocksOf(span: MethodSpan, lane: string, massKg: number): Block[] {
  const temperature = span.other("tank", lane);
  const { irradiance, ambient, stepMs, count } = span.minutes;
  if (!temperature || !irradiance || !ambient) return [];
  const out: Block[] = [];
  const own = span.setup.lanes.find((l) => l.lane === lane)!;
  const light = lightOf(span.setup, own, span, irradiance).counted;
  for (let i = 0; i + BLOCK < count; i += BLOCK) {
    const mean = (a: Float64Array) => a.subarray(i, i + BLOCK).reduce((s, v) => s + v, 0) / BLOCK;
    const power = (massKg * TANK_CP * (temperature[i + BLOCK] - temperature[i])) / ((BLOCK * stepMs) / 1000);
    const row = {
      power,
      sun: mean(irradiance),
      light: mean(light),
      over: mean(temperature) - mean(ambient),
      tankC: mean(temperature),
    };
    // Water drawn or filled in is no heat of the sun: it jumps.
    if (Number.isNaN(row.power + row.sun + row.over) || Math.abs(temperature[i + BLOCK] - temperature[i]) > 8) continue;
    const dayNumber = Math.floor(minuteMs(span, i) / 86_400_000);
    out.push({ ...row, day: String(dayNumber), block: dayNumber });
  }
  return out;
}
