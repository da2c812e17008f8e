const { cbrt, exp, log, min } = Math;

/** Of the panel's best power over what the fan takes at full speed: below, it stands still. */
const STARTS = 0.1;
/** Current and voltage of best power over those of the shorted and of the open panel: crystalline silicon (typical values). */
const [CURRENT, VOLTAGE] = [0.93, 0.8];
/** The panel's curve through its three points (Rauschenbach 1980): I/Isc = 1 − c1·(exp(V/(c2·Voc)) − 1). */
const C2 = (VOLTAGE - 1) / log(1 - CURRENT);
const C1 = (1 - CURRENT) * exp(-VOLTAGE / C2);

/**
 * Speed of a fan on its own panel, as a share of full speed, 0 to 1.
 *
 * Straight on the panel, a direct-current motor turns where the panel's curve meets its own: voltage as the speed, current as
 * the torque, which follows the speed squared (fan laws). In half the light the panel can give half the current, so the fan slows by
 * nearly its root and the panel is not at its best. Behind a converter that keeps it there the power follows the light, and the
 * speed its cube root. Nothing turns below a tenth of the power.
 *
 * @param share what the panel can give at best in this light over what the fan takes at full speed
 * @example panelSpeed(0.5, false) // 0.73
 * @example panelSpeed(0.5, true) // 0.794
 */
export function panelSpeed(share: number, tracked: boolean): number {
  if (!(share >= STARTS)) return 0;
  if (share >= 1) return 1;
  if (tracked) return min(1, cbrt(share));
  const spare = (speed: number) => (share / CURRENT) * (1 - C1 * (exp((VOLTAGE * speed) / C2) - 1)) - speed * speed;
  let [low, high] = [0, 1];
  for (let i = 0; i < 40; i++) {
    const middle = (low + high) / 2;
    if (spare(middle) > 0) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
