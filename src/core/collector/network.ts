import { absorberLayer, airPath, apertureArea, coveredShare, drawsOutsideAir, opening, stackDepth, type AbsorberLayer, type AirPath, type Design, type Layer } from "./design";
import { stripResistance } from "./carrier";
import { finEfficiency } from "./convection";
import { CERTAIN, type ModelFactors } from "./factors";
import { corrugationRatio } from "./forms";
import { collectorOptics, grooved, surfaceOf, surfaceRatio } from "./optics";

const { max, min } = Math;
/** Sheets thinner than this resistance, m²·K/W, have one temperature. */
const THIN = 5e-4;
/** Contact of a loosely laid pipe with what it lies on, W/(m·K) of pipe. */
const LOOSE_CONTACT = 0.8;

/** A face toward a space: which node, what share of the aperture, how black. */
export interface Face {
  node: number;
  share: number;
  emittance: number;
  /** Wetted surface over plan area, fins weighted with their efficiency. */
  ratio: number;
}

interface Space {
  layer: number;
  depthM: number;
  upper: Face[];
  lower: Face[];
  /** Index of the stream in it, or −1 for a closed gap. */
  stream: number;
}

export interface Stream {
  kind: "channel" | "inside" | "frontPlenum" | "backPlenum";
  share: number;
  layer: number;
  /** For a channel: flow section per metre of width and hydraulic diameter. */
  sectionM2: number;
  hydraulicM: number;
}

export interface Network {
  design: Design;
  factors: ModelFactors;
  path: AirPath;
  /** Nodes by layer: front and back face; the same node where a sheet has one temperature. */
  faces: ({ front: number; back: number } | null)[];
  nodeCount: number;
  solar: Float64Array;
  conduction: { a: number; b: number; conductance: number }[];
  spaces: Space[];
  streams: Stream[];
  frontFaces: Face[];
  backNode: number;
  backEmittance: number;
  /** Radiation that passes a film: from the faces below it to those above, or to the sky. */
  throughFilm: { from: Face[]; to: Face[] | "sky"; transmittance: number }[];
  absorberNode: number;
  absorberShare: number;
  edge: number;
  apertureM2: number;
  outsideAir: boolean;
  contact: { a: number; b: number; conductance: number } | null;
}

