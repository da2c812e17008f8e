import { formOf } from "./form/list";
import { THICKNESS_RANGE } from "./thickness";
import { opening, type AbsorberLayer, type Design, type Layer } from "./design";
import type { QuantityId } from "../quantity/quantities";

export const MAX_LAYERS = 24;
export const MAX_COVERS = 3;

/** Problems whose name and layer say it all. */
export type PlainProblem =
  | "noAbsorber"
  | "twoAbsorbers"
  | "noLayers"
  | "coverBehindAbsorber"
  | "coverBehindInsulation"
  | "insulationOverAbsorber"
  | "sheetOverAbsorber"
  | "coverOnAbsorber"
  | "waterInAirForm"
  | "airInLiquidForm"
  | "openFormNeedsChannel"
  | "noChannel"
  | "channelWithPipes"
  | "channelWithLiquid"
  | "neighbouringAirLayers"
  | "airLayerOutside"
  | "tubeWall"
  | "tooFewFlowPoints"
  | "backMissing"
  | "nothingStated"
  | "thermostatCrossed";

/** What is impossible in a design and keeps it from being computed. The layer is named, so that the screen can mark it. */
export type DesignProblem = { layer: string | null } & (
  | { kind: PlainProblem }
  | { kind: "tooManyLayers" | "tooManyCovers"; count: number; most: number }
  | { kind: "outOfRange"; field: string; quantity: QuantityId; value: number; min: number; max: number }
  | { kind: "notGlazing"; material: string }
  | { kind: "materialMissing"; material: string }
  | { kind: "frameFillsBox" | "pipesTooWide" | "coilTooLong"; neededM: number; availableM: number }
);

type Field = [field: string, quantity: QuantityId, value: number, min: number, max: number];

function fieldsOf(d: Design): Field[] {
  const fields: Field[] = [
    ["grossWidthM", "length", d.grossWidthM, 0.05, 10],
    ["grossLengthM", "length", d.grossLengthM, 0.05, 20],
    ["frame", "smallLength", d.frame.thicknessM, 0.0005, 0.2],
    ["portDiameter", "smallLength", d.ports.diameterM, 0.004, 0.6],
    ["portCount", "number", d.ports.count, 1, 50],
    ["manifoldLoss", "number", d.manifoldLoss, 0, 100],
    ["concentration", "number", d.concentration, 0.1, 20],
    ["inSeries", "number", d.inSeries, 1, 20],
    ["inParallel", "number", d.inParallel, 1, 50],
  ];
  if (d.fluid.kind === "glycol") fields.push(["glycolShare", "fraction", d.fluid.massFraction, 0, 0.6]);
  if (d.exchanger !== null) fields.push(["exchanger", "fraction", d.exchanger, 0.05, 1]);
  if (d.drive.kind === "natural") fields.push(["draughtHeight", "length", d.drive.heightM, 0.05, 30]);
  if (d.drive.kind === "photovoltaicFan") fields.push(["panelPower", "power", d.drive.panelW, 0.1, 2000]);
  for (const m of d.mirrors) {
    fields.push(
      ["mirrorLength", "length", m.depthM, 0.05, 10],
      ["mirrorGap", "length", m.gapM, 0, 5],
      // Hinged it opens away from the glass; free it stands upright or leans.
      ["mirrorAngle", "angle", m.angle, m.stand === "free" ? 1 : 20, 179],
    );
    if (m.widthM !== null) fields.push(["mirrorWidth", "length", m.widthM, 0.05, 60]);
    if (m.free) fields.push(["mirrorAway", "length", m.free.awayM, 0, 30]);
  }
  if (d.thermostat) {
    fields.push(["thermostatOn", "temperature", d.thermostat.onC, -20, 200]);
    fields.push(["thermostatOff", "temperature", d.thermostat.offC, -20, 200]);
  }
  return fields;
}

type Say = (kind: PlainProblem, layer?: string | null) => void;

const solid = (l: Layer | undefined): boolean => !!l && l.kind !== "gap" && l.kind !== "channel";

