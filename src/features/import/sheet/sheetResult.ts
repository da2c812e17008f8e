import { compareRounds, handReadings, type HandReading } from "@/core/analysis/handReading";
import type { Implausible } from "@/core/analysis/slip";
import { implausibleByHand } from "@/core/analysis/implausibleByHand";
import { emptyRecord } from "@/core/analysis/heatRecord";
import type { LaneSetup, RunSetup } from "@/core/analysis/setup";
import type { ExperimentSettings } from "@/core/experiment/schema/settings";
import { standardSettings } from "@/core/experiment/standardSettings";
import { laneSetupSchema, runSetupSchema } from "@/core/experiment/schema/run";
import type { ExperimentHead } from "@/core/experiment/types";
import { cfmConstant, standardPressure } from "@/core/fluids/moistAir";
import { compareTested, type PairComparison } from "@/core/judge/pairs";
import { ratioOf, type RatioOfPair } from "@/core/judge/tested";
import { expanded } from "@/core/uncertainty/coverage";
import { combine, measured, standardUncertainty, type Uncertain } from "@/core/uncertainty/uncertain";
import { whatIfs, type WhatIf } from "@/core/uncertainty/whatIf";
import { isBlank, readRow, sheetRequest, type ReadRow, type SheetDraft } from "./sheetDraft";

/** Where the bench stands, as far as heat needs it. */
export interface BenchPlace {
  latitude: number;
  longitude: number;
  altitudeM: number;
  zone: string;
}

export interface LaneResult {
  lane: string;
  rows: number;
  outletC: number;
  riseK: number;
  heat: Uncertain;
  efficiency: Uncertain | null;
  /** What 1.08 × CFM × °F would say over what it is; null without a flow of air. */
  thumb: { share: number; constant: number } | null;
}

/** What a sheet says so far. */
export interface SheetResult {
  rows: ReadRow[];
  readings: HandReading[];
  lanes: LaneResult[];
  rounds: number;
  alone: number;
  pairs: (PairComparison & { ratio: RatioOfPair })[];
  /** What would narrow the first pair's ± most. */
  remedy: WhatIf | null;
  implausible: Implausible[];
}

const EMPTY = { readings: [], lanes: [], rounds: 0, alone: 0, pairs: [], remedy: null, implausible: [] };

/** Every row as heat, the lanes beside each other, and what would help: with what has been said so far. */
export function sheetResult(
  draft: SheetDraft,
  heads: readonly ExperimentHead[],
  place: BenchPlace | null,
): SheetResult {
  const typed = draft.rows.filter((r) => !isBlank(r));
  const rows = typed.map((r) => readRow(r, draft, place?.zone ?? "UTC"));
  const setup = place && setupOf(draft, heads, place);
  if (!setup) return { ...EMPTY, rows };
  const readings = handReadings(
    setup,
    rows.flatMap((r) => r.values ?? []),
  );
  const { rounds, alone } = compareRounds(setup, readings);
  const settings = settingsOf(draft, heads);
  const compared = compareTested({
    lanes: setup.lanes.map(({ lane, variant, fluid }) => ({ lane, variant, fluid })),
    heats: rounds,
    smallestDifference: settings.smallestDifference,
    stationShare: settings.stationShare,
  });
  const spans = new Set(rounds.map((r) => r.window)).size;
  const pairs = spans < FEWEST_ROUNDS ? [] : compared.pairs.map((p) => ({ ...p, ratio: ratioOf(p) }));
  return {
    rows,
    readings,
    lanes: setup.lanes.flatMap((l) => laneResult(l, setup, readings)),
    rounds: spans,
    alone,
    pairs,
    remedy: pairs.length ? remedyOf(pairs[0].difference, setup) : null,
    implausible: readings.length ? implausibleByHand(setup, { ...emptyRecord(), readings, rounds }) : [],
  };
}

export const FEWEST_ROUNDS = 3;

const settingsOf = (
  draft: SheetDraft,
  heads: readonly ExperimentHead[],
): Pick<ExperimentSettings, "smallestDifference" | "stationShare"> =>
  heads.find((h) => h.id === draft.base.target)?.settings ??
  standardSettings(draft.base.lanes[draft.lanes[0]]?.fluid.kind ?? "air");

