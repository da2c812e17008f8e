import type { Fluid } from "../fluids/fluid";
import type { Curve } from "../analysis/curve";
import { unseenBend } from "../analysis/alongCurve";
import type { EfficiencyPoint, HeatPoint } from "../analysis/points";
import { netLongWave, type Bare } from "../analysis/longWave";
import type { OperatingPoint } from "../analysis/setup";
import { combine, combineScaled, withSource, type Terms, type Uncertain } from "../uncertainty/uncertain";

import { moveDoubt, movedCurve, usualSpecificHeat, type FlowMove } from "./flowWay";

/** Heat per area of one lane in one window: freed of storage and moved along its curve to the operating point, or as it was. */
export interface LaneHeat {
  point: HeatPoint;
  heat: Uncertain;
}

/** A lane as it is compared; at an operating point it needs a curve. */
export interface ComparedLane {
  lane: string;
  variant: string;
  fluid: Fluid;
  /** Area heat is divided by over the gross area; left out: they are the same. */
  areaShare?: number;
  /** Operating flow per gross area, kg/(s·m²), where lanes are not all compared at that of the operating point. */
  flowPerArea?: number;
  /** From the tested flow to the operating one, by the drawing. */
  move?: FlowMove | null;
  /** Without a cover, under the sky it was tested under. */
  bare?: Bare | null;
}

/** A lane's operating point: its flow per the area its curve is for; the net irradiance of a bare absorber under a clear sky. */
export const pointOf = (
  { areaShare = 1, flowPerArea, bare }: Pick<ComparedLane, "areaShare" | "flowPerArea" | "bare">,
  op: OperatingPoint,
): OperatingPoint => ({
  ...op,
  irradianceWm2: bare ? Math.max(1, op.irradianceWm2 + netLongWave(bare, op.ambientC).value) : op.irradianceWm2,
  flowPerArea: (flowPerArea ?? op.flowPerArea) / areaShare,
});

export interface CompareInput {
  lanes: readonly (ComparedLane & { curve: Curve })[];
  points: readonly EfficiencyPoint[];
  operatingPoint: OperatingPoint;
  basis: "mean" | "inlet";
  /** Smallest difference that matters, W/m². */
  smallestDifference: number;
  /** What one station may differ from another, share of heat, standard. */
  stationShare: number;
  /** What days do to one box, share of heat, standard, for lanes that were tested one after another. */
  weatherShare: number;
  /** Chance of a false find this look may cost, both sides; left out: 0.05. */
  level?: number;
}

/** Reduced temperature difference of a curve at the operating point: with the mean-fluid basis the rise follows from the heat. */
export function operatingX(curve: Curve, fluid: Fluid, op: OperatingPoint, basis: "mean" | "inlet"): number {
  const inletX = (op.inletC - op.ambientC) / op.irradianceWm2;
  if (basis === "inlet") return inletX;
  const cp = usualSpecificHeat(fluid, op.inletC);
  // x = inletX + q/(2·ṁ″·cp·G) with q = G(η0 − a1·x − a2·G·x²) is a quadratic in x; this form of its root holds for a2 = 0 and any flow.
  const G = op.irradianceWm2;
  const perEfficiency = 1 / (2 * op.flowPerArea * cp);
  const [eta0, a1, a2] = [curve.eta0.value, curve.a1.value, curve.a2?.value ?? 0];
  if (eta0 - a1 * inletX - a2 * G * inletX * inletX <= 0) return inletX;
  const [a, b, c] = [a2 * G * perEfficiency, 1 + a1 * perEfficiency, inletX + perEfficiency * eta0];
  return (2 * c) / (b + Math.sqrt(Math.max(0, b * b + 4 * a * c)));
}

/** What lanes gave side by side, at whatever condition it was. */
export interface TestedInput {
  lanes: readonly ComparedLane[];
  /** Windows or hours; lanes of one span hold the same `run` and `window`. */
  heats: readonly HeatPoint[];
  /** As in {@link CompareInput}. */
  smallestDifference: number;
  stationShare: number;
  level?: number;
}

/** Lanes with the heats they are compared by. */
export interface Compared {
  lanes: readonly ComparedLane[];
  heats: ReadonlyMap<string, LaneHeat[]>;
  /** Spans had different sun: each is taken at its share of its own level, so that the sun's changes are no scatter. */
  relative: boolean;
  /** Slopes of a curve already fitted to the very scatter that is left: each takes a degree of freedom. */
  slopes: number;
  smallestDifference: number;
  level: number;
  /** As in {@link CompareInput}; null where heats are as they were, under whatever sun there was. */
  weatherShare: number | null;
}

