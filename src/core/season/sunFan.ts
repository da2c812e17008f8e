const { cbrt, min } = Math;

/** Speed of a fan on its own panel as a share of full speed: nothing below its starting light, then with the cube root of the light (fan laws). */
export const photovoltaicShare = (panel: { fullWm2: number; startWm2: number }, lightWm2: number): number =>
  lightWm2 < panel.startWm2 ? 0 : min(1, cbrt(lightWm2 / panel.fullWm2));
