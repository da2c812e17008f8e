import type { Design } from "../collector/design";
import type { ChannelKind } from "../log/channel";
import type { ImportSummary } from "../log/logData";
import type { RunLayer } from "./layers";
import type { AsBuilt } from "./schema/design";
import type { PlaceSetup, SpecimenSetup, StoredRunSetup } from "./schema/run";
import type { ExperimentSettings } from "./schema/settings";
import type { StoredSiteDetail } from "./schema/site";

/** Where a bench stands, as kept. */
export interface Site {
  id: number;
  name: string;
  latitude: number;
  longitude: number;
  altitudeM: number;
  zone: string;
  detail: StoredSiteDetail;
}

export interface ExperimentLane {
  letter: string;
  specimenId: number;
  specimenNumber: number;
  variantId: number;
  variant: string;
  /** The revision this specimen was built to. */
  revision: number;
  design: Design;
  asBuilt: AsBuilt;
}

export interface DrawnVariant {
  letter: string;
  variantId: number;
  variant: string;
  design: Design;
}

/** What a file's column holds. Which instrument it is and where it measures is for an assignment layer to say. */
export interface StoredChannel {
  channelNo: number;
  name: string;
  kind: ChannelKind | null;
  unit: string | null;
  /** Of a live channel: instead of a unit, what one of it is, SI. */
  factor?: number | null;
}

/** The part of a device's stream that a run looks at. Its readings are kept as sent, in the units of its channels. */
export interface LiveSpan {
  fromMs: number;
  /** null: it goes on. */
  untilMs: number | null;
  /** Grows with every reading that comes into the span. */
  version: number;
  /** How many channels the device had when the run began; null: not remembered. */
  known: number | null;
}

export interface StoredStream {
  id: number;
  name: string;
  frames: number;
  startMs: number;
  endMs: number;
  summary: ImportSummary;
  channels: StoredChannel[];
  /** Of a device's stream; left out where a file was imported. */
  live?: LiveSpan;
}

/** A run that a device feeds. */
export interface LiveRun {
  startedAt: number;
  /** null: it runs. */
  endedAt: number | null;
  pausedAt: number | null;
  /** Until when it has followed its plan; null: a person begins and ends it. */
  planSeenAt: number | null;
}

export interface StoredRun {
  id: number;
  number: number;
  note: string;
  setup: StoredRunSetup;
  places: { station: number; setup: PlaceSetup }[];
  specimens: { letter: string; setup: SpecimenSetup }[];
  streams: StoredStream[];
  /** In order, also those that are off. */
  layers: RunLayer[];
  /** Left out where the run was imported. */
  live?: LiveRun;
}

export interface ExperimentHead {
  id: number;
  name: string;
  question: string;
  demoKey: string | null;
  changedAt: number;
  settings: ExperimentSettings;
  site: Site;
  lanes: ExperimentLane[];
  /** Variants drawn and not built yet: each may become the lane of its letter. */
  drawn: DrawnVariant[];
  /** Days of the plan that was kept; null without one. */
  plannedDays: number | null;
  /** Its first day; null: it begins whenever it is looked at. */
  plannedFrom: string | null;
}

export interface Experiment extends ExperimentHead {
  runs: StoredRun[];
}
