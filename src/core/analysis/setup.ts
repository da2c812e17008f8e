import type { Slanted } from "../optics/covers";
import type { Fluid } from "../fluids/fluid";
import type { Correction } from "../calibration/correction";
import type { DuctShape } from "../flow/duct";
import type { SiteDetail } from "../site/site";
import type { Place, Plane } from "../sun/position";

/** What one temperature probe is worth: maker's limit and display step, K. The key names the physical probe. */
export interface ProbeSetup {
  key: string;
  limitK: number;
  resolutionK: number;
  /** Where several probes stand for one: how far they stand from their mean, standard, K. */
  spreadK?: number;
  /** Layer over the stated limit; the raw readings stay. */
  calibration?: ProbeCalibrationLayer;
}

/** A probe's correction for one run, with what it shares with the other probes of its bath. */
export interface ProbeCalibrationLayer {
  correction: Correction;
  driftK: number;
  /** Names the bath: its reference's error is one for all its probes, and cancels between them. */
  bath: string;
  referenceStandardK: number;
}

/** True ÷ shown, found with bag, bucket, smoke or a rating, and its ± limit: laid over the meter. */
interface MeterFactor {
  factor?: number;
  factorLimit?: number;
}

/** Set anew while nothing logged it: what the meter showed from then on, in its SI unit. */
export interface FlowChange {
  fromMs: number;
  reading: number;
}

interface SetAnew {
  /** In order of time; before the first the stated reading holds. */
  changes?: FlowChange[];
}

export type FlowSetup =
  | (SetAnew & {
      kind: "speed";
      duct: DuctShape;
      /** ± on each side or the diameter, m. */
      ductLimitM: number;
      /** Mean speed ÷ indicated speed, and its ± limit. */
      profileFactor: number;
      profileLimit: number;
      meter: MeterSetup;
      /** Read once by hand and not logged, m/s. */
      stated?: number | null;
    })
  /** `stated`: read once by hand or from a rating, m³/s. */
  | ({ kind: "volume"; meter: MeterSetup; stated?: number | null } & MeterFactor & SetAnew)
  | ({ kind: "mass"; meter: MeterSetup } & MeterFactor)
  /** Not logged: one figure for the whole run, kg/s. */
  | ({ kind: "constant"; massFlowKgPerS: number; meter: MeterSetup } & MeterFactor & SetAnew)
  /** No flow at all: heat is what warmed the tank's water, kg, with what is in hoses and box. The "meter" is the tank. */
  | ({ kind: "tank"; massKg: number; meter: MeterSetup } & MeterFactor);

/** What the meter showed for the whole run where it was not logged; null where it was. In the meter's SI unit. */
export function statedReading(flow: FlowSetup): number | null {
  if (flow.kind === "constant") return flow.massFlowKgPerS;
  return flow.kind === "mass" || flow.kind === "tank" ? null : (flow.stated ?? null);
}

/** What nobody stated about a run's instruments and boxes, and is therefore taken widely. */
export const ASSUMABLE = ["probes", "flowMeter", "profile", "duct", "sunSensor", "outside", "area"] as const;
export type Assumed = (typeof ASSUMABLE)[number];

export interface MeterSetup {
  /** Names the physical meter: one carried from lane to lane has one key. */
  key: string;
  /** Where it stands; its temperature gives the density. */
  at: "inlet" | "outlet";
  /** ± share of reading. */
  limitShare: number;
  /** ± fixed part, in the meter's SI unit. */
  limitFixed: number;
}

