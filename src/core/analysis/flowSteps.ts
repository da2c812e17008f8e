import { combine, type Uncertain } from "../uncertainty/uncertain";
import { flowPerGrossArea, type EfficiencyPoint } from "./points";

/** One of the flows a lane was run at: figures of unlike flows are no one curve's points. */
export interface FlowStep {
  lane: string;
  /** kg/(s·m²), per gross area. */
  flowPerArea: number;
  /** Mean over its windows, and where they lie. */
  efficiency: Uncertain;
  reducedTemperature: number;
  windows: number;
  days: number;
  /** The one most windows were taken at: curve and verdict are of it. */
  main: boolean;
}

/** Neighbours in flow this far apart, as a ratio, begin another step; a fan that sags or a meter's noise stays below. */
const APART = 1.15;
/** A step has so many windows, and no step reaches as far from its end to its other as to the next. */
const FEWEST = 3;

/**
 * Flows that a lane was stepped through. A flow that follows the sun, or drifts, has no gap between its windows and is one.
 * @returns the windows of each lane's main flow, in the order they came, and every step of lanes that were stepped
 */
export function flowSteps(points: readonly EfficiencyPoint[]): { main: EfficiencyPoint[]; steps: FlowStep[] } {
  const steps: FlowStep[] = [];
  const other = new Set<EfficiencyPoint>();
  for (const lane of [...new Set(points.map((p) => p.lane))].sort()) {
    const groups = groupsOf(points.filter((p) => p.lane === lane));
    if (groups.length < 2) continue;
    const most = groups.reduce((a, b) => (b.length > a.length ? b : a));
    for (const group of groups) {
      steps.push(stepOf(lane, group, group === most));
      if (group !== most) group.forEach((p) => other.add(p));
    }
  }
  return { main: points.filter((p) => !other.has(p)), steps };
}

function groupsOf(own: readonly EfficiencyPoint[]): EfficiencyPoint[][] {
  const sorted = own.filter((p) => flowPerGrossArea(p) > 0).sort((a, b) => flowPerGrossArea(a) - flowPerGrossArea(b));
  const groups: EfficiencyPoint[][] = [];
  sorted.forEach((p, i) => {
    if (i > 0 && flowPerGrossArea(p) / flowPerGrossArea(sorted[i - 1]) < APART) groups[groups.length - 1].push(p);
    else groups.push([p]);
  });
  return groups.every((g) => g.length >= FEWEST) ? groups : [];
}

function stepOf(lane: string, group: readonly EfficiencyPoint[], main: boolean): FlowStep {
  const n = group.length;
  const mean = (of: (p: EfficiencyPoint) => number) => group.reduce((s, p) => s + of(p), 0) / n;
  return {
    lane,
    flowPerArea: mean(flowPerGrossArea),
    efficiency: combine(
      mean((p) => p.efficiency.value),
      group.map((p) => [1 / n, p.efficiency] as const),
    ),
    reducedTemperature: mean((p) => p.reducedTemperature.value),
    windows: n,
    days: new Set(group.map((p) => p.day)).size,
    main,
  };
}
