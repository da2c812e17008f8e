import { slantedBy, type Cover } from "../src/core/optics/covers";
import { CLIMATES } from "../src/core/site/climates";
import type { Site } from "../src/core/experiment/types";
import {
  BENCH_PLANE,
  BENCH_ZONE,
  CORRUGATED,
  TANSY_RIDGE,
  type BenchAccuracy,
  type BenchPlan,
} from "../src/core/rig/bench";
import type { RigCollector } from "../src/core/rig/simulate";
import type { RigDay } from "../src/core/rig/weather";
import { standardRules } from "../src/core/log/windows";
import type { Design } from "../src/core/collector/design";
import type { EventKind } from "../src/core/log/eventKind";
import type { AsBuilt } from "../src/core/experiment/schema/design";
import type { PlanSettings } from "../src/core/experiment/schema/plan";
import type { ExperimentSettingsInput } from "../src/core/experiment/schema/settings";
import { LOFT_SEASON, MIRROR_SEASON, WASH_SEASON } from "./apply";
import {
  cans,
  corrugated,
  hoseClose,
  hoseOpen,
  mesh,
  mirrored,
  selective,
  TEN,
  twoGlass,
  twoGlassFoam,
  twoGlassSelective,
} from "./designs";

/** The demo world: Tansy Ridge, a wool-drying loft on a hill terrace. All of it is invented. */
export const SITE: Omit<Site, "id"> = {
  name: "Tansy Ridge",
  ...TANSY_RIDGE,
  zone: BENCH_ZONE,
  detail: {
    turbidity: [2.2, 2.3, 2.6, 2.9, 3.1, 3.2, 3.3, 3.2, 2.9, 2.6, 2.3, 2.2],
    groundReflectance: [0.55, 0.55, 0.4, 0.22, 0.2, 0.2, 0.2, 0.2, 0.2, 0.2, 0.25, 0.45],
    pressurePa: null,
    skyModel: "hayDavies",
    climate: { kind: "shipped", name: CLIMATES[0].name },
    horizon: [
      [0, 6],
      [40, 7],
      [62, 5],
      [78, 8],
      [92, 11],
      [106, 9],
      [120, 5],
      [150, 3],
      [185, 2],
      [215, 4],
      [236, 8],
      [250, 11],
      [262, 10],
      [280, 6],
      [320, 5],
    ].map(([azimuth, altitude]) => ({ azimuth, altitude })),
    obstacles: [
      {
        id: "pear",
        kind: "tree",
        name: "Pear tree",
        bearing: 124,
        distanceM: 15,
        crownDiameterM: 5,
        topM: 6.5,
        bottomM: 1.8,
        transmittance: 0.15,
        winterTransmittance: 0.6,
      },
      {
        id: "gable",
        kind: "wall",
        name: "Loft gable",
        bearing: 285,
        distanceM: 11,
        widthM: 8,
        heightM: 7,
        facing: null,
      },
    ],
  },
};
export { BENCH_PLANE };

/** Cheap but honest instruments, as their makers state them. */
const ACCURACY: BenchAccuracy = {
  probeK: 0.2,
  speedShare: 0.03,
  profileLimit: 0.02,
  sunShare: 0.03,
  ambientK: 0.3,
  stationShare: 0.004,
};
const PROVEN: BenchAccuracy = { ...ACCURACY, probeK: 0.1, speedShare: 0.015, profileLimit: 0.01 };

const AREA = 2;
const FLOW = 0.04;

/** As measured with a tape: what heat is divided by. */
export const TAPED = { grossAreaM2: AREA, apertureAreaM2: 1.96, absorberAreaM2: 1.96 };

