import type { Field } from "./parts";

const { abs, max } = Math;

/** Box after a while with so much conductance to what it heats. @param pull W/K, 0 without flow */
export function boxAfter(
  field: Field,
  boxC: number,
  light: number,
  outsideC: number,
  pull: number,
  sinkC: number,
  seconds: number,
): number {
  const { areaM2, curve, capacityJK } = field;
  const stored = capacityJK / seconds;
  let next = boxC;
  // The loss coefficient grows with temperature: twice over, so that a jump to stagnation is met.
  for (let k = 0; k < 2; k++) {
    const u = areaM2 * max(0.05, curve.a1 + curve.a2 * abs(next - outsideC));
    next = (stored * boxC + areaM2 * curve.eta0 * light + u * outsideC + pull * sinkC) / max(1e-9, stored + u + pull);
  }
  return next;
}

/** Conductance from the boxes' mean temperature to what the stream returns to, W/K: 2·ṁc·ε/(2 − ε). */
export const pullOf = (flowWK: number, effectiveness: number): number =>
  (2 * flowWK * effectiveness) / (2 - effectiveness);