/** Everything that keeps a design from being computed, in the order a person would mend it; empty when it can be built and computed. */
export function designProblems(d: Design): DesignProblem[] {
  const out: DesignProblem[] = [];
  const say = (kind: PlainProblem, layer: string | null = null) => out.push({ kind, layer });
  for (const [field, quantity, value, min, max] of fieldsOf(d))
    if (!(value >= min && value <= max))
      out.push({ kind: "outOfRange", layer: null, field, quantity, value, min, max });
  if (d.thermostat && !(d.thermostat.offC < d.thermostat.onC)) say("thermostatCrossed");
  if (d.layers.length === 0) say("noLayers");
  if (d.layers.length > MAX_LAYERS)
    out.push({ kind: "tooManyLayers", layer: null, count: d.layers.length, most: MAX_LAYERS });
  for (const l of d.layers) {
    const [min, max] = THICKNESS_RANGE[l.kind];
    if (!(l.thicknessM >= min && l.thicknessM <= max))
      out.push({
        kind: "outOfRange",
        layer: l.id,
        field: "thicknessM",
        quantity: "smallLength",
        value: l.thicknessM,
        min,
        max,
      });
    for (const key of ["material" in l ? l.material : null, "coating" in l ? l.coating : null])
      if (key && !d.materials[key]) out.push({ kind: "materialMissing", layer: l.id, material: key });
    if (l.kind === "cover" && d.materials[l.material] && !d.materials[l.material].optics)
      out.push({ kind: "notGlazing", layer: l.id, material: l.material });
  }
  if (!d.materials[d.frame.material]) out.push({ kind: "materialMissing", layer: null, material: d.frame.material });
  if (2 * d.frame.thicknessM >= Math.min(d.grossWidthM, d.grossLengthM) - 0.02)
    out.push({
      kind: "frameFillsBox",
      layer: null,
      neededM: 2 * d.frame.thicknessM,
      availableM: Math.min(d.grossWidthM, d.grossLengthM),
    });
  if (d.drive.kind !== "natural" && d.drive.fan.points.length < 2) say("tooFewFlowPoints");
  order(d, say, out);
  return out;
}

function order(d: Design, say: Say, out: DesignProblem[]): void {
  const absorbers = d.layers.filter((l): l is AbsorberLayer => l.kind === "absorber");
  const covers = d.layers.filter((l) => l.kind === "cover");
  if (covers.length > MAX_COVERS)
    out.push({ kind: "tooManyCovers", layer: covers[MAX_COVERS].id, count: covers.length, most: MAX_COVERS });
  if (absorbers.length === 0 && d.layers.length > 0) say("noAbsorber");
  if (absorbers.length > 1) say("twoAbsorbers", absorbers[1].id);
  if (absorbers.length !== 1) return;
  const [absorber] = absorbers;
  const at = d.layers.indexOf(absorber);
  shape(d, absorber, out, say);
  const firstInsulation = d.layers.findIndex((l) => l.kind === "insulation");
  d.layers.forEach((l, i) => {
    const next = d.layers[i + 1];
    if (l.kind === "cover" && firstInsulation >= 0 && i > firstInsulation) say("coverBehindInsulation", l.id);
    else if (l.kind === "cover" && i > at) say("coverBehindAbsorber", l.id);
    if (l.kind === "insulation" && i < at) say("insulationOverAbsorber", l.id);
    if (l.kind === "sheet" && i < at) say("sheetOverAbsorber", l.id);
    if (l.kind === "cover" && next?.kind === "absorber") say("coverOnAbsorber", l.id);
    if (!solid(l) && next && !solid(next)) say("neighbouringAirLayers", next.id);
    if (!solid(l) && (i === 0 || i === d.layers.length - 1)) say("airLayerOutside", l.id);
  });
  paths(d, absorber, at, say);
}

function paths(d: Design, absorber: AbsorberLayer, at: number, say: Say): void {
  const channels = d.layers.map((l, i) => ({ l, i })).filter(({ l }) => l.kind === "channel");
  const liquid = d.fluid.kind !== "air";
  const form = formOf(absorber);
  if (liquid && form.carries === "air") say("waterInAirForm", absorber.id);
  if (!liquid && form.carries === "liquid") say("airInLiquidForm", absorber.id);
  if (liquid && channels.length) say("channelWithLiquid", channels[0].l.id);
  if (liquid) return;
  const piped = form.stream === "inside";
  if (piped && channels.length) say("channelWithPipes", channels[0].l.id);
  if (piped) return;
  const open = form.stream === "through";
  const back = channels.some(({ i }) => i > at);
  const front = channels.some(({ i }) => i < at);
  if (open && (!back || (at > 0 && !front))) say("openFormNeedsChannel", absorber.id);
  else if (!channels.length) say("noChannel", absorber.id);
  if (back && !d.layers.slice(at + 1).some((l) => l.kind === "sheet" || l.kind === "insulation"))
    say("backMissing", absorber.id);
}

function shape(d: Design, absorber: AbsorberLayer, out: DesignProblem[], say: Say): void {
  const s = absorber.shape;
  const form = formOf(absorber);
  for (const f of form.fields) {
    const value = s[f.name];
    if (!(value >= f.min && value <= f.max))
      out.push({
        kind: "outOfRange",
        layer: absorber.id,
        field: f.name,
        quantity: f.quantity,
        value: value ?? Number.NaN,
        min: f.min,
        max: f.max,
      });
  }
  if ("innerM" in s && s.innerM >= s.outerM) say("tubeWall", absorber.id);
  for (const problem of form.problems?.(s, opening(d)) ?? []) out.push({ ...problem, layer: absorber.id });
  if (form.stated && !form.stated(s)) say("nothingStated", absorber.id);
  if (!(form.depthM(s, absorber.thicknessM) > 0))
    out.push({
      kind: "outOfRange",
      layer: absorber.id,
      field: "thicknessM",
      quantity: "smallLength",
      value: form.depthM(s, absorber.thicknessM),
      min: 0.00001,
      max: 0.3,
    });
}
