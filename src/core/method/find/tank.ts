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
import { minuteMs, type MethodSpan } from "./span";

/** Ten minutes each: a tank warms by tenths. */
const BLOCK = 10;
const DARK = 5;
const LEAST_NIGHT = 3 * 6;
const LEAST_DAY = 3 * 6;
/** Water at the tank's usual warmth, J/(kg·K). */
const CP = specificHeat({ kind: "water" }, { temperatureC: 35, pressurePa: 101325, relativeHumidity: 0 });

/**
 * A loop that heats its tank, without a flow meter: m·cp·dT/dt = A·[η0·G − U(T − T_a)] − UA_tank(T − T_a). The nights, when nothing
 * circulates, tell the tank's own loss; the days then tell light and box. Fed back into itself the inlet rises all day: a ramp.
 */
export const tank: Finder = (input) => eachLane(input, (lane) => tankOf(input, lane));

function tankOf({ spans }: FinderInput, { lane, tank: stated }: MethodLane): Finding[] | GapReason {
  if (!spans.some((s) => s.other("tank", lane))) return "noTank";
  if (!stated) return "noTankMass";
  const rows = spans.flatMap((s) => blocksOf(s, lane, stated.massKg));
  const night = rows.filter((r) => r.sun < DARK);
  const day = rows.filter((r) => r.sun > 100);
  if (day.length < LEAST_DAY) return "fewHours";
  const areaM2 = spans.flatMap((s) => s.setup.lanes).find((l) => l.lane === lane)!.areaM2;
  const cooling = night.length >= LEAST_NIGHT ? fitOf(night, (r) => [-r.over]) : null;
  const own = cooling?.beta[0] ?? 0;
  const fit = fitOf(
    day.map((r) => ({ ...r, power: r.power + own * r.over })),
    (r) => [r.sun, -r.over],
  );
  if (!fit) return "alike";
  const days = new Set(day.map((r) => r.day)).size;
  const finding = findingOf(lane, { stated, sunSensor: spans[0].setup.sunSensor, hours: day.length / 6, days });
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
  }: {
    stated: NonNullable<MethodLane["tank"]>;
    sunSensor: MethodSpan["setup"]["sunSensor"];
    hours: number;
    days: number;
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
      // Light is the sensor's; losses know nothing of it.
      [name === "eta0" ? -value : 0, sun],
    ]),
    quantity,
    hours,
    days,
  });
}

interface Block {
  day: string;
  block: number;
  /** W into the tank. */
  power: number;
  sun: number;
  over: number;
}

const fitOf = (rows: readonly Block[], x: (r: Block) => number[]) =>
  robustFit({ x: rows.map(x), y: rows.map((r) => r.power), block: rows.map((r) => r.block) } satisfies Rows, 6);

function blocksOf(span: MethodSpan, lane: string, massKg: number): Block[] {
  const temperature = span.other("tank", lane);
  const { irradiance, ambient, stepMs, count } = span.minutes;
  if (!temperature || !irradiance || !ambient) return [];
  const out: Block[] = [];
  for (let i = 0; i + BLOCK < count; i += BLOCK) {
    const mean = (a: Float64Array) => a.subarray(i, i + BLOCK).reduce((s, v) => s + v, 0) / BLOCK;
    const power = (massKg * CP * (temperature[i + BLOCK] - temperature[i])) / ((BLOCK * stepMs) / 1000);
    const row = { power, sun: mean(irradiance), over: mean(temperature) - mean(ambient) };
    // Water drawn or filled in is no heat of the sun: it jumps.
    if (Number.isNaN(row.power + row.sun + row.over) || Math.abs(temperature[i + BLOCK] - temperature[i]) > 8) continue;
    const dayNumber = Math.floor(minuteMs(span, i) / 86_400_000);
    out.push({ ...row, day: String(dayNumber), block: dayNumber });
  }
  return out;
}
