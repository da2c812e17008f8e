import { fluidProperties, type FluidProperties } from "../fluids/fluid";
import { frictionFactor, screenLoss } from "./convection";
import { absorberLayer, opening, type AbsorberLayer } from "./design";
import type { Network, Stream } from "./network";

const { PI } = Math;
/** Flat channel and round tube, laminar: f·Re. */
const FLAT = 96;
const ROUND = 64;
/** Entry and exit of a port, on its velocity head (sharp edges). */
const PORT_LOSS = 1.5;
/** Wall roughness, m: sheet metal, pulled-out flexible duct (a twentieth of its width), plastic pipe. Typical values. */
const SHEET_ROUGHNESS = 1.5e-4;
const PIPE_ROUGHNESS = 1e-5;
const FLEXIBLE_ROUGHNESS = 0.05;
/** A punched can's neck and step, on the velocity head in the can. Typical value. */
const CELL_LOSS = 2;
const BEND_LOSS = 0.5;

export const LOSS_PARTS = ["ports", "manifold", "path", "absorber"] as const;
export type LossPart = (typeof LOSS_PARTS)[number];

const head = (massFlow: number, sectionM2: number, density: number): number =>
  (massFlow / sectionM2) ** 2 / (2 * density);

const pipe = (
  massFlow: number,
  diameterM: number,
  lengthM: number,
  roughness: number,
  p: FluidProperties,
  extra = 0,
): number => {
  const section = (PI / 4) * diameterM ** 2;
  const reynolds = (4 * massFlow) / (PI * diameterM * p.viscosity);
  return (
    ((frictionFactor(reynolds, ROUND, roughness) * lengthM) / diameterM + extra) * head(massFlow, section, p.density)
  );
};

/** Inside can columns, coils, hoses and tubes, Pa. */
function insideLoss(net: Network, absorber: AbsorberLayer, massFlow: number, p: FluidProperties): number {
  const s = absorber.shape;
  const { widthM, lengthM } = opening(net.design);
  switch (absorber.form) {
    case "columns":
      return pipe(
        massFlow / s.count,
        s.diameterM,
        lengthM,
        SHEET_ROUGHNESS / s.diameterM,
        p,
        (CELL_LOSS * lengthM) / s.cellM,
      );
    case "ductCoil":
      return pipe(massFlow, s.diameterM, s.lengthM, FLEXIBLE_ROUGHNESS, p, (2 * BEND_LOSS * s.lengthM) / lengthM);
    case "hose": {
      const run = (widthM * lengthM) / s.pitchM / s.circuits;
      return pipe(massFlow / s.circuits, s.innerM, run, PIPE_ROUGHNESS / s.innerM, p, (2 * BEND_LOSS * run) / lengthM);
    }
    case "tubeSheet":
      return pipe(
        massFlow / Math.max(1, Math.round(widthM / s.spacingM)),
        s.innerM,
        lengthM,
        PIPE_ROUGHNESS / s.innerM,
        p,
        PORT_LOSS,
      );
    default:
      return 0;
  }
}

function channelLoss(net: Network, stream: Stream, massFlow: number, p: FluidProperties): number {
  const reynolds = (massFlow * stream.hydraulicM) / (stream.sectionM2 * p.viscosity);
  const friction =
    (frictionFactor(reynolds, FLAT, SHEET_ROUGHNESS / stream.hydraulicM) * opening(net.design).lengthM) /
    stream.hydraulicM;
  return (friction + PORT_LOSS) * head(massFlow, stream.sectionM2, p.density);
}

/** Through a mesh (Wieghardt 1953, screen by screen) or a perforated sheet (Kutscher 1994: ζ = 6.82·((1−σ)/σ)²·Re^−0.236 on the face velocity). */
function faceLoss(net: Network, absorber: AbsorberLayer, massFlow: number, p: FluidProperties): number {
  const s = absorber.shape;
  const flux = massFlow / net.apertureM2;
  const faceHead = flux ** 2 / (2 * p.density);
  if (absorber.form === "mesh") {
    const solidity = 1 - (1 - Math.min(0.95, s.wireM / s.meshPitchM)) ** 2;
    return s.layers * screenLoss(solidity, (flux * s.wireM) / p.viscosity) * faceHead;
  }
  const porosity = (PI / 4) * (s.holeM / s.pitchM) ** 2;
  const reynolds = Math.max(1, ((flux / porosity) * s.holeM) / p.viscosity);
  return 6.82 * ((1 - porosity) / porosity) ** 2 * reynolds ** -0.236 * faceHead;
}

/**
 * Pressure loss along the path through one box, Pa, by part.
 *
 * @param massFlow kg/s, 0 or more
 * @param meanC of the fluid, °C
 */
export function pressureParts(
  net: Network,
  massFlow: number,
  meanC: number,
  pressurePa: number,
): Record<LossPart, number> {
  const { design, factors } = net;
  const parts: Record<LossPart, number> = { ports: 0, manifold: 0, path: 0, absorber: 0 };
  if (massFlow <= 0) return parts;
  const absorber = absorberLayer(design)!;
  const p = fluidProperties(design.fluid, meanC, pressurePa);
  const portHead = head(massFlow / design.ports.count, (PI / 4) * design.ports.diameterM ** 2, p.density);
  // Outside air enters through the absorber's face, not through a port.
  parts.ports = (net.outsideAir ? 1 : PORT_LOSS) * portHead;
  parts.manifold = design.manifoldLoss * portHead;
  for (const s of net.streams) {
    if (s.kind === "inside") parts.path += insideLoss(net, absorber, massFlow, p);
    // Streams side by side lose the same; each is counted by its share.
    else if (s.kind === "channel") parts.path += s.share * channelLoss(net, s, massFlow * s.share, p);
    else parts.path += channelLoss(net, s, massFlow / 2, p);
  }
  if (net.path === "through") parts.absorber = faceLoss(net, absorber, massFlow, p);
  for (const part of LOSS_PARTS) parts[part] *= factors.friction;
  return parts;
}

/** Pressure loss of one box, Pa. */
export function pressureLoss(net: Network, massFlow: number, meanC: number, pressurePa: number): number {
  const parts = pressureParts(net, massFlow, meanC, pressurePa);
  return LOSS_PARTS.reduce((sum, part) => sum + parts[part], 0);
}
