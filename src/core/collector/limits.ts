import { freezingPoint } from "../fluids/fluid";
import { LIBRARY, libraryMaterial } from "../materials/library";
import type { Material } from "../materials/material";
import { expanded } from "../uncertainty/coverage";
import { measured } from "../uncertainty/uncertain";
import { layerMasses } from "./content";
import { airPath, opening, type Design, type Layer } from "./design";
import { buildNetwork } from "./network";
import { STILL } from "./standard";
import type { Operating, Prediction } from "./prediction";
import { worstGain, worstMirrorGain } from "./reflector";
import { solveNetwork } from "./solve";

export const CASES = ["use", "still", "here", "mirror"] as const;
export type LimitCase = (typeof CASES)[number];

/** How a limit broken can be mended in the design. */
export type LimitRemedy =
  | { kind: "insertWool"; before: string; material: string; thicknessM: number; thenC: number }
  | { kind: "swapMaterial"; layer: string; what: "material" | "coating"; to: string; limitC: number };

export interface HeatLimitCheck {
  layer: string;
  /** The material whose limit counts: coating or sheet. */
  material: string;
  what: "material" | "coating";
  limitC: number;
  worstC: number;
  /** Half-width at 95 %, K. */
  plusMinusK: number;
  worstCase: LimitCase;
  /** Over: the prediction passes the limit. Near: the limit lies within its ±. */
  state: "over" | "near" | "ok";
  remedy: LimitRemedy | null;
}

const RANK = { over: 0, near: 1, ok: 2 };
const WOOL = "wool-mineral";
/** Kept between prediction and limit when a remedy is sized, K. */
const MARGIN = 5;

/** Each material's worst predicted temperature against what it bears, worst first. */
export function checkLimits(d: Design, p: Prediction, op: Operating): HeatLimitCheck[] {
  const checks = d.layers.flatMap((l, i): HeatLimitCheck[] => {
    const at = p.layers[i];
    if (!at || l.kind === "gap" || l.kind === "channel") return [];
    const cases = CASES.filter((c) => c !== "mirror" || d.mirrors.length > 0);
    const worstCase = cases.reduce(
      (worst, c) => (at[c].value > at[worst].value + 0.05 ? c : worst),
      "use" as LimitCase,
    );
    const parts: ["material" | "coating", string][] = [
      ["material", l.material],
      ...("coating" in l && l.coating ? [["coating", l.coating] as ["coating", string]] : []),
    ];
    return parts.flatMap(([what, key]) => {
      const { limitC } = d.materials[key];
      if (limitC === null) return [];
      const worstC = at[worstCase].value;
      const plusMinusK = expanded(measured(at[worstCase]));
      const near = worstC + plusMinusK > limitC ? ("near" as const) : ("ok" as const);
      const state = worstC > limitC ? ("over" as const) : near;
      return [
        {
          layer: l.id,
          material: key,
          what,
          limitC,
          worstC,
          plusMinusK,
          worstCase,
          state,
          remedy: state === "ok" ? null : remedyFor(d, op, l, what, worstC + (state === "near" ? plusMinusK : MARGIN)),
        },
      ];
    });
  });
  return checks.sort((a, b) => RANK[a.state] - RANK[b.state] || b.worstC - b.limitC - (a.worstC - a.limitC));
}

function remedyFor(
  d: Design,
  op: Operating,
  layer: Exclude<Layer, { kind: "gap" | "channel" }>,
  what: "material" | "coating",
  neededC: number,
): LimitRemedy | null {
  const behind = d.layers.indexOf(layer) > d.layers.findIndex((l) => l.kind === "absorber");
  const wool = behind && (layer.kind === "insulation" || layer.kind === "sheet") ? insertWool(d, op, layer) : null;
  if (wool) return wool;
  const now = d.materials[what === "coating" && "coating" in layer ? layer.coating! : layer.material];
  const usable = (m: Material) =>
    m.group === now.group &&
    m.key !== now.key &&
    (m.limitC ?? Infinity) >= neededC &&
    (now.group !== "coating" || !m.flags.includes("solvent"));
  const to = LIBRARY.filter(usable).sort((a, b) => likeness(a, now) - likeness(b, now) || a.price - b.price)[0];
  return to ? { kind: "swapMaterial", layer: layer.id, what, to: to.key, limitC: to.limitC ?? Infinity } : null;
}

/** How unlike two materials are in what the collector sees of them. */
const likeness = (a: Material, b: Material): number =>
  Math.round(
    10 *
      (Math.abs(a.absorptance - b.absorptance) +
        Math.abs(a.emittance - b.emittance) +
        Math.abs(Math.log((a.conductivity || 1) / (b.conductivity || 1))) / 4 +
        Math.abs(Math.log(a.thicknessM / b.thicknessM)) / 4),
  );

