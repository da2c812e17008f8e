import type { Operating, Prediction } from "./prediction";

export const REASONS = ["light", "transfer", "loss", "aperture"] as const;
export type Reason = (typeof REASONS)[number];

/**
 * Why one variant gives less heat than another, by putting the other's light taken in, heat transfer, loss and aperture in turn into
 * Q = A·F′·[(τα)·G − U_L·(Tm − Ta)] (DB 6.6.1): what each swap alone would gain, W, largest first. The swaps do not add up exactly: the factors multiply.
 *
 * @returns empty when either has no such chain
 */
export function whyLess(less: Prediction, more: Prediction, op: Operating): { reason: Reason; gainW: number }[] {
  const read = (p: Prediction) => {
    const { efficiencyFactor: F, transmittanceAbsorptance: t, collectorLoss: U, heat: Q, inlet, outlet } = p.figures;
    if (!F || !t || !U || !Q || !inlet || !outlet) return null;
    const overMean = (inlet.value + outlet.value) / 2 - op.ambientC;
    const possible = t.value * op.irradianceWm2 - U.value * overMean;
    return { F: F.value, t: t.value, U: U.value, overMean, area: Q.value / (F.value * possible) };
  };
  const [a, b] = [read(less), read(more)];
  if (!a || !b) return [];
  const heat = (x: typeof a) => x.area * x.F * (x.t * op.irradianceWm2 - x.U * x.overMean);
  const now = heat(a);
  const swaps: [Reason, typeof a][] = [
    ["light", { ...a, t: b.t }],
    ["transfer", { ...a, F: b.F }],
    ["loss", { ...a, U: b.U }],
    ["aperture", { ...a, area: b.area }],
  ];
  return swaps
    .map(([reason, x]) => ({ reason, gainW: heat(x) - now }))
    .filter((s) => s.gainW > 0.01 * Math.abs(now))
    .sort((x, y) => y.gainW - x.gainW);
}