const MESH: RigCollector = { ...CORRUGATED, streamTransfer: 48, tauAlpha: 0.795 };
export const CANS: RigCollector = { ...CORRUGATED, streamTransfer: 20, tauAlpha: 0.785 };
const SELECTIVE: RigCollector = { ...CORRUGATED, frontLoss: 3.75, tauAlpha: 0.787 };
const LOW_IRON: Cover = { index: 1.526, extinction: 0.0125 };
/** What the second pane takes of light beyond 60°. */
const TWO_PANES = slantedBy([LOW_IRON, LOW_IRON]);
const TWO_SELECTIVE: RigCollector = {
  ...SELECTIVE,
  slanted: TWO_PANES,
  tauAlpha: 0.652,
  frontLoss: 1.9,
  windLoss: 0.12,
  temperatureLoss: 0.005,
};
/** Hose under a pane: water in the coil is most of what it holds. */
const HOSE_CLOSE: RigCollector = {
  ...CORRUGATED,
  tauAlpha: 0.79,
  streamTransfer: 230,
  frontLoss: 8.6,
  windLoss: 0.5,
  temperatureLoss: 0.02,
  backInner: 2,
  capacity: 50000,
  b0: 0.15,
};
const HOSE_OPEN: RigCollector = { ...HOSE_CLOSE, tauAlpha: 0.712, streamTransfer: 165, frontLoss: 8, capacity: 38000 };
/** Flow well measured, probes as cheap as they come: the coating's effect drowns in them until they are calibrated. */
const CHEAP_PROBES: BenchAccuracy = { ...PROVEN, probeK: 0.5, ambientK: 0.5, speedShare: 0.012, profileLimit: 0.008 };
const TWO_GLASS: RigCollector = {
  ...CORRUGATED,
  slanted: TWO_PANES,
  tauAlpha: 0.655,
  frontLoss: 2.2,
  windLoss: 0.15,
  temperatureLoss: 0.008,
};

const day = (dayOfMonth: number, cloudiness: number, meanAmbientC: number, meanWind: number): RigDay => ({
  dateMs: Date.UTC(2026, 9, dayOfMonth, 10),
  cloudiness,
  meanAmbientC,
  meanWind,
});
const at = (dayOfMonth: number, hour: number, minute = 0) => Date.UTC(2026, 9, dayOfMonth, 0, (hour - 2) * 60 + minute);

const september = (dayOfMonth: number, cloudiness: number): RigDay => ({
  dateMs: Date.UTC(2026, 8, dayOfMonth, 10),
  cloudiness,
  meanAmbientC: 14,
  meanWind: 1.3,
});

/** Mirror up and down by turns about noon, when a mirror as wide as the box lights most of it; on both days alike. */
const MIRROR_UP = [1, 2].flatMap((d) =>
  [11.75, 13, 14.25].map((hour) => ({ fromMs: at(d, hour), toMs: at(d, hour + 0.6) })),
);

/** A heater in the shared plenum steps the inlet up, so that the curve gets its length. */
const STEPS = [
  { fromHour: 0, aboveAmbientK: 0 },
  { fromHour: 11.2, aboveAmbientK: 9 },
  { fromHour: 12.3, aboveAmbientK: 18 },
  { fromHour: 13.4, aboveAmbientK: 27 },
  { fromHour: 14.5, aboveAmbientK: 5 },
];
const LONG_STEPS = [
  { fromHour: 0, aboveAmbientK: 2 },
  { fromHour: 11, aboveAmbientK: 16 },
  { fromHour: 12.2, aboveAmbientK: 32 },
  { fromHour: 13.4, aboveAmbientK: 48 },
  { fromHour: 14.6, aboveAmbientK: 8 },
];

const settings = (over: Partial<ExperimentSettingsInput> = {}): ExperimentSettingsInput => ({
  rules: standardRules("air"),
  basis: "mean",
  areaBasis: "gross",
  operatingPoint: { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 },
  smallestDifference: 15,
  stationShare: 0.004,
  ...over,
});

