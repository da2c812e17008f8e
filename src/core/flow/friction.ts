const { log10, max, min } = Math;

/** Flow in a duct is laminar below the first Reynolds number, turbulent all the time above the second, between them now this, now that. */
export const TRANSITION = [2300, 4000] as const;

/** Share of the time a duct's flow is turbulent, 0 to 1, straight between the ends of the transition (intermittency, Gnielinski 2013). */
const turbulentShare = (reynolds: number): number =>
  max(0, min(1, (reynolds - TRANSITION[0]) / (TRANSITION[1] - TRANSITION[0])));

export const blended = (reynolds: number, laminar: number, turbulent: number): number => {
  const share = turbulentShare(reynolds);
  return (1 - share) * laminar + share * turbulent;
};

/** Darcy friction factor: laminar `shape`/Re (64 in a tube, 96 in a flat channel), turbulent in a rough wall (Haaland 1983), blended between Re 2,300 and 4,000. @param roughness over the hydraulic diameter */
export function frictionFactor(reynolds: number, shape: number, roughness: number): number {
  if (reynolds <= 0) return 0;
  if (reynolds <= TRANSITION[0]) return shape / reynolds;
  const turbulent = (-1.8 * log10((roughness / 3.7) ** 1.11 + 6.9 / reynolds)) ** -2;
  return blended(reynolds, shape / reynolds, turbulent);
}