export interface LaneSetup {
  /** Letter of the specimen in this experiment. */
  lane: string;
  specimen: string;
  variant: string;
  /** Place on the bench, from 1. */
  station: number;
  fluid: Fluid;
  /** Area by the chosen basis, m², and its ± share. */
  areaM2: number;
  /** Outer size, m²: flow is stated and compared per gross area, whatever heat is divided by. Left out: the same as `areaM2`. */
  grossAreaM2?: number;
  areaLimitShare: number;
  inletProbe: ProbeSetup;
  outletProbe: ProbeSetup;
  flow: FlowSetup;
  /** Fan between the probes: this share of its logged power warms the stream, 0 to 1. */
  fanShare: number;
  /** Electric power stated where none is logged, W. */
  fanPowerW?: number | null;
  timeConstantS: number;
  /** Incidence modifier coefficient and its ± limit. */
  b0: number;
  /** The same for the beam seen across tubes that run up the plane; null or left out: as b0, whatever the direction. */
  b0Across?: number | null;
  /** Beyond 60°, by its covers; left out: as one clear glass. */
  slanted?: Slanted;
  b0Limit: number;
  /** An absorber without a cover: emittance over absorptance; null or left out for a covered one. */
  bareShare?: number | null;
  /** Largest efficiency the optics allow (τα), or null when unknown. */
  opticalLimit: number | null;
}

export interface RunSetup {
  run: string;
  place: Place;
  plane: Plane;
  zone: string;
  linkeTurbidity: number;
  /** Ground, skyline and what stands near the bench; left out where nothing is known of it. */
  surroundings?: SiteDetail;
  /** Its own limit, and with what moving a horizontal one's light to the plane adds over the run. */
  sunSensor: { key: string; limitShare: number; sensorShare?: number; mounting: "plane" | "horizontal" | "modelled" };
  /** Of the ground before the boxes while the run lasted; null or left out: as the site says. */
  groundReflectance?: number | null;
  /** Days of snow before the boxes, first and last, by the site's calendar; null or left out: none that was dated. */
  snow?: { from: string; until: string } | null;
  ambientProbe: ProbeSetup;
  /** Used where no barometer is logged, Pa, with its ± limit. */
  pressurePa: number;
  pressureLimitPa: number;
  /** Used where no hygrometer is logged, 0 to 1, with its ± limit. */
  relativeHumidity: number;
  humidityLimit: number;
  /** Taken widely, because nobody stated it. */
  assumed?: readonly Assumed[];
  /** Keys of what is implausible and was said to be right. */
  accepted?: readonly string[];
  /** Readings were taken by a person, row by row: each is a point of its own, not a sample of a mean. */
  byHand?: boolean;
  lanes: LaneSetup[];
}

/** All channels of a run on one clock, cleaned. Missing channels are null. */
export interface RunSeries {
  startMs: number;
  stepMs: number;
  irradiance: Float64Array | null;
  ambient: Float64Array | null;
  wind: Float64Array | null;
  humidity: Float64Array | null;
  pressure: Float64Array | null;
  /** A second sensor, horizontal: with the first in the plane the light is split by what both saw. */
  horizontalSun?: Float64Array | null;
  /** Standard uncertainty of moving a horizontal sensor's light to the plane, as a share; null where none was moved. */
  transposition?: Float64Array | null;
  lanes: ReadonlyMap<string, LaneSeries>;
}

/** What is logged at one place. */
export interface PlaceSeries {
  inlet: Float64Array | null;
  outlet: Float64Array | null;
  speed: Float64Array | null;
  volumeFlow: Float64Array | null;
  massFlow: Float64Array | null;
  /** W; logged, or volts by amperes, or how fast its counter counts. */
  fanPower: Float64Array | null;
  /** 1 on, 0 off. */
  fanState: Float64Array | null;
  /** Probes of one stream apart from their mean, standard, K; null where one probe stands for it. */
  inletSpreadK: number | null;
  outletSpreadK: number | null;
  /** °C */
  tank: Float64Array | null;
}

/** A lane's series at its place; the flow is of the kind its set-up says. */
export interface LaneSeries {
  inlet: Float64Array | null;
  outlet: Float64Array | null;
  flow: Float64Array | null;
  fanPower: Float64Array | null;
  /** °C, where heat is counted by it. */
  tank?: Float64Array | null;
}

export interface OperatingPoint {
  irradianceWm2: number;
  ambientC: number;
  inletC: number;
  /** Mass flow per gross area, kg/(s·m²), the same for all lanes. */
  flowPerArea: number;
}
