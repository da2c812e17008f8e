import { fluidProperties, type FluidProperties } from "../fluids/fluid";
import { frictionFactor } from "../flow/friction";
import { absorberLayer, opening } from "./design";
import { formOf } from "./form/list";
import { head, PORT_LOSS, SHEET_ROUGHNESS } from "./form/pipes";
import type { HeatNetwork, Stream } from "./network";

const { PI } = Math;
/** Flat channel, laminar: f·Re. */
const FLAT = 96;

export const LOSS_PARTS = ["ports", "manifold", "path", "absorber"] as const;
export type LossPart = (typeof LOSS_PARTS)[number];

function channelLoss(net: HeatNetwork, stream: Stream, massFlow: number, p: FluidProperties): number {
  const reynolds = (massFlow * stream.hydraulicM) / (stream.sectionM2 * p.viscosity);
  const friction =
    (frictionFactor(reynolds, FLAT, SHEET_ROUGHNESS / stream.hydraulicM) * opening(net.design).lengthM) /
    stream.hydraulicM;
  return (friction + PORT_LOSS) * head(massFlow, stream.sectionM2, p.density);
}

/**
 * Pressure loss along the path through one box, Pa, by part.
 *
 * @param massFlow kg/s, 0 or more
 * @param meanC of the fluid, °C
 */
export function pressureParts(
  net: HeatNetwork,
  massFlow: number,
  meanC: number,
  pressurePa: number,
): Record<LossPart, number> {
  const { design, factors } = net;
  const parts: Record<LossPart, number> = { ports: 0, manifold: 0, path: 0, absorber: 0 };
  if (massFlow <= 0) return parts;
  const absorber = absorberLayer(design)!;
  const form = formOf(absorber);
  const { shape } = absorber;
  const p = fluidProperties(design.fluid, meanC, pressurePa);
  const portHead = head(massFlow / design.ports.count, (PI / 4) * design.ports.diameterM ** 2, p.density);
  // Outside air enters through the absorber's face, not through a port.
  parts.ports = (net.outsideAir ? 1 : PORT_LOSS) * portHead;
  parts.manifold = design.manifoldLoss * portHead;
  for (const s of net.streams) {
    if (s.kind === "inside") parts.path += form.insideLoss?.({ shape, opening: opening(design), massFlow, p }) ?? 0;
    // Streams side by side lose the same; each is counted by its share.
    else if (s.kind === "channel") parts.path += s.share * channelLoss(net, s, massFlow * s.share, p);
    else parts.path += channelLoss(net, s, massFlow / 2, p);
  }
  if (net.path === "through") parts.absorber = form.faceLoss?.(shape, massFlow / net.apertureM2, p) ?? 0;
  for (const part of LOSS_PARTS) parts[part] *= factors.friction;
  return parts;
}

/** Pressure loss of one box, Pa. */
export function pressureLoss(net: HeatNetwork, massFlow: number, meanC: number, pressurePa: number): number {
  const parts = pressureParts(net, massFlow, meanC, pressurePa);
  return LOSS_PARTS.reduce((sum, part) => sum + parts[part], 0);
}
