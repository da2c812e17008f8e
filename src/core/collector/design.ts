import type { Fan } from "../flow/fan";
import type { Fluid } from "../fluids/fluid";
import type { MaterialTable } from "../materials/material";
import type { Mirror } from "../mirror/mirror";
import type { PlainLayer } from "./layer";
import { FORMS, formOf, type AbsorberForm } from "./form/list";
import type { Opening } from "./form/form";

export const AIR_PATHS = ["back", "front", "both", "through", "inside", "none"] as const;
export type AirPath = (typeof AIR_PATHS)[number];

/** Layers lie across the box, sun side first. */
export type Layer = PlainLayer | AbsorberLayer;
export type LayerKind = Layer["kind"];
export const LAYER_KINDS = [
  "cover",
  "gap",
  "channel",
  "absorber",
  "sheet",
  "insulation",
] as const satisfies readonly LayerKind[];

export interface AbsorberLayer {
  id: string;
  kind: "absorber";
  form: AbsorberForm;
  material: string;
  thicknessM: number;
  /** Coating on the sun side; null for the bare material. */
  coating: string | null;
  /** Dimensions that belong to the form, by the names of its fields. */
  shape: Record<string, number>;
}

/** What moves the fluid. */
export type Drive =
  | { kind: "fan" | "pump"; fan: Fan }
  /** A fan on its own photovoltaic panel: its speed follows the sun. */
  /** Straight on the panel, or behind a converter that keeps the panel at its best. */
  | { kind: "photovoltaicFan"; fan: Fan; panelW: number; tracked?: boolean }
  /** Natural draught in air, thermosiphon in water: density difference over this height. */
  | { kind: "natural"; heightM: number };

/** A switch on the box that starts and stops its fan or pump. */
export interface Thermostat {
  /** A pair is set by its owner; a snap disc comes with its two temperatures, each within its maker's tolerance. */
  kind: "pair" | "snap";
  onC: number;
  offC: number;
}

/** A collector as it is to be built. Materials are kept by value, so that a revision never changes when the library does. */
export interface Design {
  fluid: Fluid;
  /** Outside of the frame; the fluid runs along the length. */
  grossWidthM: number;
  grossLengthM: number;
  frame: { material: string; thicknessM: number };
  layers: Layer[];
  /** Each of inlet and outlet. */
  ports: { diameterM: number; count: number };
  /** Manifold and bends: loss factor on the port's velocity head, inlet and outlet together. */
  manifoldLoss: number;
  drive: Drive;
  mirrors: readonly Mirror[];
  /** null: the fan runs whenever somebody lets it. */
  thermostat: Thermostat | null;
  /** Lens or concentrator: how much more beam reaches the aperture, after its own losses; 1 for none. */
  concentration: number;
  /** Boxes one behind the other in one stream, and such rows side by side. */
  inSeries: number;
  inParallel: number;
  /** Air-to-water exchanger behind the box: its effectiveness, 0 to 1; null for none. */
  exchanger: number | null;
  materials: MaterialTable;
  /** True for a design guessed from a log's lane: dimensions are assumptions until somebody builds it up. */
  sketch: boolean;
}

/** Outer box as planned, m². */
export const grossArea = (d: Pick<Design, "grossWidthM" | "grossLengthM">): number => d.grossWidthM * d.grossLengthM;

/** Clear opening inside the frame, m, at least a centimetre so that a half-typed frame never turns it inside out. */
export function opening(d: Pick<Design, "grossWidthM" | "grossLengthM" | "frame">): {
  widthM: number;
  lengthM: number;
} {
  return {
    widthM: Math.max(0.01, d.grossWidthM - 2 * d.frame.thicknessM),
    lengthM: Math.max(0.01, d.grossLengthM - 2 * d.frame.thicknessM),
  };
}

/** Area that lets light in, m² (ISO 9488: aperture area of a box without concentration). */
export function apertureArea(d: Design): number {
  const absorber = absorberLayer(d);
  const stated = absorber && formOf(absorber).areas?.(absorber.shape, grossArea(d));
  if (stated) return stated.aperture;
  const { widthM, lengthM } = opening(d);
  return widthM * lengthM;
}

