import { panelSpeed } from "../flow/panel";

/** A fan's own panel: the light at which it gives what the fan takes at full speed, and below which nothing turns. */
export interface SunPanel {
  fullWm2: number;
  startWm2: number;
  /** Behind a converter that keeps the panel at its best; else straight on it. */
  tracked: boolean;
}

/** Speed of a fan on its own panel as a share of full speed: nothing below its starting light, then as the panel drives it. */
export const photovoltaicShare = ({ fullWm2, startWm2, tracked }: SunPanel, lightWm2: number): number =>
  lightWm2 < startWm2 ? 0 : panelSpeed(lightWm2 / fullWm2, tracked);