function remedyOf(difference: Uncertain, { lanes }: RunSetup): WhatIf | null {
  const [{ inletProbe, flow }] = lanes;
  const now = {
    probeK: inletProbe.limitK / Math.sqrt(3),
    profileShare: flow.kind === "speed" ? flow.profileLimit / Math.sqrt(3) / flow.profileFactor : 0,
  };
  const useful = whatIfs(difference, now).filter((w) => w.gain > 0.1 && w.kind !== "betterSun");
  return useful.sort((a, b) => b.gain - a.gain)[0] ?? null;
}

function laneResult(lane: LaneSetup, setup: RunSetup, readings: readonly HandReading[]): LaneResult[] {
  const own = readings.filter((r) => r.lane === lane.lane);
  if (!own.length) return [];
  const mean = (of: (r: HandReading) => Uncertain) =>
    combine(
      own.reduce((s, r) => s + of(r).value, 0) / own.length,
      own.map((r) => [1 / own.length, of(r)] as const),
    );
  const outlet = mean((r) => r.outlet);
  const inlet = mean((r) => r.inlet);
  const constant =
    lane.fluid.kind === "air" && lane.flow.kind !== "mass" && lane.flow.kind !== "constant"
      ? cfmConstant({
          temperatureC: lane.flow.meter.at === "inlet" ? inlet.value : outlet.value,
          pressurePa: setup.pressurePa,
          relativeHumidity: setup.relativeHumidity,
        })
      : null;
  return [
    {
      lane: lane.lane,
      rows: own.length,
      outletC: outlet.value,
      riseK: mean((r) => r.rise).value,
      heat: mean((r) => r.heat),
      efficiency: own.every((r) => r.efficiency) ? mean((r) => r.efficiency!) : null,
      thumb: constant === null ? null : { constant, share: 1.08 / constant - 1 },
    },
  ];
}

/** Half-width at 95 %. */
export const halfWidth = (u: Uncertain): number => (standardUncertainty(u) > 0 ? expanded(measured(u)) : 0);

/** The run as it would be reckoned, once enough has been said; null before. */
function setupOf(draft: SheetDraft, heads: readonly ExperimentHead[], place: BenchPlace): RunSetup | null {
  if (draft.flow === null || draft.lanes.length === 0) return null;
  const { run } = sheetRequest(draft, heads, place.zone, 1);
  const common = runSetupSchema.safeParse({ ...run.setup, plane: planeOf(draft) });
  const known = heads.find((h) => h.id === draft.base.target);
  const lanes = run.lanes.flatMap(({ letter, station, setup }): LaneSetup[] => {
    const read = laneSetupSchema.safeParse(setup);
    const { grossAreaM2, fluid, copyOf } = draft.base.lanes[letter];
    const areaM2 = grossAreaM2 ?? (copyOf ? draft.base.lanes[copyOf]?.grossAreaM2 : null) ?? null;
    if (!read.success || areaM2 === null) return [];
    const variant = known?.lanes.find((l) => l.letter === letter)?.variantId ?? copyOf ?? letter;
    return [
      {
        ...read.data,
        lane: letter,
        specimen: letter,
        variant: String(variant),
        station,
        fluid,
        areaM2,
        timeConstantS: 0,
        b0: 0,
        opticalLimit: null,
      },
    ];
  });
  if (!common.success || lanes.length === 0) return null;
  const { latitude, longitude, altitudeM, zone } = place;
  return {
    ...common.data,
    run: "sheet",
    place: { latitude, longitude, altitudeM },
    zone,
    linkeTurbidity: 3,
    pressurePa: common.data.pressurePa ?? standardPressure(altitudeM),
    pressureLimitPa: 1800,
    humidityLimit: 0.15,
    lanes,
  };
}

/** Until somebody says otherwise the plane matters only to how the sun moves on between two readings. */
const planeOf = ({ base }: SheetDraft) => ({ tilt: base.tilt ?? 45, azimuth: base.azimuth ?? 180 });
