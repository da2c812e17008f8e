import { absorberLayer, opening } from "./design";
import { fluidProperties, type FluidProperties } from "../fluids/fluid";
import { insideCoefficient } from "./carrier";
import { formOf } from "./form/list";
import {
  channelNusselt,
  cylinderCoefficient,
  gapCoefficient,
  radiationCoefficient,
  skyTemperature,
  windCoefficient,
} from "./convection";
import type { Face, HeatNetwork, Stream } from "./network";
import { LinearSystem } from "./system";

const { exp, max, min, PI } = Math;
const KELVIN = 273.15;
/** Stretches along the stream. */
export const SEGMENTS = 8;
const ROUNDS = 80;

export interface Conditions {
  /** In the collector plane, straight on. */
  irradianceWm2: number;
  ambientC: number;
  inletC: number;
  windMs: number;
  /** Through one box, kg/s; 0 is stagnation. */
  massFlowKgPerS: number;
  tilt: number;
  pressurePa: number;
  /** Measured sky temperature, °C; by Swinbank's formula when absent. */
  skyC?: number;
}

/** Energies over the whole aperture, W. */
export interface Balance {
  absorbedW: number;
  usefulW: number;
  frontW: number;
  backW: number;
  edgeW: number;
  /** Into the layers' warmth; 0 when steady. */
  storedW: number;
}

export interface Solution extends Balance {
  /** Temperatures by segment, °C, first at the inlet: nodes, then streams. */
  segments: Float64Array[];
  inletC: number;
  outletC: number;
  /** Stream to wall, W/(m²·K), for the working. */
  transfer: number;
  /** Of an absorber the air passes through, 0 to 1. */
  effectiveness: number;
  iterations: number;
}

/** Warmth the layers hold, for steps in time: J/(m²·K) by node, and where they stood a step ago. */
export interface Storage {
  capacities: Float64Array;
  stepS: number;
  before: Float64Array[];
}

/** What stays the same along the box. */
interface Setting {
  net: HeatNetwork;
  c: Conditions;
  inletC: number;
  segments: number;
  /** ṁ·cp, W/(m²·K) of aperture. */
  capacity: number;
  forced: number[];
  effectiveness: number;
  wind: number;
  environmentC: number;
  storage?: Storage;
}

function settingOf(net: HeatNetwork, c: Conditions, segments: number, storage?: Storage): Setting {
  const { design, factors } = net;
  const absorber = absorberLayer(design)!;
  const inletC = net.outsideAir ? c.ambientC : c.inletC;
  const p = fluidProperties(design.fluid, inletC + 8, c.pressurePa);
  const flux = c.massFlowKgPerS / net.apertureM2;
  const lengthM = opening(design).lengthM;
  const still = factors.windLoss * windCoefficient(c.windMs);
  // Suction draws the warm layer in: only the strip the wind starts from is lost (Kutscher 1994, laminar edge loss).
  const drawn = (0.82 * c.windMs * p.viscosity * p.specificHeat) / max(1e-9, (flux / p.density) * lengthM) + 0.1;
  const skyView = (1 + Math.cos((c.tilt * PI) / 180)) / 2;
  const sky = ((c.skyC ?? skyTemperature(c.ambientC)) + KELVIN) ** 4;
  return {
    net,
    c,
    inletC,
    segments,
    storage,
    capacity: flux * p.specificHeat,
    forced: net.streams.map((s) => forcedTransfer(net, s, c.massFlowKgPerS, p)),
    effectiveness:
      net.path === "through" && flux > 0
        ? (formOf(absorber).throughEffectiveness?.(absorber.shape, flux, p, c.windMs, factors.streamTransfer) ?? 0)
        : 0,
    wind: net.outsideAir && flux > 0 ? min(still, drawn) : still,
    environmentC: (skyView * sky + (1 - skyView) * (c.ambientC + KELVIN) ** 4) ** 0.25 - KELVIN,
  };
}

function forcedTransfer(net: HeatNetwork, s: Stream, massFlow: number, p: FluidProperties): number {
  if (massFlow <= 0) return 0;
  if (s.kind === "inside")
    return insideCoefficient(net.design, absorberLayer(net.design)!, massFlow, p, net.factors.streamTransfer);
  const meanFlow = s.kind === "channel" ? massFlow * s.share : massFlow / 2;
  const reynolds = (meanFlow * s.hydraulicM) / (s.sectionM2 * p.viscosity);
  const prandtl = (p.viscosity * p.specificHeat) / p.conductivity;
  const graetz = (reynolds * prandtl * s.hydraulicM) / opening(net.design).lengthM;
  return (net.factors.streamTransfer * channelNusselt(reynolds, graetz, prandtl) * p.conductivity) / s.hydraulicM;
}

/** Conductance of a cellular sheet over that at 10 °C: still air conducts two fifths, the rest is radiation across the cells and goes with T³ (typical value). */
const cellFactor = (meanC: number): number => 0.4 + 0.6 * ((meanC + KELVIN) / 283.15) ** 3;