export interface DemoExperiment {
  key: string;
  name: string;
  question: string;
  settings: ExperimentSettingsInput;
  lanes: { letter: string; variantKey: string; variantName: string; design: Design; asBuilt: Partial<AsBuilt> }[];
  plan: BenchPlan;
  notes: string[];
  /** All probes of the bench logged together in one bath, kept and not applied. */
  bath?: { name: string; dateMs: number };
  /** A plan that was kept; its first day is the next there is time for. */
  planned?: Partial<PlanSettings>;
  /** Only the lanes were logged: no sun sensor, no outside probe. */
  lanesOnly?: boolean;
  /** What was marked at the bench, by run. */
  events?: { run: number; kind: EventKind; lane: string; atMs: number }[];
  /** Drawn, not built. */
  drafts?: { name: string; design: Design }[];
}

/** Ten designs across all absorber forms, to be sorted by prediction before anyone cuts a sheet. */
export const TEN_WAYS = {
  key: "ten-ways",
  name: "Ten ways",
  question: "Which of ten builds is worth cutting sheet for?",
  settings: (): ExperimentSettingsInput =>
    settings({
      ask: {
        factors: [{ name: "Absorber and its air path", aspects: ["absorber", "airPath"] }],
        heldEqual: ["size"],
        use: { season: "winter", mounting: "wall", tilt: 60 },
      },
    }),
  variants: TEN,
};

