import type { FluidProperties } from "../../fluids/fluid";
import type { QuantityId } from "../../quantity/quantities";
import type { PlainLayer } from "../layer";

export interface FormField {
  name: string;
  quantity: QuantityId;
  min: number;
  max: number;
  usual: number;
  whole?: boolean;
}

/** Dimensions that belong to a form, by the names of its fields. */
export type Shape = Readonly<Record<string, number>>;

/** Clear opening inside the frame, m. */
export interface Opening {
  widthM: number;
  lengthM: number;
}

/** A sheet or pipe wall as the model needs it. */
export interface Wall {
  /** W/(m·K) */
  conductivity: number;
  thicknessM: number;
}

/** What the fluid inside a form's pipes is up against. */
export interface InsideFlow {
  shape: Shape;
  opening: Opening;
  wall: Wall;
  massFlow: number;
  p: FluidProperties;
}

/** A problem of a form's own dimensions: needed and available, m. */
export interface FormProblem {
  kind: "pipesTooWide" | "coilTooLong";
  neededM: number;
  availableM: number;
}

/** What a form is made of, in the unit its material is sold in. */
export interface FormBill {
  /** Pieces, where the material is sold so. */
  pieces?(shape: Shape, opening: Opening): number;
  /** Area of sheet bought over the area covered; 1 unless said. */
  sheets?(shape: Shape): number;
  /** Painted surface, m²; the aperture unless said. */
  painted?(shape: Shape, opening: Opening): number;
  /** Things beside the absorber's own material. */
  more?(shape: Shape, opening: Opening): { key: string; quantity: number }[];
  /** Hours beyond those of any sheet. */
  hours(shape: Shape, opening: Opening): number;
}

/** The curve a maker states: gross area, η = η0 − a1·x − a2·G·x². */
export interface StatedCurve {
  eta0: number;
  a1: number;
  a2: number;
}

/**
 * One absorber form, whole: its dimensions, where the fluid goes, heat transfer, pressure, what it holds, its bill. Named in
 * the list (see list.ts); words, drawing and badge stand under its name in src/words/forms.ts and src/ui/section/forms.tsx.
 */
export interface Form {
  fields: readonly FormField[];
  /** What it can carry. */
  carries: "air" | "liquid" | "either";
  /** Where an air stream goes: along the sheet in channels, through its openings, or inside its pipes. */
  stream: "along" | "through" | "inside";
  /** A plain board, whose thickness resists heat; others have one temperature across. */
  board?: boolean;
  /** Shows the same surface to front and back. */
  allRound?: boolean;
  /** Usual build: what lies before and behind the absorber, its material, sheet thickness (m) and coating. */
  start: {
    before: readonly PlainLayer[];
    absorber: { material: string; thicknessM: number; coating: string | null };
    behind: readonly PlainLayer[];
    ports?: { diameterM: number; count: number };
    manifoldLoss?: number;
  };
  /** Depth it takes across the box, m. @param thicknessM of its sheet */
  depthM(shape: Shape, thicknessM: number): number;
  /** Share of the opening it hides from what lies behind it, 0 to 1; 1 unless said. */
  covered?(shape: Shape, opening: Opening): number;
  /** Length of hose, duct or tube in one box, m; without it the form has no pipe. */
  pipeLengthM?(shape: Shape, opening: Opening): number;
  /** Inner diameter of its pipes, m, where they hold a liquid. */
  innerM?(shape: Shape): number;
  /** Outer diameter of round bodies, m, which the wind crosses where nothing covers them. */
  outerM?(shape: Shape): number;
  /** Surface its sun side shows over its plan area, at least 1; 1 unless said. */
  surfaceRatio?(shape: Shape): number;
  /** Solid volume per m² of aperture, m. */
  volumeM(shape: Shape, thicknessM: number, opening: Opening): number;
  /** Distance and width, m, of the lines in which it lies on what is under it. */
  contact?(shape: Shape, opening: Opening): [pitchM: number, widthM: number];
  /** Surface a stream along it wets over plan area. @param finned whether this is the side its fins stand on */
  wetted?(shape: Shape, conductivity: number, finned: boolean): number;
  /** Section (m²) and wetted perimeter (m) that it adds to a plain channel along it. */
  channel?(shape: Shape, depthM: number, widthM: number, finned: boolean): { sectionM2: number; perimeterM: number };
  /** Absorber to the fluid inside its pipes, W/(m²·K) of aperture. @param transfer factor of the model on the film */
  insideTransfer?(flow: InsideFlow, transfer: number): number;
  /** Pressure loss inside its pipes, Pa. */
  insideLoss?(flow: Omit<InsideFlow, "wall">): number;
  /** Pressure loss through its openings, Pa. @param flux kg/(s·m²) of aperture */
  faceLoss?(shape: Shape, flux: number, p: FluidProperties): number;
  /** How much of the way to its own temperature air gets that passes through it, 0 to 1. */
  throughEffectiveness?(shape: Shape, flux: number, p: FluidProperties, windMs: number, transfer: number): number;
  /** Glass of its own around an evacuated space: share of light it lets in, and W/(m²·K) of aperture through it at 60 °C. */
  envelope?(shape: Shape, emittance: number): { transmittance: number; conductance: number };
  /** What its dimensions contradict. */
  problems?(shape: Shape, opening: Opening): FormProblem[];
  /** As many and as long as the opening takes, as close as in the usual build. */
  fit?(shape: Shape, opening: Opening): Shape;
  /** Areas that a form without a drawing states itself, m²; else they follow from frame and cover. */
  areas?(shape: Shape, grossM2: number): { aperture: number; absorber: number };
  /** A bought module has no layers to model: its maker's curve, or null when none is stated. */
  stated?(shape: Shape): StatedCurve | null;
  bill: FormBill;
}

export const length = (name: string, min: number, max: number, usual: number): FormField => ({
  name,
  quantity: "smallLength",
  min,
  max,
  usual,
});
export const count = (name: string, min: number, max: number, usual: number): FormField => ({
  name,
  quantity: "number",
  min,
  max,
  usual,
  whole: true,
});

/** Surface of a sine-shaped sheet over its plan area (numerical arc length over one wave). */
export function corrugationRatio(depthM: number, pitchM: number): number {
  const steps = 64;
  let sum = 0;
  for (let i = 0; i < steps; i++) {
    const slope = ((Math.PI * depthM) / pitchM) * Math.cos((2 * Math.PI * (i + 0.5)) / steps);
    sum += Math.sqrt(1 + slope * slope);
  }
  return sum / steps;
}