/** Least thickness of mineral wool, in 10 mm steps up to 100, that keeps what lies behind it below its limit without flow. */
function insertWool(d: Design, op: Operating, layer: Layer & { material: string }): LimitRemedy | null {
  const limit = d.materials[layer.material].limitC ?? Infinity;
  const at = d.layers.indexOf(layer);
  const wool: Material = libraryMaterial(WOOL);
  for (let mm = 10; mm <= 100; mm += 10) {
    const layers: Layer[] = [
      ...d.layers.slice(0, at),
      { id: "remedy", kind: "insulation", material: WOOL, thicknessM: mm / 1000 },
      ...d.layers.slice(at),
    ];
    const net = buildNetwork({ ...d, layers, materials: { ...d.materials, [WOOL]: wool } });
    const gain = worstGain(d);
    const s = solveNetwork(net, {
      irradianceWm2: Math.max(STILL.irradianceWm2, op.extremeIrradianceWm2) * gain,
      ambientC: Math.max(STILL.ambientC, op.extremeAmbientC),
      inletC: op.extremeAmbientC,
      windMs: STILL.windMs,
      massFlowKgPerS: 0,
      tilt: op.tilt,
      pressurePa: op.pressurePa,
    });
    const thenC = s.segments[0][net.faces[at + 1]!.front];
    if (thenC <= limit - MARGIN)
      return { kind: "insertWool", before: layer.id, material: WOOL, thicknessM: mm / 1000, thenC };
  }
  return null;
}

export type Hazard = { layer: string | null } & (
  | { kind: "solventOnFoam"; coating: string; foam: string }
  | { kind: "outgassing"; material: string }
  | { kind: "fibresInAir"; material: string }
  | { kind: "lifting"; massKg: number; people: number }
  | { kind: "glass"; massKg: number; people: number }
  | { kind: "expansion"; material: string; movementMm: number; gapMm: number; holeMm: number; screwMm: number }
  | { kind: "freezing"; freezesC: number; lowestC: number }
  | { kind: "boiling"; stagnationC: number }
  | { kind: "concentrated"; gain: number }
);

/** A load one person should not lift alone, kg (usual guidance for lifting; local rules come first). */
const ONE_PERSON = 25;
const ONE_PERSON_GLASS = 15;
/** Temperature range a glazing sheet sees between a winter night and its worst hour starts here, °C. */
const WINTER = -20;
const SCREW_MM = 5;

/** What can hurt builder, neighbours or box apart from heat alone. @param lowestC coldest night at the site, °C */
export function hazards(d: Design, p: Prediction, lowestC: number): Hazard[] {
  const out: Hazard[] = [];
  const solids = d.layers.filter(
    (l): l is Exclude<Layer, { kind: "gap" | "channel" }> => l.kind !== "gap" && l.kind !== "channel",
  );
  const coating = (l: Layer): string | null => ("coating" in l ? l.coating : null);
  const foam = solids.find((l) => d.materials[l.material].flags.includes("foam"));
  if (foam) {
    for (const l of solids) {
      const key = coating(l);
      if (key && d.materials[key].flags.includes("solvent"))
        out.push({ kind: "solventOnFoam", layer: l.id, coating: key, foam: foam.material });
    }
  }
  if (d.fluid.kind === "air" && airPath(d) !== "none") out.push(...breathing(d));
  const { widthM, lengthM } = opening(d);
  const masses = layerMasses(d);
  d.layers.forEach((l, i) => {
    if (l.kind !== "cover") return;
    const m = d.materials[l.material];
    if (m.flags.includes("brittle") && masses[i] > ONE_PERSON_GLASS)
      out.push({ kind: "glass", layer: l.id, massKg: masses[i], people: Math.ceil(masses[i] / ONE_PERSON) + 1 });
    if (m.flags.includes("plasticSheet")) {
      const worst = Math.max(...CASES.map((c) => p.layers[i]![c].value));
      const movement = m.expansionPerK * Math.max(widthM, lengthM) * (worst - WINTER) * 1000;
      out.push({
        kind: "expansion",
        layer: l.id,
        material: l.material,
        movementMm: movement,
        gapMm: Math.ceil(movement / 2),
        holeMm: Math.ceil(SCREW_MM + movement),
        screwMm: SCREW_MM,
      });
    }
  });
  const total = masses.reduce((a, b) => a + b, 0);
  if (total > ONE_PERSON)
    out.push({ kind: "lifting", layer: null, massKg: total, people: Math.ceil(total / ONE_PERSON) });
  const freezesC = freezingPoint(d.fluid);
  if (freezesC !== null) {
    if (lowestC < freezesC + 3) out.push({ kind: "freezing", layer: null, freezesC, lowestC });
    const hot = Math.max(p.figures.stagnation?.value ?? 0, p.figures.stagnationMirror?.value ?? 0);
    if (hot > 95) out.push({ kind: "boiling", layer: null, stagnationC: hot });
  }
  const gain = worstMirrorGain(d).gain * d.concentration;
  if (gain > 1.05) out.push({ kind: "concentrated", layer: null, gain });
  return out;
}

/** Materials the air that people breathe passes over. */
function breathing(d: Design): Hazard[] {
  const path = airPath(d);
  const absorberAt = d.layers.findIndex((l) => l.kind === "absorber");
  const touched = new Set<number>(path === "inside" ? [absorberAt] : []);
  d.layers.forEach((l, i) => {
    if (l.kind === "channel") for (const k of [i - 1, i + 1]) touched.add(k);
  });
  return [...touched]
    .sort((a, b) => a - b)
    .flatMap((i): Hazard[] => {
      const l = d.layers[i];
      if (!l || l.kind === "gap" || l.kind === "channel") return [];
      const coated = "coating" in l ? l.coating : null;
      return [coated ?? l.material].flatMap((key): Hazard[] => {
        const flags = d.materials[key].flags;
        if (flags.includes("outgasses")) return [{ kind: "outgassing", layer: l.id, material: key }];
        return flags.includes("fibres") && !coated ? [{ kind: "fibresInAir", layer: l.id, material: key }] : [];
      });
    });
}
