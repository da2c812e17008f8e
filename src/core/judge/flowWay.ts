import { specificHeat, type Fluid } from "../fluids/fluid";
import type { Curve } from "../analysis/curve";
import type { OperatingPoint } from "../analysis/setup";
import { scale, withSource, type Uncertain } from "../uncertainty/uncertain";
import type { FlowPower } from "./expected";

/** At which flows lanes are compared: one flow per gross area, one temperature rise, or each with its own fan. */
export const FLOW_WAYS = ["perArea", "rise", "fan"] as const;
export type FlowWay = (typeof FLOW_WAYS)[number];

/** From the tested to the operating flow. */
export interface FlowMove {
  /** η0 and a1 there over those tested. */
  eta0: number;
  a1: number;
  /** Standard doubt of the first, share of η0. */
  doubt: number;
}

/** Half of a predicted move is its doubt (docs/decisions/0011). */
const DOUBT = 0.5;

/** @param ratio operating over tested flow */
export const flowMove = (power: FlowPower | undefined, ratio: number): FlowMove | null => {
  if (!power || !(ratio > 0) || Math.abs(ratio - 1) < 1e-6) return null;
  const eta0 = ratio ** power.eta0;
  return { eta0, a1: ratio ** power.a1, doubt: DOUBT * Math.abs(eta0 - 1) };
};

/** What the doubt of a move does to an efficiency of about η0: the transfer from wall to stream, which all drawings share. */
export const moveDoubt = (move: FlowMove, eta0: number): Uncertain =>
  withSource(0, move.doubt * Math.abs(eta0), { kind: "streamTransfer", owner: "", dof: Infinity });

/** The curve as it should be at another flow. */
export const movedCurve = (curve: Curve, move: FlowMove | null): Curve =>
  move ? { ...curve, eta0: scale(curve.eta0, move.eta0), a1: scale(curve.a1, move.a1) } : curve;

/** cp at the mean of a usual rise, J/(kg·K): air leaves a box some 20 K warmer than it came, a liquid only a few. */
export const usualSpecificHeat = (fluid: Fluid, inletC: number): number =>
  specificHeat(fluid, {
    temperatureC: inletC + (fluid.kind === "air" ? 10 : 0),
    pressurePa: 90000,
    relativeHumidity: 0.3,
  });

/** What a lane needs for its operating flow to be found. All flows per gross area, kg/(s·m²). */
export interface FlowLane {
  lane: string;
  fluid: Fluid;
  testedFlow: number;
  ownFlow: number | null;
  /** Heat per gross area at a flow, W/m². */
  heatAt: (flowPerArea: number) => number;
}

const ROUNDS = 60;

/** The flow of each lane at the operating point. */
export function operatingFlows(lanes: readonly FlowLane[], op: OperatingPoint, way: FlowWay): Map<string, number> {
  if (way === "perArea") return new Map(lanes.map((l) => [l.lane, op.flowPerArea]));
  if (way === "fan") return new Map(lanes.map((l) => [l.lane, l.ownFlow ?? l.testedFlow]));
  const capacity = (l: FlowLane) => usualSpecificHeat(l.fluid, op.inletC);
  // The rise that all have on average at the flow asked for.
  const rises = lanes.map((l) => l.heatAt(op.flowPerArea) / (op.flowPerArea * capacity(l)));
  const rise = rises.reduce((a, b) => a + b, 0) / rises.length;
  return new Map(
    lanes.map((l) => {
      let flow = op.flowPerArea;
      for (let i = 0; i < ROUNDS && rise > 0; i++)
        flow = Math.sqrt(flow * Math.max(1e-6, l.heatAt(flow) / (rise * capacity(l))));
      return [l.lane, flow];
    }),
  );
}