/** A design as nodes and links, all per m² of aperture. Built once, solved at many conditions. */
export function buildNetwork(design: Design, factors: ModelFactors = CERTAIN): Network {
  const { layers, materials } = design;
  const size = opening(design);
  const apertureM2 = apertureArea(design);
  const absorber = absorberLayer(design);
  if (!absorber) throw new RangeError("a collector has an absorber");
  const at = layers.indexOf(absorber);
  const path = airPath(design);
  const optics = collectorOptics(design, 0, factors);
  const share = coveredShare(absorber, size);
  const faces: Network["faces"] = [];
  const conduction: Network["conduction"] = [];
  let nodeCount = 0;
  let contact: Network["contact"] = null;
  let open: number | null = null;
  for (const [i, layer] of layers.entries()) {
    if (layer.kind === "gap" || layer.kind === "channel") {
      faces.push(null);
      open = null;
      continue;
    }
    const partial = i === at + 1 && share < 0.999 && open !== null;
    const front: number = open === null || partial ? nodeCount++ : open;
    if (partial) contact = { a: open!, b: front, conductance: contactConductance(design, absorber, layer) };
    const resistance = layer.kind === "absorber" && absorber.form !== "masonry" && absorber.form !== "flat" ? 0 : (layer.thicknessM / materials[layer.material].conductivity) / (layer.kind === "insulation" ? factors.insulation : 1);
    const back: number = resistance < THIN ? front : nodeCount++;
    if (back !== front) conduction.push({ a: front, b: back, conductance: 1 / resistance });
    faces.push({ front, back });
    open = back;
  }
  const absorberNode = faces[at]!.front;
  const behindIndex = layers.findIndex((l, i) => i > at && (l.kind === "sheet" || l.kind === "insulation"));
  const solar = new Float64Array(nodeCount);
  let cover = 0;
  layers.forEach((l, i) => {
    if (l.kind !== "cover") return;
    const f = faces[i]!;
    solar[f.front] += optics.coverAbsorbed[cover] / 2;
    solar[f.back] += optics.coverAbsorbed[cover++] / 2;
  });
  solar[absorberNode] += optics.absorber;
  if (behindIndex > 0) solar[faces[behindIndex]!.front] += optics.behind;

  const emittanceFront = (i: number): number => {
    const layer = layers[i] as Exclude<Layer, { kind: "gap" | "channel" }>;
    const own = surfaceOf(design, layer).emittance;
    if (i !== at) return own;
    return grooved(min(1, max(0.02, own + factors.emittance)), surfaceRatio(absorber));
  };
  const emittanceBack = (i: number): number => {
    const layer = layers[i] as Exclude<Layer, { kind: "gap" | "channel" }>;
    const allRound = layer.kind === "absorber" && (["mesh", "columns", "ductCoil", "hose"] as string[]).includes(layer.form);
    return allRound ? emittanceFront(i) : materials[layer.material].emittance;
  };
  const finned = absorber.form === "fins";
  const finSide: "front" | "back" = path === "front" ? "front" : "back";
  const wetted = (i: number, side: "front" | "back"): number => {
    if (i !== at) return 1;
    if (absorber.form === "corrugated") return corrugationRatio(absorber.shape.depthM, absorber.shape.pitchM);
    if (finned && side === finSide) {
      const { heightM, spacingM, finM } = absorber.shape;
      const m = Math.sqrt((2 * 8) / (materials[absorber.material].conductivity * finM));
      return 1 + ((2 * heightM) / spacingM) * finEfficiency(m, heightM);
    }
    return 1;
  };
  /** Faces of the solids next to a space: behind an open absorber the floor shows through. */
  const upperFaces = (i: number): Face[] => {
    const above = i - 1;
    if (above < 0) return [];
    return [{ node: faces[above]!.back, share: above === at ? share : 1, emittance: emittanceBack(above), ratio: wetted(above, "back") }];
  };
  const lowerFaces = (i: number): Face[] => {
    const below = i + 1;
    if (below >= layers.length) return [];
    const list: Face[] = [{ node: faces[below]!.front, share: below === at ? share : 1, emittance: emittanceFront(below), ratio: wetted(below, "front") }];
    if (below === at && share < 0.999 && behindIndex > 0) list.push({ node: faces[behindIndex]!.front, share: 1 - share, emittance: emittanceFront(behindIndex), ratio: 1 });
    return list;
  };

  const streams: Stream[] = [];
  const spaces: Space[] = [];
  layers.forEach((layer, i) => {
    if (layer.kind !== "gap" && layer.kind !== "channel") return;
    let stream = -1;
    if (layer.kind === "channel" && design.fluid === "air" && path !== "none" && path !== "inside") {
      const front = i < at;
      const geometry = channelGeometry(layer.thicknessM, size.widthM, absorber, (front && finSide === "front") || (!front && finSide === "back"));
      streams.push({ kind: path === "through" ? (front ? "frontPlenum" : "backPlenum") : "channel", share: path === "both" ? layer.thicknessM ** 1.7 : 1, layer: i, ...geometry });
      stream = streams.length - 1;
    }
    spaces.push({ layer: i, depthM: layer.thicknessM, upper: upperFaces(i), lower: lowerFaces(i), stream });
  });
  if (path === "both") {
    const total = streams.reduce((s, c) => s + c.share, 0);
    for (const s of streams) s.share /= total;
  }
  if (path === "inside" || design.fluid !== "air") streams.push({ kind: "inside", share: 1, layer: at, sectionM2: 0, hydraulicM: 0 });

  const outsideAir = drawsOutsideAir(design);
  const first = layers.findIndex((l) => l.kind !== "gap" && l.kind !== "channel");
  const frontFaces = first === at ? lowerFaces(at - 1) : [{ node: faces[first]!.front, share: 1, emittance: emittanceFront(first), ratio: 1 }];
  const last = faces.reduce((found, f, i) => (f ? i : found), 0);
  const throughFilm: Network["throughFilm"] = [];
  layers.forEach((l, i) => {
    const transmittance = l.kind === "cover" ? materials[l.material].infraredTransmittance : 0;
    if (transmittance < 0.05) return;
    throughFilm.push({ from: lowerFaces(i + 1).length && faces[i + 1] === null ? lowerFaces(i + 1) : [], to: i === 0 || faces[i - 1] !== null ? "sky" : upperFaces(i - 1), transmittance });
  });
  const frameResistance = design.frame.thicknessM / materials[design.frame.material].conductivity + 0.1;
  const perimeter = 2 * (size.widthM + size.lengthM);
  return {
    design, factors, path, faces, nodeCount, solar, conduction, spaces, streams, frontFaces, backNode: faces[last]!.back, backEmittance: emittanceBack(last), throughFilm,
    absorberNode, absorberShare: share, edge: (factors.edge * perimeter * warmDepth(design)) / frameResistance / apertureM2, apertureM2, outsideAir, contact,
  };
}

/** Depth of the warm part, down to the insulation: what lies behind it is cold at the edges too. */
function warmDepth(d: Design): number {
  const insulation = d.layers.findIndex((l) => l.kind === "insulation");
  return stackDepth({ layers: insulation < 0 ? d.layers : d.layers.slice(0, insulation) });
}

function channelGeometry(depthM: number, widthM: number, absorber: AbsorberLayer, finsInside: boolean): { sectionM2: number; hydraulicM: number } {
  const s = absorber.shape;
  let section = widthM * depthM;
  let perimeter = 2 * (widthM + depthM);
  if (absorber.form === "fins" && finsInside) {
    const fins = widthM / s.spacingM;
    section = widthM * (depthM + s.heightM) - fins * s.heightM * s.finM;
    perimeter += 2 * s.heightM * (1 + fins);
  } else if (absorber.form === "corrugated") {
    section += (widthM * s.depthM) / 2;
    perimeter += widthM * (corrugationRatio(s.depthM, s.pitchM) - 1);
  }
  return { sectionM2: section, hydraulicM: (4 * section) / perimeter };
}

function contactConductance(design: Design, absorber: AbsorberLayer, under: Exclude<Layer, { kind: "gap" | "channel" }>): number {
  const { widthM, lengthM } = opening(design);
  const s = absorber.shape;
  const [perMetre, pitch, width] =
    absorber.form === "hose" ? [1 / s.pitchM, s.pitchM, s.outerM] : absorber.form === "columns" ? [s.count / widthM, widthM / s.count, s.diameterM] : absorber.form === "ductCoil" ? [s.lengthM / (widthM * lengthM), (widthM * lengthM) / s.lengthM, s.diameterM] : [10, 0.1, 0.09];
  const under1 = design.materials[under.material];
  return 1 / (1 / (perMetre * LOOSE_CONTACT) + stripResistance(pitch, width / 2, under1.conductivity * under.thicknessM));
}
