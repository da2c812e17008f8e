import { density, specificHeat, type Fluid } from "../fluids/fluid";
import { readCell } from "../log/cell";
import { CHANNEL_KINDS, EVERY_LANE, type ChannelKind } from "../log/channel";
import { columnUnit, type LogSettings } from "../log/logData";
import { QUANTITIES, toSi, type Unit } from "../quantity/quantities";

/** Rows taken from all over a file, each column as plain numbers in its file's unit; NaN where a cell is none. */
export interface SampledLog {
  rows: string[][];
  numbers: Map<number, Float64Array>;
}

export function sampledLog(rows: readonly string[][], decimal: "." | ","): SampledLog {
  const width = Math.max(0, ...rows.map((r) => r.length));
  const number = (cell: string | undefined): number => {
    const read = readCell(cell ?? "", decimal);
    return read.kind === "number" || read.kind === "marked" ? read.value : NaN;
  };
  return {
    rows: [...rows],
    numbers: new Map(
      Array.from({ length: width }, (_, i) => [i, Float64Array.from(rows, (r) => number(r[i]))] as const),
    ),
  };
}

/** Share of the rows that are called the sunniest, and at least so many. */
const SUNNIEST = 0.06;
const FEWEST = 3;

/** Rows with the most sun; without a sun column those with the largest rises. In the order of the file. */
export function sunniestRows(sample: SampledLog, settings: Pick<LogSettings, "columns">): number[] {
  const column = (kind: ChannelKind, lane: string | null = null) => {
    const found = settings.columns.find(
      (c) => c.kind === kind && (c.lane === lane || (lane !== null && c.lane === EVERY_LANE)),
    );
    return found && sample.numbers.get(found.index);
  };
  const sun = column("irradiance");
  const lanes = [...new Set(settings.columns.flatMap((c) => (c.kind === "outlet" && c.lane ? [c.lane] : [])))];
  const score = (i: number): number => {
    if (sun) return sun[i];
    const rises = lanes.map((l) => (column("outlet", l)?.[i] ?? NaN) - (column("inlet", l)?.[i] ?? 0));
    return rises.reduce((s, r) => s + (Number.isNaN(r) ? 0 : Math.abs(r)), 0);
  };
  const scored = sample.rows.map((_, i) => ({ i, score: score(i) })).filter((s) => !Number.isNaN(s.score));
  const count = Math.max(FEWEST, Math.round(SUNNIEST * scored.length));
  return scored
    .sort((a, b) => b.score - a.score)
    .slice(0, count)
    .map((s) => s.i)
    .sort((a, b) => a - b);
}

/** Middle of a column over some rows, in the file's own unit; NaN without a number. */
export function middleOf(sample: SampledLog, index: number, rows: readonly number[]): number {
  const values = sample.numbers.get(index);
  const good = values ? rows.map((i) => values[i]).filter((v) => !Number.isNaN(v)) : [];
  return good.sort((a, b) => a - b)[good.length >> 1] ?? NaN;
}

/** What is known of a lane when its file is mapped. */
export interface LaneAbout {
  fluid: Fluid;
  /** m²; null: not said yet. */
  areaM2: number | null;
  /** Duct section × mean ÷ read speed, m²; null: not said yet. */
  ductM2: number | null;
  opticalLimit: number;
  pressurePa: number;
  /** Sun of sunny rows, where another file has it; null where none has. */
  sunWm2: number | null;
}

/** What a flow column leads to in one unit: heat of its lane in the sunniest rows, and whether that can be. */
export interface FlowEvidence {
  unit: string;
  heatW: number;
  /** null without area or sun. */
  efficiency: number | null;
  /** Neither more than the optics allow nor next to nothing. */
  fits: boolean;
}

const KINDS = ["speed", "volumeFlow", "massFlow"] as const;
/** As efficiency: a working box in full sun; with room for what a guess of the area is off. */
const LEAST = 0.1;
/** Where no area or sun is known: a box of ordinary size gives this much, W. */
const ORDINARY_W = [40, 6000] as const;

/**
 * A lane's flow column tried in every unit it may be in. Empty where the lane's ends are not mapped or have no unit yet.
 */
export function flowEvidence(
  sample: SampledLog,
  settings: Pick<LogSettings, "columns">,
  lane: string,
  about: LaneAbout,
): FlowEvidence[] {
  const rows = sunniestRows(sample, settings);
  const find = (kind: ChannelKind, of: string | null) =>
    settings.columns.find((c) => c.kind === kind && (c.lane === of || c.lane === EVERY_LANE));
  const si = (kind: ChannelKind, of: string | null): number => {
    const column = find(kind, of);
    const unit = column?.kind && columnUnit(column.kind, column);
    return unit ? toSi(middleOf(sample, column.index, rows), unit) : NaN;
  };
  const inlet = si("inlet", lane);
  const outlet = si("outlet", lane);
  const flow = KINDS.map((k) => find(k, lane)).find((c) => c !== undefined);
  if (!flow?.kind || Number.isNaN(inlet + outlet)) return [];
  const { quantity } = CHANNEL_KINDS[flow.kind];
  const read = middleOf(sample, flow.index, rows);
  const own = si("irradiance", null);
  const sun = Number.isNaN(own) ? (about.sunWm2 ?? NaN) : own;
  const state = { pressurePa: about.pressurePa, relativeHumidity: 0.3 };
  const clamp = (t: number) => Math.min(95, Math.max(-25, t));
  const rho = density(about.fluid, { ...state, temperatureC: clamp(outlet) });
  const cp = specificHeat(about.fluid, { ...state, temperatureC: clamp((inlet + outlet) / 2) });
  const perUnit = { speed: about.ductM2 === null ? NaN : rho * about.ductM2, volumeFlow: rho, massFlow: 1 };
  const factor = perUnit[flow.kind as (typeof KINDS)[number]];
  if (Number.isNaN(factor + read)) return [];
  return (QUANTITIES[quantity].units as readonly Unit[]).map((unit) => {
    const heatW = toSi(read, unit) * factor * cp * (outlet - inlet);
    const efficiency = about.areaM2 && sun > 100 ? heatW / (about.areaM2 * sun) : null;
    const fits =
      efficiency === null
        ? heatW > ORDINARY_W[0] && heatW < ORDINARY_W[1]
        : efficiency > LEAST && efficiency < about.opticalLimit;
    return { unit: unit.symbol, heatW, efficiency, fits };
  });
}

/** The unit that alone leads to what can be; null where none or several do. */
export const onlyFit = (evidence: readonly FlowEvidence[]): string | null => {
  const fitting = evidence.filter((e) => e.fits);
  return fitting.length === 1 ? fitting[0].unit : null;
};
