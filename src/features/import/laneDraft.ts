import { statedReading, type Assumed } from "@/core/analysis/setup";
import type { AbsorberForm } from "@/core/collector/form/list";
import type { StoredLaneSetup } from "@/core/experiment/schema/run";
import type { Fluid } from "@/core/fluids/fluid";

/** What a lane's flow is known by: a logged column, or one figure for the run. */
export type FlowKind = "speed" | "volume" | "mass" | "constant" | "tank";

export interface LaneDraft {
  name: string;
  /** Letter of the lane it is a copy of. */
  copyOf: string | null;
  absorber: AbsorberForm;
  covers: number;
  /** What the box held in this run; as drawn unless said otherwise. */
  fluid: Fluid;
  /** null: nobody has said yet; the import asks. */
  grossAreaM2: number | null;
  /** Accuracies: null is not stated, and taken widely. */
  areaLimitShare: number | null;
  station: number;
  ductKind: "round" | "rectangular";
  diameterM: number | null;
  widthM: number | null;
  heightM: number | null;
  ductLimitM: number | null;
  profileFactor: number | null;
  profileLimit: number | null;
  meterAt: "inlet" | "outlet" | null;
  meterLimitShare: number | null;
  probeLimitK: number | null;
  /** null: as the drawn design predicts. */
  timeConstantS: number | null;
  b0: number | null;
  b0Across: number | null;
  b0Limit: number | null;
  /** Share of a logged fan's power that warms the stream. */
  fanShare: number;
  /** Stated where it is not logged. */
  fanPowerW: number | null;
  /** Where no flow is logged: how it was found, and what it was, SI. */
  statedAs: "speed" | "volume" | "mass";
  stated: number | null;
  /** When it was set anew, `2026-10-06T13:30` on the logger's clock, and to what. Drafts of an earlier day have none. */
  flowChanges?: { at: string; reading: number | null }[];
  /** Where a tank but no flow was logged beside both ends: what heat is counted by. null: nobody has said. */
  heatBy: "tank" | "flow" | null;
  /** Water in the tank its loop warms, with hoses and box, kg, and its ± share. */
  tankKg: number | null;
  tankLimitShare: number | null;
}

export const newLane = (letter: string, station: number): LaneDraft => ({
  name: `Collector ${letter}`,
  copyOf: null,
  absorber: "flat",
  covers: 1,
  fluid: { kind: "air" },
  grossAreaM2: null,
  areaLimitShare: null,
  station,
  ductKind: "round",
  diameterM: null,
  widthM: null,
  heightM: null,
  ductLimitM: null,
  profileFactor: null,
  profileLimit: null,
  meterAt: null,
  meterLimitShare: null,
  probeLimitK: null,
  timeConstantS: null,
  b0: null,
  b0Across: null,
  b0Limit: null,
  fanShare: 0,
  fanPowerW: null,
  statedAs: "volume",
  stated: null,
  heatBy: null,
  tankKg: null,
  tankLimitShare: null,
});

/** What is taken where nobody states an accuracy: wide enough for cheap instruments, so that no ± is smaller than it should be. */
export const WIDE = {
  probeK: 1,
  outsideK: 1.5,
  sunShare: 0.1,
  meterShare: 0.15,
  /** A meter held on the axis of a duct, or anywhere in it. */
  profileFactor: 0.85,
  profileLimit: 0.1,
  ductM: 0.003,
  areaShare: 0.03,
  b0: 0.06,
  /** A tank's water as on its plate; hoses and box guessed. */
  tankShare: 0.06,
} as const;

/** What lanes of one bench usually share: typed for one, the others that agreed with it follow. */
const SHARED: readonly (keyof LaneDraft)[] = [
  "grossAreaM2",
  "areaLimitShare",
  "ductKind",
  "diameterM",
  "widthM",
  "heightM",
  "ductLimitM",
  "profileFactor",
  "profileLimit",
  "meterAt",
  "meterLimitShare",
  "probeLimitK",
  "statedAs",
  "heatBy",
  "tankKg",
  "tankLimitShare",
];

/** A lane changed; what later lanes had alike they go on having alike. A flow stated by hand is each lane's own. */
export function withLane(
  lanes: Readonly<Record<string, LaneDraft>>,
  letter: string,
  next: LaneDraft,
): Record<string, LaneDraft> {
  const before = lanes[letter];
  const followed = (lane: LaneDraft): LaneDraft => {
    const changed = SHARED.filter((k) => next[k] !== before[k] && lane[k] === before[k]);
    return changed.length ? { ...lane, ...Object.fromEntries(changed.map((k) => [k, next[k]])) } : lane;
  };
  const otherwise = (l: string, lane: LaneDraft) => {
    if (l === letter) return next;
    return l > letter ? followed(lane) : lane;
  };
  return Object.fromEntries(Object.entries(lanes).map(([l, lane]) => [l, otherwise(l, lane)]));
}

/** What a flow that nobody logged may be known as. */
export const STATED = { speed: "speed", volume: "volumeFlow", mass: "massFlow" } as const;

