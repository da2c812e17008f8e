/** Where an uncertainty comes from. Two figures that share a source hold equal identities. */
export type Source = SourceIdentity & {
  /** Lane letter, instrument label or other owner; empty for shared. */
  owner: string;
  /** Degrees of freedom of its standard uncertainty (GUM G.4); Infinity when stated by a maker. */
  dof: number;
  /** Sources whose sizes come from one and the same estimate of a variance, the coefficients of one fit: they are off together. */
  estimate?: string;
};

/** What a source is: its kind and the thing whose error it is. Equal identities are one source. */
export type SourceIdentity =
  | { kind: "probe" | "ambient" | "drift"; probe: string }
  | { kind: "reference"; bath: string }
  | { kind: "probeNoise" | "speedNoise" | "sunNoise"; run: string; window: number; channel: string }
  | { kind: "speedMeter" | "volumeMeter" | "massMeter" | "profile" | "ductArea"; meter: string }
  /** How much water a tank holds. */
  | { kind: "tankWater"; meter: string }
  /** What a tank itself loses: of one lane, or "" of all. */
  | { kind: "tankLoss"; lane: string }
  | { kind: "sunSensor"; sensor: string }
  /** A horizontal sensor's light moved to the collector plane: split, sky and ground. */
  | { kind: "transposition"; sensor: string }
  | { kind: "pressure" | "humidity" | "sky" }
  /** How much of the light came straight from the sun under cloud. */
  | { kind: "beamShare" }
  | { kind: "specificHeat"; fluid: string }
  | { kind: "area"; specimen: string }
  | { kind: "incidence"; variant: string }
  | { kind: "station"; station: number }
  | { kind: "curveFit"; lane: string; scatter: "window" | "day" | "held"; row: number }
  /** A straight curve stretched beyond its points: what bend nobody saw may do there. */
  | { kind: "unseenBend"; lane: string }
  | { kind: "dayScatter" | "repeatability"; lanes: string }
  /** Lanes tested one after another, on days that were not alike. */
  | { kind: "weather"; lanes: string }
  /** A loss nobody measured or drew: what boxes of all kinds have. */
  | { kind: "usualLoss"; lane: string }
  /** Lanes read by hand one after another, under a sun that moved on. */
  | { kind: "readApart"; run: string }
  /** What a method's own readings scatter about its model, for one of its figures. */
  | { kind: "methodScatter"; method: string; figure: string }
  | { kind: "otherNoise"; name: string }
  | { kind: ModelSourceKind };

/** What the collector model does not know well. */
export type ModelSourceKind =
  | "transmittance"
  | "absorptance"
  | "emittance"
  | "gapConvection"
  | "streamTransfer"
  | "windLoss"
  | "insulation"
  | "edge"
  | "friction"
  | "heatHeld";

export type SourceKind = SourceIdentity["kind"];

/** One physical thing may serve in several ways: a probe in a lane or outside, a meter of speed or volume. */
const FAMILY: Partial<Record<SourceKind, string>> = {
  ambient: "probe",
  speedMeter: "flowMeter",
  volumeMeter: "flowMeter",
  massMeter: "flowMeter",
};

/** Equal for equal identities; owner, degrees of freedom and where the size comes from do not count. */
export function sourceKey(source: Source): string {
  // Asked for every reading of every window: without taking the source apart.
  let key: string = FAMILY[source.kind] ?? source.kind;
  for (const name in source)
    if (!NO_IDENTITY.has(name)) key += `:${(source as unknown as Record<string, string | number>)[name]}`;
  return key;
}

const NO_IDENTITY: ReadonlySet<string> = new Set(["kind", "owner", "dof", "estimate"]);