/** How a conductance grows with its mean temperature, over that at which it is stated: vacuum at 60 °C, radiation alone. */
const WHEN_HOT: Record<HeatNetwork["conduction"][number]["through"], (meanC: number) => number> = {
  solid: () => 1,
  cells: cellFactor,
  vacuum: (meanC) => ((meanC + KELVIN) / 333) ** 3,
};

/**
 * Heat the wind takes from a face, W/(m²·K) of what it covers. A pipe a diameter or more from the next is a cylinder of its own; pipes
 * that touch are a ribbed plate the wind runs over; between, straight by the gap (our judgement: the law is for one pipe).
 */
function windOn(f: Face, { net, c, wind }: Setting, T: Float64Array): number {
  if (f.roundM === undefined) return wind;
  const alone = min(1, max(0, 1 / f.share - 1));
  const cylinder = f.ratio * cylinderCoefficient(T[f.node], c.ambientC, f.roundM, c.windMs, c.pressurePa);
  return (1 - alone) * wind + alone * net.factors.windLoss * cylinder;
}

function addSolids(system: LinearSystem, at: Setting, T: Float64Array, segment: number): void {
  const { net, c, storage } = at;
  for (let i = 0; i < net.nodeCount; i++) {
    system.source(i, net.solar[i] * c.irradianceWm2);
    if (storage) system.toward(i, storage.capacities[i] / storage.stepS, storage.before[segment][i]);
  }
  for (const { a, b, conductance, through } of net.conduction)
    system.link(a, b, conductance * WHEN_HOT[through]((T[a] + T[b]) / 2));
  if (net.contact) system.link(net.contact.a, net.contact.b, net.contact.conductance);
  for (const f of net.frontFaces) {
    system.lose(f.node, windOn(f, at, T) * f.share, c.ambientC, "front");
    system.lose(
      f.node,
      radiationCoefficient(T[f.node], at.environmentC, f.emittance, 1) * f.share,
      at.environmentC,
      "front",
    );
  }
  const back =
    net.factors.windLoss * (2.8 + 1.5 * c.windMs) +
    radiationCoefficient(T[net.backNode], c.ambientC, net.backEmittance, 0.95);
  system.lose(net.backNode, back, c.ambientC, "back");
  system.lose(net.edgeNode, net.edge, c.ambientC, "edge");
  for (const { from, to, transmittance } of net.throughFilm) {
    for (const f of from) {
      if (to === "sky")
        system.lose(
          f.node,
          transmittance * f.share * radiationCoefficient(T[f.node], at.environmentC, f.emittance, 1),
          at.environmentC,
          "front",
        );
      else
        for (const g of to)
          system.link(
            f.node,
            g.node,
            transmittance * f.share * g.share * radiationCoefficient(T[f.node], T[g.node], f.emittance, g.emittance),
          );
    }
  }
}

type Wall = { node: number; h: number };

/** Radiation and still air across each space. @returns the walls of each stream */
function addSpaces(system: LinearSystem, at: Setting, T: Float64Array): Wall[][] {
  const { net, c } = at;
  const walls: Wall[][] = net.streams.map((s, j) =>
    s.kind === "inside" ? [{ node: net.absorberNode, h: max(1e-6, at.forced[j]) }] : [],
  );
  const stillAir = (a: number, b: number, depthM: number) =>
    net.factors.gapConvection * gapCoefficient(T[a], T[b], depthM, c.tilt, c.pressurePa);
  for (const s of net.spaces) {
    for (const u of s.upper) {
      for (const l of s.lower) {
        const share = min(u.share, l.share);
        system.link(u.node, l.node, share * radiationCoefficient(T[u.node], T[l.node], u.emittance, l.emittance));
        if (s.stream < 0) system.link(u.node, l.node, share * stillAir(u.node, l.node, s.depthM));
      }
    }
    if (s.stream < 0) continue;
    const still = s.upper.length && s.lower.length ? 2 * stillAir(s.upper[0].node, s.lower[0].node, s.depthM) : 0;
    const h = max(at.forced[s.stream], still);
    for (const f of [...s.upper, ...s.lower]) walls[s.stream].push({ node: f.node, h: h * f.share * f.ratio });
  }
  return walls;
}

function addStreams(system: LinearSystem, at: Setting, walls: Wall[][], streamIn: number[], segment: number): void {
  const { net, capacity } = at;
  const n = net.nodeCount;
  const through = net.path === "through" ? at.effectiveness * capacity : 0;
  const front = net.streams.findIndex((s) => s.kind === "frontPlenum");
  /** Air that passes the absorber comes from the plenum before it, or from outside. */
  const fromFront = (row: number, conductance: number) => {
    if (front >= 0) system.add(row, n + front, -conductance);
    else system.source(row, conductance * at.c.ambientC);
  };
  net.streams.forEach((s, j) => {
    const row = n + j;
    if (s.kind === "channel" || s.kind === "inside") {
      addChannel(system, row, capacity * s.share * at.segments, walls[j], streamIn[j]);
      return;
    }
    for (const w of walls[j]) system.link(w.node, row, w.h);
    if (capacity <= 0) return;
    if (s.kind === "frontPlenum") {
      system.toward(row, capacity * (at.segments - segment), streamIn[j]);
      return;
    }
    // Back plenum: what came so far, plus what passes the absorber here.
    system.toward(row, capacity * segment, streamIn[j]);
    system.add(row, row, capacity);
    system.add(row, net.absorberNode, -through);
    fromFront(row, capacity - through);
  });
  if (through > 0) {
    system.add(net.absorberNode, net.absorberNode, through);
    fromFront(net.absorberNode, through);
  }
}