export type FlowMissing = "stated" | "changes" | "duct" | "at" | "tank";

/** What of a lane's flow is still to be said. */
export function flowMissing(lane: LaneDraft, kind: FlowKind): FlowMissing[] {
  if (kind === "tank") return lane.tankKg === null ? ["tank"] : [];
  const speed = kind === "speed" || (kind === "constant" && lane.statedAs === "speed");
  const mass = kind === "mass" || (kind === "constant" && lane.statedAs === "mass");
  const size = lane.ductKind === "round" ? lane.diameterM : lane.widthM && lane.heightM;
  return [
    ...(kind === "constant" && lane.stated === null ? ["stated" as const] : []),
    ...(kind === "constant" && !changesAscend(lane) ? ["changes" as const] : []),
    ...(speed && !size ? ["duct" as const] : []),
    // A liquid's density hardly depends on where it is metered; air's does by a twelfth.
    ...(!mass && lane.fluid.kind === "air" && lane.meterAt === null ? ["at" as const] : []),
  ];
}

const isTime = (text: string): boolean => /^\d{4}-\d\d-\d\dT\d\d:\d\d/.test(text);
const changesAscend = ({ flowChanges = [] }: LaneDraft): boolean =>
  flowChanges.every((c, i) => c.reading !== null && isTime(c.at) && (i === 0 || c.at > flowChanges[i - 1].at));

/** What a stored lane was told; what was taken widely is unstated again. */
export function statedLane(setup: StoredLaneSetup, assumed: readonly Assumed[]): Partial<LaneDraft> {
  const { flow, inletProbe, timeConstantS, fluid, b0, b0Across, b0Limit, areaLimitShare, fanShare, fanPowerW } = setup;
  const said = <T>(what: Assumed, value: T): T | null => (assumed.includes(what) ? null : value);
  const stated = statedReading(flow);
  const duct = flow.kind === "speed" ? flow.duct : null;
  return {
    ...(fluid ? { fluid } : {}),
    timeConstantS,
    b0,
    b0Across,
    b0Limit,
    fanShare,
    fanPowerW,
    areaLimitShare: said("area", areaLimitShare),
    probeLimitK: said("probes", inletProbe.limitK),
    meterAt: flow.meter.at,
    meterLimitShare: said("flowMeter", flow.meter.limitShare),
    ...(flow.kind === "tank" ? { heatBy: "tank", tankKg: flow.massKg, tankLimitShare: flow.meter.limitShare } : {}),
    ...(stated === null || flow.kind === "tank"
      ? {}
      : { stated, statedAs: flow.kind === "constant" ? "mass" : flow.kind }),
    ...(flow.kind === "speed"
      ? {
          ductKind: flow.duct.kind,
          ductLimitM: said("duct", flow.ductLimitM),
          profileFactor: said("profile", flow.profileFactor),
          profileLimit: said("profile", flow.profileLimit),
        }
      : {}),
    ...(duct?.kind === "round" ? { diameterM: duct.diameterM } : {}),
    ...(duct?.kind === "rectangular" ? { widthM: duct.widthM, heightM: duct.heightM } : {}),
  };
}

/**
 * A lane's flow as the import sends it; what nobody stated is taken widely.
 * @param instant of a time on the logger's clock, ms
 */
export function flowOf(lane: LaneDraft, kind: FlowKind, instant: (at: string) => number): StoredLaneSetup["flow"] {
  const meter = {
    key: String(lane.station),
    at: lane.meterAt ?? "outlet",
    limitShare: lane.meterLimitShare ?? WIDE.meterShare,
    limitFixed: 0,
  };
  if (kind === "tank")
    return {
      kind: "tank",
      massKg: lane.tankKg ?? NaN,
      meter: { ...meter, limitShare: lane.tankLimitShare ?? WIDE.tankShare },
    };
  const as = kind === "constant" ? lane.statedAs : kind;
  const stated = kind === "constant" ? lane.stated : null;
  const anew = kind === "constant" ? (lane.flowChanges ?? []) : [];
  const changes = anew.map(({ at, reading }) => ({ fromMs: instant(at), reading: reading ?? NaN }));
  const set = changes.length > 0 ? { changes } : {};
  if (as === "volume") return { kind: "volume", meter, stated, ...set };
  if (as === "mass")
    return stated === null ? { kind: "mass", meter } : { kind: "constant", massFlowKgPerS: stated, meter, ...set };
  return {
    kind: "speed",
    duct:
      lane.ductKind === "round"
        ? { kind: "round", diameterM: lane.diameterM ?? NaN }
        : { kind: "rectangular", widthM: lane.widthM ?? NaN, heightM: lane.heightM ?? NaN },
    ductLimitM: lane.ductLimitM ?? WIDE.ductM,
    profileFactor: lane.profileFactor ?? WIDE.profileFactor,
    profileLimit: lane.profileLimit ?? (lane.profileFactor === null ? WIDE.profileLimit : 0.04),
    meter,
    stated,
    ...set,
  };
}
