import { coverageFactor } from "../uncertainty/coverage";

/** Input–output line of whole days: heat per area = slope·irradiation − loss, both J/m². */
export interface DailyLine {
  lane: string;
  slope: number;
  /** Half-width at 95 %, from the scatter of days. */
  slopeExpanded: number;
  loss: number;
  lossExpanded: number;
  days: number;
}

/** Fewer days leave no scatter to judge a line by. */
const FEWEST = 4;
/** Irradiation must vary by this share of its mean, or slope and loss are one figure. */
const SPREAD = 0.15;

/**
 * Straight line of daily heat on daily irradiation, by least squares (the input–output diagram of ISO 9459-2 without its
 * temperature term). null where days are too few or too alike.
 *
 * @param days one lane's days: irradiation and heat per area, J/m²
 */
export function dailyLine(lane: string, days: readonly { irradiation: number; heat: number }[]): DailyLine | null {
  const n = days.length;
  if (n < FEWEST) return null;
  const meanX = days.reduce((s, d) => s + d.irradiation, 0) / n;
  const meanY = days.reduce((s, d) => s + d.heat, 0) / n;
  const sxx = days.reduce((s, d) => s + (d.irradiation - meanX) ** 2, 0);
  const range = Math.max(...days.map((d) => d.irradiation)) - Math.min(...days.map((d) => d.irradiation));
  if (!(range > SPREAD * meanX)) return null;
  const slope = days.reduce((s, d) => s + (d.irradiation - meanX) * (d.heat - meanY), 0) / sxx;
  const intercept = meanY - slope * meanX;
  const residual = days.reduce((s, d) => s + (d.heat - intercept - slope * d.irradiation) ** 2, 0) / (n - 2);
  const k = coverageFactor(n - 2);
  return {
    lane,
    slope,
    slopeExpanded: k * Math.sqrt(residual / sxx),
    loss: -intercept,
    lossExpanded: k * Math.sqrt(residual * (1 / n + meanX ** 2 / sxx)),
    days: n,
  };
}