export const DEMO: DemoExperiment[] = [
  {
    key: "absorber-shapes",
    name: "Absorber shapes",
    question: "Which absorber shape dries the most wool per square metre?",
    settings: settings({
      apply: LOFT_SEASON,
      ask: {
        factors: [{ name: "Absorber shape, with the air path it needs", aspects: ["absorber", "airPath"] }],
        heldEqual: ["size", "coating", "glazing", "backing"],
        use: { season: "between", tilt: 60 },
      },
    }),
    lanes: [
      { letter: "A", variantKey: "corrugated", variantName: "Corrugated sheet", design: corrugated, asBuilt: TAPED },
      { letter: "B", variantKey: "mesh", variantName: "Mesh layers", design: mesh, asBuilt: TAPED },
      { letter: "C", variantKey: "cans", variantName: "Columns of cans", design: cans, asBuilt: TAPED },
      { letter: "D", variantKey: "corrugated", variantName: "Corrugated sheet", design: corrugated, asBuilt: TAPED },
    ],
    plan: {
      seed: 20261005,
      stepS: 10,
      hours: [6, 20],
      accuracy: ACCURACY,
      inletProgram: STEPS,
      specimens: [
        { lane: "A", variant: "corrugated", collector: CORRUGATED, areaM2: AREA, massFlowKgPerS: FLOW },
        { lane: "B", variant: "mesh", collector: MESH, areaM2: AREA, massFlowKgPerS: FLOW * 1.01 },
        { lane: "C", variant: "cans", collector: CANS, areaM2: AREA, massFlowKgPerS: FLOW * 0.955 },
        { lane: "D", variant: "corrugated", collector: CORRUGATED, areaM2: AREA, massFlowKgPerS: FLOW * 0.99 },
      ],
      runs: [
        {
          run: "1",
          stations: { A: 1, B: 2, C: 3, D: 4 },
          days: [day(5, 0.03, 9, 1.6), day(6, 0.05, 10, 1.3), day(7, 0.75, 8, 2.4)],
          faults: [
            { kind: "errorCode", lane: "B", probe: "outlet", fromMs: at(6, 12, 40), toMs: at(6, 12, 46) },
            { kind: "powerUp", lane: "B", probe: "outlet", fromMs: at(6, 12, 46), toMs: at(6, 12, 47) },
          ],
        },
        {
          run: "2",
          stations: { A: 4, B: 3, C: 2, D: 1 },
          days: [day(8, 0.04, 7, 1.8), day(9, 0.06, 8, 1.5)],
          faults: [{ kind: "stuck", lane: "C", probe: "inlet", fromMs: at(9, 13, 20), toMs: at(9, 14, 25) }],
        },
      ],
    },
    notes: [
      "Stations as built. Probe cable of B's outlet found loose on 6 October, pushed home.",
      "Lanes swapped end for end: A and D, B and C.",
    ],
  },
  {
    key: "coating",
    name: "Paint or selective foil",
    question: "Is the selective foil worth its price over matt black paint?",
    settings: settings({
      smallestDifference: 10,
      operatingPoint: { irradianceWm2: 850, ambientC: 6, inletC: 32, flowPerArea: 0.02 },
      ask: {
        factors: [{ name: "Coating", aspects: ["coating"] }],
        heldEqual: ["size", "absorber", "glazing", "backing"],
      },
    }),
    lanes: [
      { letter: "A", variantKey: "paint", variantName: "Matt black paint", design: corrugated, asBuilt: TAPED },
      { letter: "B", variantKey: "foil", variantName: "Selective foil", design: selective, asBuilt: TAPED },
    ],
    plan: {
      seed: 20260921,
      stepS: 10,
      hours: [6, 20],
      accuracy: CHEAP_PROBES,
      inletProgram: LONG_STEPS,
      specimens: [
        { lane: "A", variant: "paint", collector: CORRUGATED, areaM2: AREA, massFlowKgPerS: FLOW },
        { lane: "B", variant: "foil", collector: SELECTIVE, areaM2: AREA, massFlowKgPerS: FLOW },
      ],
      runs: [{ run: "1", stations: { A: 1, B: 2 }, days: [day(12, 0.05, 8, 1.7), day(13, 0.1, 9, 1.4)] }],
    },
    notes: ["Probes as bought, not calibrated."],
    planned: { days: 4, seed: 46309, levelsK: [0, 16, 32] },
    bath: { name: "All probes in the wash kettle", dateMs: Date.UTC(2026, 9, 11, 8) },
  },
  {
    key: "glazing",
    name: "One or two glazings",
    question: "Does a second glass earn its place on the loft's heater?",
    settings: settings({
      operatingPoint: { irradianceWm2: 850, ambientC: 4, inletC: 30, flowPerArea: 0.02 },
      ask: {
        factors: [{ name: "Number of glasses", aspects: ["glazing"] }],
        heldEqual: ["size", "absorber", "coating", "backing"],
        use: { season: "winter" },
      },
    }),
    lanes: [
      { letter: "A", variantKey: "one", variantName: "One glass", design: corrugated, asBuilt: TAPED },
      { letter: "B", variantKey: "two", variantName: "Two glasses", design: twoGlass, asBuilt: TAPED },
      { letter: "C", variantKey: "one", variantName: "One glass", design: corrugated, asBuilt: TAPED },
    ],
    plan: {
      seed: 20261015,
      stepS: 10,
      hours: [6, 20],
      accuracy: PROVEN,
      inletProgram: LONG_STEPS,
      specimens: [
        { lane: "A", variant: "one", collector: CORRUGATED, areaM2: AREA, massFlowKgPerS: FLOW },
        { lane: "B", variant: "two", collector: TWO_GLASS, areaM2: AREA, massFlowKgPerS: FLOW },
        { lane: "C", variant: "one", collector: CORRUGATED, areaM2: AREA, massFlowKgPerS: FLOW },
      ],
      runs: [
        { run: "1", stations: { A: 1, B: 2, C: 3 }, days: [day(15, 0.04, 6, 1.5), day(16, 0.05, 7, 1.2)] },
        { run: "2", stations: { A: 2, B: 1, C: 3 }, days: [day(17, 0.05, 6, 1.6), day(18, 0.08, 5, 1.4)] },
      ],
    },
    notes: ["Before the swap.", "A and B swapped."],
    drafts: [{ name: "Two glasses over rigid foam", design: twoGlassFoam }],
  },
  {
    key: "outside-air",
    name: "Straight from outside",
    question: "On outside air, with a hobby logger and no sun sensor: does the mesh still give more?",
    settings: settings({
      operatingPoint: { irradianceWm2: 800, ambientC: 8, inletC: 8, flowPerArea: 0.02 },
      ask: {
        factors: [{ name: "Absorber shape, with the air path it needs", aspects: ["absorber", "airPath"] }],
        heldEqual: ["size", "coating", "glazing", "backing"],
      },
    }),
    lanes: [
      { letter: "A", variantKey: "corrugated", variantName: "Corrugated sheet", design: corrugated, asBuilt: TAPED },
      { letter: "B", variantKey: "mesh", variantName: "Mesh layers", design: mesh, asBuilt: TAPED },
    ],
    plan: {
      seed: 20261022,
      stepS: 30,
      hours: [8, 18],
      accuracy: CHEAP_PROBES,
      inletProgram: [{ fromHour: 0, aboveAmbientK: 0 }],
      specimens: [
        { lane: "A", variant: "corrugated", collector: CORRUGATED, areaM2: AREA, massFlowKgPerS: FLOW },
        { lane: "B", variant: "mesh", collector: MESH, areaM2: AREA, massFlowKgPerS: FLOW },
      ],
      runs: [
        { run: "1", stations: { A: 1, B: 2 }, days: [day(20, 0.1, 9, 1.6), day(21, 0.35, 8, 1.9)] },
        { run: "2", stations: { A: 2, B: 1 }, days: [day(23, 0.15, 10, 1.4), day(24, 0.4, 9, 2.1)] },
      ],
    },
    notes: ["Both boxes draw outside air; the sun sensor was lent.", "Places exchanged."],
    lanesOnly: true,
  },
  {
    key: "foil-and-pane",
    name: "Foil, second pane, or both",
    question: "In a week of broken cloud: what do selective foil and a second pane give, alone and together?",
    settings: settings({
      operatingPoint: { irradianceWm2: 800, ambientC: 4, inletC: 32, flowPerArea: 0.02 },
      smallestDifference: 10,
      ask: {
        factors: [
          { name: "Coating", aspects: ["coating"] },
          { name: "Panes", aspects: ["glazing"] },
        ],
        heldEqual: ["size", "absorber", "backing"],
        use: { season: "winter" },
      },
    }),
    lanes: [
      { letter: "A", variantKey: "paint", variantName: "Paint, one pane", design: corrugated, asBuilt: TAPED },
      { letter: "B", variantKey: "foil", variantName: "Foil, one pane", design: selective, asBuilt: TAPED },
      { letter: "C", variantKey: "panes", variantName: "Paint, two panes", design: twoGlass, asBuilt: TAPED },
      { letter: "D", variantKey: "both", variantName: "Foil, two panes", design: twoGlassSelective, asBuilt: TAPED },
    ],
    plan: {
      seed: 20261026,
      stepS: 20,
      hours: [8, 18],
      accuracy: PROVEN,
      inletProgram: [
        { fromHour: 0, aboveAmbientK: 8 },
        { fromHour: 11, aboveAmbientK: 22 },
        { fromHour: 14, aboveAmbientK: 34 },
      ],
      specimens: [
        { lane: "A", variant: "paint", collector: CORRUGATED, areaM2: AREA, massFlowKgPerS: FLOW },
        { lane: "B", variant: "foil", collector: SELECTIVE, areaM2: AREA, massFlowKgPerS: FLOW },
        { lane: "C", variant: "panes", collector: TWO_GLASS, areaM2: AREA, massFlowKgPerS: FLOW },
        { lane: "D", variant: "both", collector: TWO_SELECTIVE, areaM2: AREA, massFlowKgPerS: FLOW },
      ],
      runs: [
        { run: "1", stations: { A: 1, B: 2, C: 3, D: 4 }, days: [day(26, 0.8, 5, 1.8), day(27, 0.85, 4, 2.2)] },
        { run: "2", stations: { A: 4, B: 3, C: 2, D: 1 }, days: [day(28, 0.8, 5, 1.6), day(29, 0.85, 3, 2)] },
      ],
    },
    notes: ["Clouds all week; nothing held still long enough for a steady window.", "Boxes turned end for end."],
  },
  {
    key: "bottom-mirror",
    name: "Bottom mirror",
    question: "How much more heat does the mirror at the foot of the box give?",
    settings: settings({
      operatingPoint: { irradianceWm2: 850, ambientC: 7, inletC: 8, flowPerArea: 0.02 },
      apply: MIRROR_SEASON,
      ask: { factors: [{ name: "Mirror", aspects: ["reflector"] }], heldEqual: ["size", "absorber", "glazing"] },
    }),
    lanes: [
      { letter: "A", variantKey: "mirror", variantName: "With mirror", design: mirrored, asBuilt: TAPED },
      { letter: "B", variantKey: "plain", variantName: "Without", design: corrugated, asBuilt: TAPED },
    ],
    plan: {
      seed: 20260930,
      stepS: 20,
      hours: [8, 18],
      accuracy: PROVEN,
      inletProgram: [{ fromHour: 0, aboveAmbientK: 0 }],
      specimens: [
        {
          lane: "A",
          variant: "mirror",
          collector: CORRUGATED,
          areaM2: AREA,
          massFlowKgPerS: FLOW,
          mirror: {
            box: { widthM: 0.976, lengthM: 1.976 },
            hinged: { hinge: "bottom", depthM: 1.5, angle: 118 },
            reflectance: 0.88,
            up: MIRROR_UP,
          },
        },
        { lane: "B", variant: "plain", collector: CORRUGATED, areaM2: AREA, massFlowKgPerS: FLOW },
      ],
      runs: [{ run: "1", stations: { A: 1, B: 2 }, days: [day(1, 0.05, 9, 1.4), day(2, 0.08, 8, 1.7)] }],
    },
    events: MIRROR_UP.flatMap(({ fromMs, toMs }) =>
      [fromMs, toMs].map((atMs) => ({ run: 1, kind: "mirror" as const, lane: "A", atMs })),
    ),
    notes: ["Mirror of A up and folded away by turns about noon, six tenths of an hour each."],
  },
  {
    key: "wash-water",
    name: "Hose coils for wash water",
    question: "Hose wound close or with gaps: which warms a day's wash water more?",
    settings: settings({
      rules: standardRules("water"),
      operatingPoint: { irradianceWm2: 800, ambientC: 12, inletC: 30, flowPerArea: 0.02 },
      smallestDifference: 15,
      tanks: { A: { massKg: 90, limitShare: 0.02 }, B: { massKg: 90, limitShare: 0.02 } },
      apply: WASH_SEASON,
      ask: { factors: [{ name: "Pitch of the coil", aspects: ["absorberSize"] }], heldEqual: ["size", "glazing"] },
    }),
    lanes: [
      { letter: "A", variantKey: "close", variantName: "Wound close", design: hoseClose, asBuilt: TAPED },
      { letter: "B", variantKey: "open", variantName: "Wound with gaps", design: hoseOpen, asBuilt: TAPED },
    ],
    plan: {
      seed: 20260914,
      stepS: 30,
      hours: [7, 23.5],
      fluid: { kind: "water" },
      timeConstantS: 320,
      accuracy: { ...PROVEN, speedShare: 0.02 },
      inletProgram: [{ fromHour: 0, aboveAmbientK: 0 }],
      specimens: [
        {
          lane: "A",
          variant: "close",
          collector: HOSE_CLOSE,
          areaM2: AREA,
          massFlowKgPerS: FLOW,
          tank: { massKg: 90, lossWK: 2.6, fromC: 14 },
        },
        {
          lane: "B",
          variant: "open",
          collector: HOSE_OPEN,
          areaM2: AREA,
          massFlowKgPerS: FLOW,
          tank: { massKg: 90, lossWK: 2.6, fromC: 14 },
        },
      ],
      runs: [
        { run: "1", stations: { A: 1, B: 2 }, days: [september(14, 0.15), september(15, 0.3)] },
        { run: "2", stations: { A: 2, B: 1 }, days: [september(16, 0.2), september(17, 0.1)] },
      ],
    },
    notes: [
      "Tanks filled from the spring at seven, drawn off at night.",
      "Coils exchanged, tanks left where they stand.",
    ],
  },
];
