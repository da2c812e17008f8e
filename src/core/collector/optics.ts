import type { Material } from "../materials/material";
import { coverOptics, innerReflectance, transmittanceAbsorptance, type Cover } from "../optics/covers";
import {
  absorberLayer,
  apertureArea,
  coverLayers,
  coveredShare,
  isBought,
  opening,
  type AbsorberLayer,
  type Design,
  type Layer,
} from "./design";
import { formOf } from "./form/list";
import { CERTAIN, type ModelFactors } from "./factors";

/** Covers of a design as the optics need them, outermost first. */
export function coverStack(d: Pick<Design, "layers" | "materials">): Cover[] {
  return coverLayers(d).map((l) => {
    const { optics } = d.materials[l.material];
    if (!optics) throw new RangeError(`${l.material} is no glazing`);
    return { index: optics.index, extinction: optics.extinctionPerM * l.thicknessM };
  });
}

/**
 * How a grooved, finned or matted surface takes more than its paint does: light or long-wave radiation that is thrown back meets
 * the surface again. α′ = α·ψ/(1 + α·(ψ − 1)) for a diffuse groove with ψ times its opening in surface (Sparrow & Cess 1978, cavity in the well-mixed limit).
 */
export const grooved = (share: number, ratio: number): number => (share * ratio) / (1 + share * (ratio - 1));

/** Surface the sun side shows over its plan area, at most 4: deeper grooves add nothing that counts. */
export const surfaceRatio = (absorber: AbsorberLayer): number => formOf(absorber).surfaceRatio?.(absorber.shape) ?? 1;

export interface CollectorOptics {
  /** Of the covers, for light straight on. */
  transmittance: number;
  reflectance: number;
  /** Absorbed by each cover, share of what falls on the aperture. */
  coverAbsorbed: number[];
  /** Taken by the absorber and by what lies behind its openings. */
  absorber: number;
  behind: number;
  absorptance: number;
}

const clamp = (v: number) => Math.min(1, Math.max(0, v));

/** What becomes of sunlight on the aperture, shares of 1, all inner reflections counted (DB chapter 5). @param incidence degrees */
export function collectorOptics(d: Design, incidence = 0, factors: ModelFactors = CERTAIN): CollectorOptics {
  const covers = coverStack(d);
  const whole = coverOptics(covers, incidence);
  const transmittance = clamp(whole.transmitted * factors.transmittance);
  const absorber = absorberLayer(d);
  if (!absorber)
    return {
      transmittance,
      reflectance: whole.reflected,
      coverAbsorbed: covers.map(() => 0),
      absorber: 0,
      behind: 0,
      absorptance: 0,
    };
  const ratio = surfaceRatio(absorber);
  const surface = surfaceOf(d, absorber);
  const envelope = formOf(absorber).envelope?.(absorber.shape, surface.emittance)?.transmittance ?? 1;
  const absorptance = envelope * grooved(clamp(surface.absorptance + factors.absorptance), ratio);
  const covered = coveredShare(absorber, opening(d));
  const behindLayer = d.layers
    .slice(d.layers.indexOf(absorber) + 1)
    .find((l) => l.kind === "sheet" || l.kind === "insulation");
  const behindAbsorptance = behindLayer ? surfaceOf(d, behindLayer).absorptance : 0;
  const mean = covered * absorptance + (1 - covered) * behindAbsorptance;
  const caught = covers.length ? innerReflectance(covers) : 0;
  // (τα) of the whole floor, shared out by what each part takes of the light that reaches it.
  const product = transmittanceAbsorptance(transmittance, mean, caught);
  const share = (part: number) => (mean > 0 ? (product * part) / mean : 0);
  return {
    transmittance,
    reflectance: whole.reflected,
    coverAbsorbed: coverAbsorption(covers, incidence),
    absorber: share(covered * absorptance),
    behind: share((1 - covered) * behindAbsorptance),
    absorptance,
  };
}

/** Each cover's share: outer ones see the light first, inner ones what the outer let through, with what bounces between them. */
function coverAbsorption(covers: readonly Cover[], incidence: number): number[] {
  const whole = covers.length ? coverOptics(covers, incidence).absorbed : 0;
  const each = covers.map(
    (cover, i) => coverOptics(covers.slice(0, i), incidence).transmitted * coverOptics([cover], incidence).absorbed,
  );
  const sum = each.reduce((a, b) => a + b, 0);
  return each.map((a) => (sum > 0 ? (a * whole) / sum : 0));
}

/** The material that faces the sun: coating before sheet. */
export function surfaceOf(d: Pick<Design, "materials">, layer: Exclude<Layer, { kind: "gap" | "channel" }>): Material {
  const coating = layer.kind === "absorber" || layer.kind === "sheet" ? layer.coating : null;
  return d.materials[coating ?? layer.material];
}

/**
 * Largest efficiency the optics allow on an area, 0 to 1: light taken inside over light on that area. A collector cannot be
 * better than that, whatever its absorber. @param apertureAreaM2 and @param areaM2 m², as measured on the specimen
 */
export function opticalLimit(d: Design, areaM2: number, apertureAreaM2 = apertureArea(d)): number {
  const { absorber, behind, coverAbsorbed } = collectorOptics(d);
  const taken = absorber + behind + coverAbsorbed.reduce((a, b) => a + b, 0);
  return Math.min(1, taken) * Math.min(1, apertureAreaM2 / areaM2);
}

/** Emittance over absorptance of an absorber that no cover, nor glass of its own, keeps from the sky; null for others. */
export function bareShare(d: Design): number | null {
  const absorber = absorberLayer(d);
  if (!absorber || isBought(d) || coverStack(d).length > 0 || formOf(absorber).envelope) return null;
  const { emittance, absorptance } = surfaceOf(d, absorber);
  return absorptance > 0 ? emittance / absorptance : null;
}