/** One in twenty, where a single look was planned or none. */
export const LEVEL = 0.05;

const stationError = (value: number, point: HeatPoint, share: number): Uncertain =>
  withSource(0, share * Math.abs(value), {
    kind: "station",
    station: point.station,
    owner: String(point.station),
    dof: Infinity,
  });

export const atPoint = (input: CompareInput): Compared => ({
  lanes: input.lanes,
  heats: laneHeats(input),
  relative: false,
  slopes: Math.max(0, ...input.lanes.map(({ curve }) => 1 + (curve.a2 ? 1 : 0) + (curve.a5 ? 1 : 0))),
  smallestDifference: input.smallestDifference,
  level: input.level ?? LEVEL,
  weatherShare: input.weatherShare,
});

export function asTested(input: TestedInput): Compared {
  const heats = new Map(
    input.lanes.map(({ lane }) => [
      lane,
      input.heats
        .filter((p) => p.lane === lane)
        .map((point): LaneHeat => {
          const { heat, area } = point;
          const perArea = heat.value / area.value;
          return {
            point,
            heat: combine(perArea, [
              [1 / area.value, heat],
              [-heat.value / area.value ** 2, area],
              [1, stationError(perArea, point, input.stationShare)],
            ]),
          };
        }),
    ]),
  );
  return {
    lanes: input.lanes,
    heats,
    relative: true,
    slopes: 0,
    smallestDifference: input.smallestDifference,
    level: input.level ?? LEVEL,
    weatherShare: null,
  };
}

/** Heat of every lane in every window at the operating point. */
export function laneHeats(input: CompareInput): Map<string, LaneHeat[]> {
  return new Map(
    input.lanes.map((own) => [
      own.lane,
      input.points.filter((p) => p.lane === own.lane).map((point) => ({ point, heat: heatAtPoint(own, point, input) })),
    ]),
  );
}

/** A window freed of its own condition (η0 of itself), moved to the operating flow, and put where the operating point is. */
function heatAtPoint(own: CompareInput["lanes"][number], point: EfficiencyPoint, input: CompareInput): Uncertain {
  const op = pointOf(own, input.operatingPoint);
  const { curve, fluid, move = null } = own;
  const there = movedCurve(curve, move);
  const xOp = operatingX(there, fluid, op, input.basis);
  const [r0, r1] = [move?.eta0 ?? 1, move?.a1 ?? 1];
  const x = point.reducedTemperature.value;
  const G = point.irradiance.value;
  const missing = 1 - point.modifier.value;
  const stored = point.drift / G;
  const [eta0, a1, a2, a5] = [curve.eta0, curve.a1, curve.a2, curve.a5].map((c) => c?.value ?? 0);
  const gust = curve.windMs === undefined || Number.isNaN(point.wind) ? 0 : point.wind - curve.windMs;
  const [windLoss, windLight] = [curve.windLoss?.value ?? 0, curve.windLight?.value ?? 0];
  const level =
    point.efficiency.value +
    eta0 * missing +
    (a1 + windLoss * gust) * x +
    a2 * G * x * x +
    a5 * stored +
    windLight * gust;
  const bendThere = op.irradianceWm2 * xOp * xOp;
  const eta = r0 * level - r1 * a1 * xOp - a2 * bendThere;
  const value = eta * op.irradianceWm2;
  const terms: Terms = [
    [r0, point.efficiency],
    [r0 * missing, curve.eta0],
    [-r0 * eta0, point.modifier],
    [r0 * (a1 + 2 * a2 * G * x), point.reducedTemperature],
    [r0 * x - r1 * xOp, curve.a1],
    ...(curve.a2 ? [[r0 * G * x * x - bendThere, curve.a2] as const] : []),
    ...(curve.a5 ? [[r0 * stored, curve.a5] as const] : []),
    ...(curve.windLoss ? [[r0 * gust * x, curve.windLoss] as const] : []),
    ...(curve.windLight ? [[r0 * gust, curve.windLight] as const] : []),
    [1, unseenBend(curve, xOp, op.irradianceWm2)],
    ...(move ? [[1, moveDoubt(move, eta0)] as const] : []),
  ];
  // The doubt of the sky is one at the test and where the box will stand.
  const sky = own.bare ? [[eta, netLongWave(own.bare, op.ambientC)] as const] : [];
  return combineScaled(value, op.irradianceWm2, terms, [...sky, [1, stationError(value, point, input.stationShare)]]);
}