/** A stream along walls: where its mean lies between entry and exit follows from the transfer; halfway for little, near the exit for much. */
/** How far the mean of a stream lies between its inlet and its walls, by transfer units, in units of the whole rise. */
function meanShare(units: number): number {
  if (units > 30) return 1 - 1 / units;
  return units < 1e-4 ? 0.5 : 1 / (1 - exp(-units)) - 1 / units;
}

function addChannel(system: LinearSystem, row: number, capacity: number, walls: Wall[], inC: number): void {
  const total = walls.reduce((sum, w) => sum + w.h, 0);
  const units = capacity > 0 ? total / capacity : Infinity;
  const theta = meanShare(units);
  for (const w of walls) {
    system.add(w.node, w.node, w.h);
    system.add(w.node, row, -w.h * theta);
    system.source(w.node, w.h * (1 - theta) * inC);
    system.add(row, w.node, -w.h);
  }
  system.add(row, row, capacity + total * theta);
  system.source(row, (capacity - total * (1 - theta)) * inC);
}

/**
 * Temperatures and heat of a box, layer by layer, stretch by stretch along the stream (the chain of DB chapter 6 without its
 * averages). Coefficients follow the temperatures by repeated substitution until nothing moves by more than 0.1 mK, so the balance closes to rounding.
 *
 * @param start a neighbouring solution, to begin from
 * @param storage for one step in time; steady without
 */
export function solveNetwork(
  net: HeatNetwork,
  c: Conditions,
  start?: Solution,
  storage?: Storage,
  segments = SEGMENTS,
): Solution {
  const at = settingOf(net, c, segments, storage);
  const flowing = c.massFlowKgPerS > 0;
  const system = new LinearSystem(net.nodeCount + net.streams.length);
  const out: Float64Array[] = [];
  const streamIn = net.streams.map(() => at.inletC);
  const balance: Balance = { absorbedW: 0, usefulW: 0, frontW: 0, backW: 0, edgeW: 0, storedW: 0 };
  const areaM2 = net.apertureM2 / segments;
  const absorbed = net.solar.reduce((a, b) => a + b, 0) * c.irradianceWm2;
  let T = new Float64Array(system.size).fill(flowing ? at.inletC + 15 : c.ambientC + 60 * (c.irradianceWm2 / 1000));
  let iterations = 0;
  for (let segment = 0; segment < segments; segment++) {
    if (start) T.set(start.segments[segment]);
    // Without flow all stretches are alike, once what each of them held has gone: a step in time is taken by each.
    const alike = !flowing && !storage && segment > 0;
    if (alike) T.set(out[0]);
    else {
      for (let round = 0; round < ROUNDS; round++, iterations++) {
        system.clear();
        addSolids(system, at, T, segment);
        addStreams(system, at, addSpaces(system, at, T), streamIn, segment);
        const next = system.solve();
        const moved = next.reduce((most, t, i) => max(most, Math.abs(t - T[i])), 0);
        // Convection that swings between two regimes is damped.
        if (round > 25)
          next.forEach((t, i) => {
            next[i] = (t + T[i]) / 2;
          });
        T = next;
        if (moved < 1e-4) break;
      }
    }
    out.push(T.slice());
    balance.absorbedW += absorbed * areaM2;
    balance.frontW += system.lost("front", T) * areaM2;
    balance.backW += system.lost("back", T) * areaM2;
    balance.edgeW += system.lost("edge", T) * areaM2;
    if (storage)
      balance.storedW +=
        storage.capacities.reduce(
          (sum, cap, i) => sum + (cap * (T[i] - storage.before[segment][i])) / storage.stepS,
          0,
        ) * areaM2;
    if (flowing)
      net.streams.forEach((_, j) => {
        streamIn[j] = T[net.nodeCount + j];
      });
  }
  const outletC = flowing ? outletOf(net, streamIn, at.inletC) : at.inletC;
  balance.usefulW = at.capacity * net.apertureM2 * (outletC - at.inletC);
  return {
    ...balance,
    segments: out,
    inletC: at.inletC,
    outletC,
    transfer: at.forced.length ? max(...at.forced) : 0,
    effectiveness: at.effectiveness,
    iterations,
  };
}

function outletOf(net: HeatNetwork, streams: number[], inletC: number): number {
  if (!streams.length) return inletC;
  if (net.path === "through") return streams[net.streams.findIndex((s) => s.kind === "backPlenum")];
  return net.streams.reduce((sum, s, j) => sum + s.share * streams[j], 0);
}