export const absorberLayer = (d: Pick<Design, "layers">): AbsorberLayer | undefined =>
  d.layers.find((l): l is AbsorberLayer => l.kind === "absorber");

export const coverLayers = (d: Pick<Design, "layers">): Extract<Layer, { kind: "cover" }>[] =>
  d.layers.filter((l): l is Extract<Layer, { kind: "cover" }> => l.kind === "cover");

/** Bought whole: it has a maker's curve, or nothing, and no layers of ours to model. */
export const isBought = (d: Pick<Design, "layers">): boolean => {
  const absorber = absorberLayer(d);
  return absorber !== undefined && formOf(absorber).stated !== undefined;
};

/**
 * Area the absorber covers as seen from the sun, m²: the whole opening for sheets, the lit strips for pipes and coils.
 * It is the "covered area" of hose-coil comparisons.
 */
export function absorberArea(d: Design): number {
  const absorber = absorberLayer(d);
  if (!absorber) return 0;
  const stated = formOf(absorber).areas?.(absorber.shape, grossArea(d));
  return stated ? stated.absorber : apertureArea(d) * coveredShare(absorber, opening(d));
}

/** Share of the opening that the absorber hides from what lies behind it, 0 to 1. */
export const coveredShare = (absorber: AbsorberLayer, open: Opening): number =>
  formOf(absorber).covered?.(absorber.shape, open) ?? 1;

/** Length of hose, duct or tube in one box, m; null for forms without pipe. Basis "per metre of pipe". */
export function pipeLength(d: Design): number | null {
  const absorber = absorberLayer(d);
  return (absorber && formOf(absorber).pipeLengthM?.(absorber.shape, opening(d))) ?? null;
}

/** Where the air goes, read from where the channels lie and what the absorber lets through. */
export function airPath(d: Pick<Design, "fluid" | "layers">): AirPath {
  if (d.fluid.kind !== "air") return "none";
  const at = d.layers.findIndex((l) => l.kind === "absorber");
  const absorber = d.layers[at] as AbsorberLayer | undefined;
  if (!absorber) return "none";
  const { stream } = formOf(absorber);
  if (stream === "inside") return "inside";
  const front = d.layers.slice(0, at).some((l) => l.kind === "channel");
  const back = d.layers.slice(at + 1).some((l) => l.kind === "channel");
  const open = stream === "through";
  if (open && back && (front || drawsOutsideAir(d))) return "through";
  if (front) return back ? "both" : "front";
  return back ? "back" : "none";
}

/** An uncovered open absorber with a channel behind it: air enters through its face from outside. */
export function drawsOutsideAir(d: Pick<Design, "fluid" | "layers">): boolean {
  const at = d.layers.findIndex((l) => l.kind === "absorber");
  const absorber = d.layers[at] as AbsorberLayer | undefined;
  const open = absorber !== undefined && formOf(absorber).stream === "through";
  return d.fluid.kind === "air" && open && at === 0 && d.layers.some((l) => l.kind === "channel");
}

/** Depth of a layer across the box, m. */
export const layerDepth = (layer: Layer): number =>
  layer.kind === "absorber" ? formOf(layer).depthM(layer.shape, layer.thicknessM) : layer.thicknessM;

/** Depth of the whole stack, m. */
export const stackDepth = (d: Pick<Design, "layers">): number => d.layers.reduce((s, l) => s + layerDepth(l), 0);

/** An absorber of this form with usual dimensions, to begin with. */
export function newAbsorber(
  id: string,
  form: AbsorberForm,
  material: string,
  thicknessM: number,
  coating: string | null,
): AbsorberLayer {
  return { id, kind: "absorber", form, material, thicknessM, coating, shape: usualShape(form) };
}

export const usualShape = (form: AbsorberForm): Record<string, number> =>
  Object.fromEntries(FORMS[form].fields.map((f) => [f.name, f.usual]));
