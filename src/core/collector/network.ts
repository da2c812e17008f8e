import {
  absorberLayer,
  airPath,
  apertureArea,
  coveredShare,
  drawsOutsideAir,
  opening,
  stackDepth,
  type AbsorberLayer,
  type AirPath,
  type Design,
  type Layer,
} from "./design";
import { stripResistance } from "./form/pipes";
import { CERTAIN, type ModelFactors } from "./factors";
import { formOf } from "./form/list";
import { collectorOptics, grooved, surfaceOf, surfaceRatio } from "./optics";

const { max, min } = Math;
/** Sheets thinner than this resistance, m²·K/W, have one temperature. */
const THIN = 5e-4;
/** Contact of a loosely laid pipe with what it lies on, W/(m·K) of pipe. */
const LOOSE_CONTACT = 0.8;
/** From this covered share on an absorber counts as a whole sheet. */
const WHOLE = 0.999;

/** A face toward a space: which node, what share of the aperture, how black. */
export interface Face {
  node: number;
  share: number;
  emittance: number;
  /** Wetted surface over plan area, fins weighted with their efficiency. */
  ratio: number;
  /** Outer diameter of round bodies, m. */
  roundM?: number;
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

export interface HeatNetwork {
  design: Design;
  factors: ModelFactors;
  path: AirPath;
  /** Nodes by layer: front and back face; the same node where a sheet has one temperature. */
  faces: ({ front: number; back: number } | null)[];
  nodeCount: number;
  solar: Float64Array;
  /** Cellular sheets carry more heat when hot, as much of it is radiation from wall to wall; across a vacuum all of it is. */
  conduction: { a: number; b: number; conductance: number; through: "solid" | "cells" | "vacuum" }[];
  spaces: Space[];
  streams: Stream[];
  frontFaces: Face[];
  backNode: number;
  backEmittance: number;
  /** Radiation that passes a film: from the faces below it to those above, or to the sky. */
  throughFilm: { from: Face[]; to: Face[] | "sky"; transmittance: number }[];
  absorberNode: number;
  /** Node that meets the frame: the absorber, or the glass around it. */
  edgeNode: number;
  absorberShare: number;
  edge: number;
  apertureM2: number;
  outsideAir: boolean;
  contact: { a: number; b: number; conductance: number } | null;
}

/** Clear solids conduct better than this, W/(m·K); a glazing below it is made of cells. */
const CELLULAR = 0.12;

type Solid = Exclude<Layer, { kind: "gap" | "channel" }>;
const isSolid = (l: Layer): l is Solid => l.kind !== "gap" && l.kind !== "channel";

/** What all parts of the network need of a design. */
interface Stack {
  design: Design;
  factors: ModelFactors;
  absorber: AbsorberLayer;
  /** Index of the absorber. */
  at: number;
  path: AirPath;
  /** Share of the opening the absorber covers. */
  share: number;
  /** Index of what the light meets behind an open absorber; −1 for nothing. */
  behind: number;
  finSide: "front" | "back";
}

type Solids = Pick<HeatNetwork, "faces" | "conduction" | "contact" | "nodeCount" | "absorberNode">;

/** Nodes of the solid layers: two where a layer resists, one where it is thin; layers that touch share a node, and an open absorber lies loosely on what is under it. */
function solids({ design, factors, absorber, at, share }: Stack): Solids {
  const faces: HeatNetwork["faces"] = [];
  const conduction: HeatNetwork["conduction"] = [];
  let nodeCount = 0;
  let contact: HeatNetwork["contact"] = null;
  let touching: number | null = null;
  for (const [i, layer] of design.layers.entries()) {
    if (!isSolid(layer)) {
      faces.push(null);
      touching = null;
      continue;
    }
    const loose: boolean = i === at + 1 && share < WHOLE && touching !== null;
    const front: number = touching === null || loose ? nodeCount++ : touching;
    if (loose) contact = { a: touching!, b: front, conductance: contactConductance(design, absorber, layer) };
    const shaped = layer.kind === "absorber" && !formOf(absorber).board;
    const resistance = shaped
      ? 0
      : layer.thicknessM /
        design.materials[layer.material].conductivity /
        (layer.kind === "insulation" ? factors.insulation : 1);
    const back: number = resistance < THIN ? front : nodeCount++;
    if (back !== front)
      conduction.push({
        a: front,
        b: back,
        conductance: 1 / resistance,
        through: layer.kind === "cover" && design.materials[layer.material].conductivity < CELLULAR ? "cells" : "solid",
      });
    faces.push({ front, back });
    touching = back;
  }
  // Glass of its own around the absorber faces the box; the absorber is a node inside, behind the vacuum.
  const own = formOf(absorber).envelope?.(absorber.shape, surfaceOf(design, absorber).emittance + factors.emittance);
  const absorberNode = own ? nodeCount++ : faces[at]!.front;
  if (own) conduction.push({ a: faces[at]!.front, b: absorberNode, conductance: own.conductance, through: "vacuum" });
  return { faces, conduction, contact, nodeCount, absorberNode };
}

/** Share of the light on the aperture that each node takes. */
function solarShares({ design, factors, behind }: Stack, { faces, nodeCount, absorberNode }: Solids): Float64Array {
  const optics = collectorOptics(design, 0, factors);
  const solar = new Float64Array(nodeCount);
  let cover = 0;
  design.layers.forEach((l, i) => {
    if (l.kind !== "cover") return;
    solar[faces[i]!.front] += optics.coverAbsorbed[cover] / 2;
    solar[faces[i]!.back] += optics.coverAbsorbed[cover++] / 2;
  });
  solar[absorberNode] += optics.absorber;
  if (behind > 0) solar[faces[behind]!.front] += optics.behind;
  return solar;
}

/** Emittance of plain glass. */
const GLASS = 0.88;

function frontEmittance({ design, factors, absorber, at }: Stack, i: number): number {
  const own = surfaceOf(design, design.layers[i] as Solid).emittance;
  if (i !== at) return own;
  if (formOf(absorber).envelope) return GLASS;
  return grooved(min(1, max(0.02, own + factors.emittance)), surfaceRatio(absorber));
}

function backEmittance(s: Stack, i: number): number {
  const layer = s.design.layers[i] as Solid;
  return i === s.at && formOf(s.absorber).allRound
    ? frontEmittance(s, i)
    : s.design.materials[layer.material].emittance;
}

/** Surface a stream wets over plan area. */
function wetted({ design, absorber, at, finSide }: Stack, i: number, side: "front" | "back"): number {
  const { conductivity } = design.materials[absorber.material];
  return i === at ? (formOf(absorber).wetted?.(absorber.shape, conductivity, side === finSide) ?? 1) : 1;
}

/** Face of the solid above layer i. */
function upperFaces(s: Stack, faces: HeatNetwork["faces"], i: number): Face[] {
  const above = i - 1;
  if (above < 0) return [];
  return [
    {
      node: faces[above]!.back,
      share: above === s.at ? s.share : 1,
      emittance: backEmittance(s, above),
      ratio: wetted(s, above, "back"),
    },
  ];
}

/** Faces of the solids below layer i: behind an open absorber the floor shows through. */
function lowerFaces(s: Stack, faces: HeatNetwork["faces"], i: number): Face[] {
  const below = i + 1;
  if (below >= s.design.layers.length || !faces[below]) return [];
  const list: Face[] = [
    {
      node: faces[below].front,
      share: below === s.at ? s.share : 1,
      emittance: frontEmittance(s, below),
      ratio: wetted(s, below, "front"),
    },
  ];
  if (below === s.at && s.share < WHOLE && s.behind > 0)
    list.push({ node: faces[s.behind]!.front, share: 1 - s.share, emittance: frontEmittance(s, s.behind), ratio: 1 });
  return list;
}

/** Faces of an absorber without a cover: round bodies meet the wind as cylinders, with the half that shows. */
function bareFaces(s: Stack, faces: HeatNetwork["faces"]): Face[] {
  const roundM = formOf(s.absorber).outerM?.(s.absorber.shape);
  return lowerFaces(s, faces, s.at - 1).map((f) =>
    roundM !== undefined && f.node === faces[s.at]!.front ? { ...f, roundM, ratio: surfaceRatio(s.absorber) } : f,
  );
}

/** Turbulent flow in channels side by side at one pressure loss goes with depth^12/7 (Blasius). */
const SPLIT = 12 / 7;

/** Air layers, and the streams in those that carry one. */
function airSpaces(s: Stack, faces: HeatNetwork["faces"]): { spaces: Space[]; streams: Stream[] } {
  const { design, at, path, finSide } = s;
  const streams: Stream[] = [];
  const spaces: Space[] = [];
  const carries = design.fluid.kind === "air" && path !== "none" && path !== "inside";
  design.layers.forEach((layer, i) => {
    if (isSolid(layer)) return;
    let stream = -1;
    if (layer.kind === "channel" && carries) {
      const front = i < at;
      const geometry = channelGeometry(
        layer.thicknessM,
        opening(design).widthM,
        s.absorber,
        front === (finSide === "front"),
      );
      const plenum = front ? "frontPlenum" : "backPlenum";
      stream =
        streams.push({
          kind: path === "through" ? plenum : "channel",
          share: path === "both" ? layer.thicknessM ** SPLIT : 1,
          layer: i,
          ...geometry,
        }) - 1;
    }
    spaces.push({
      layer: i,
      depthM: layer.thicknessM,
      upper: upperFaces(s, faces, i),
      lower: lowerFaces(s, faces, i),
      stream,
    });
  });
  if (path === "both") {
    const total = streams.reduce((sum, c) => sum + c.share, 0);
    for (const c of streams) c.share /= total;
  }
  if (path === "inside" || design.fluid.kind !== "air")
    streams.push({ kind: "inside", share: 1, layer: at, sectionM2: 0, hydraulicM: 0 });
  return { spaces, streams };
}

/** Films that let heat radiation through, from what lies below them to what lies above. */
function films(s: Stack, faces: HeatNetwork["faces"]): HeatNetwork["throughFilm"] {
  return s.design.layers.flatMap((l, i): HeatNetwork["throughFilm"] => {
    const transmittance = l.kind === "cover" ? s.design.materials[l.material].infraredTransmittance : 0;
    if (transmittance < 0.05 || faces[i + 1] !== null) return [];
    return [{ from: lowerFaces(s, faces, i + 1), to: i === 0 ? "sky" : upperFaces(s, faces, i - 1), transmittance }];
  });
}

/** Boundary resistance of the frame's outer face, m²·K/W. */
const FRAME_SURFACE = 0.1;

function edgeLoss({ design, factors }: Stack): number {
  const { widthM, lengthM } = opening(design);
  const resistance = design.frame.thicknessM / design.materials[design.frame.material].conductivity + FRAME_SURFACE;
  return (factors.edge * 2 * (widthM + lengthM) * warmDepth(design)) / resistance / (widthM * lengthM);
}

/**
 * A design as nodes and links, all per m² of aperture. Built once, solved at many conditions.
 * Throws RangeError for a design without an absorber; other problems are validate.ts's to find first.
 */
export function buildNetwork(design: Design, factors: ModelFactors = CERTAIN): HeatNetwork {
  const absorber = absorberLayer(design);
  if (!absorber) throw new RangeError("a collector has an absorber");
  const { layers } = design;
  const at = layers.indexOf(absorber);
  const path = airPath(design);
  const s: Stack = {
    design,
    factors,
    absorber,
    at,
    path,
    share: coveredShare(absorber, opening(design)),
    finSide: path === "front" ? "front" : "back",
    behind: layers.findIndex((l, i) => i > at && (l.kind === "sheet" || l.kind === "insulation")),
  };
  const body = solids(s);
  const { faces } = body;
  const first = layers.findIndex(isSolid);
  const last = layers.findLastIndex(isSolid);
  return {
    ...body,
    ...airSpaces(s, faces),
    design,
    factors,
    path,
    solar: solarShares(s, body),
    frontFaces:
      first === at
        ? bareFaces(s, faces)
        : [{ node: faces[first]!.front, share: 1, emittance: frontEmittance(s, first), ratio: 1 }],
    backNode: faces[last]!.back,
    backEmittance: backEmittance(s, last),
    throughFilm: films(s, faces),
    edgeNode: faces[at]!.front,
    absorberShare: s.share,
    edge: edgeLoss(s),
    apertureM2: apertureArea(design),
    outsideAir: drawsOutsideAir(design),
  };
}

/** Depth of the warm part, down to the insulation: what lies behind it is cold at the edges too. */
function warmDepth(d: Design): number {
  const insulation = d.layers.findIndex((l) => l.kind === "insulation");
  return stackDepth({ layers: insulation < 0 ? d.layers : d.layers.slice(0, insulation) });
}

function channelGeometry(
  depthM: number,
  widthM: number,
  absorber: AbsorberLayer,
  finned: boolean,
): { sectionM2: number; hydraulicM: number } {
  const more = formOf(absorber).channel?.(absorber.shape, depthM, widthM, finned);
  const section = widthM * depthM + (more?.sectionM2 ?? 0);
  const perimeter = 2 * (widthM + depthM) + (more?.perimeterM ?? 0);
  return { sectionM2: section, hydraulicM: (4 * section) / perimeter };
}

/** Lines in which an absorber lies on what is under it; a mesh lies on its wires' bends, a tenth of a metre apart. */
const LINES: [pitchM: number, widthM: number] = [0.1, 0.09];

/** From an open absorber to what it lies on, W/(m²·K) of aperture. */
function contactConductance(design: Design, absorber: AbsorberLayer, under: Solid): number {
  const [pitch, width] = formOf(absorber).contact?.(absorber.shape, opening(design)) ?? LINES;
  return (
    1 /
    (pitch / LOOSE_CONTACT +
      stripResistance(pitch, width / 2, design.materials[under.material].conductivity * under.thicknessM))
  );
}
