import { panelSpeed } from "./panel";
export interface FanPoint {
  flowM3PerS: number;
  pressurePa: number;
}

/** A fan or pump: its curve at full speed, and what it takes from the mains there. */
export interface Fan {
  /** By rising flow with falling pressure, from still to free delivery. Two points are its rating. */
  points: FanPoint[];
  powerW: number;
}

/** Pressure a fan raises at a flow, Pa, straight between its points, 0 beyond free delivery. @param speed share of full speed; pressure goes with its square, flow with it (fan laws) */
export function fanPressure({ points }: Fan, flowM3PerS: number, speed = 1): number {
  const v = speed > 0 ? flowM3PerS / speed : Infinity;
  if (v <= points[0].flowM3PerS) return points[0].pressurePa * speed ** 2;
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1], points[i]];
    if (v <= b.flowM3PerS)
      return (
        (a.pressurePa + ((b.pressurePa - a.pressurePa) * (v - a.flowM3PerS)) / (b.flowM3PerS - a.flowM3PerS)) *
        speed ** 2
      );
  }
  return 0;
}

/**
 * Flow, m³/s, at which a fan meets any path whose loss grows with flow. @param loss pressure loss, Pa, at a volume flow, m³/s
 * @returns 0 when the fan cannot move the fluid at all
 */
export function workingFlow(fan: Fan, loss: (flowM3PerS: number) => number, speed = 1): number {
  let [low, high] = [0, fan.points[fan.points.length - 1].flowM3PerS * speed];
  for (let i = 0; i < 50; i++) {
    const middle = (low + high) / 2;
    if (fanPressure(fan, middle, speed) > loss(middle)) low = middle;
    else high = middle;
  }
  return low;
}

/**
 * Speed of a fan on its own panel, as a share of full speed ({@link panelSpeed}).
 *
 * @param panelW at 1,000 W/m² @param tracked behind a converter that keeps the panel at its best
 * @example photovoltaicSpeed({ points: [], powerW: 20 }, { panelW: 20 }, 500) // 0.73
 */
export const photovoltaicSpeed = (
  { powerW }: Fan,
  { panelW, tracked = false }: { panelW: number; tracked?: boolean },
  irradianceWm2: number,
): number => panelSpeed((panelW * irradianceWm2) / 1000 / powerW, tracked);

/** Electric power, W, at a speed (cube law, fan laws). */
export const fanPower = ({ powerW }: Fan, speed = 1): number => powerW * speed ** 3;
