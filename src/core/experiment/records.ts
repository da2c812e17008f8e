import type { BillEdits } from "../collector/bill";
import type { Design } from "../collector/design";
import type { StoredCalibration, Instrument } from "./schema/calibration";
import type { AsBuilt, ChecklistState } from "./schema/design";
import type { StoredClimate } from "./schema/site";

export interface Specimen {
  id: number;
  number: number;
  revision: number;
  asBuilt: AsBuilt;
  /** Its lane in this experiment; null when it stands in none. */
  letter: string | null;
  /** Runs it has taken part in here. */
  runs: number;
}

export interface PhotoHead {
  id: number;
  item: string;
  bytes: number;
  createdAt: number;
}

export interface Variant {
  id: number;
  name: string;
  /** On the bench its first lane's letter, before that one of its own. */
  letter: string;
  revision: number;
  /** As drawn now: the newest revision, named or not. */
  design: Design;
  /** The revision before, while the newest is still drawn at; null once it is named or built. */
  workingFrom: Design | null;
  revisions: { revision: number; note: string; createdAt: number }[];
  bill: BillEdits;
  checklist: ChecklistState;
  specimens: Specimen[];
  photos: PhotoHead[];
}

export interface CalibrationHead {
  id: number;
  name: string;
  atMs: number;
  createdAt: number;
  rawFileId: number | null;
  result: StoredCalibration;
}

export interface StoredInstrument extends Instrument {
  id: number;
  createdAt: number;
  changedAt: number;
}

export interface OwnClimate extends StoredClimate {
  id: number;
  name: string;
  kind: "csv" | "epw";
  rawFileId: number | null;
}

export interface Spot {
  at: number;
  text: string;
  run: number | null;
}

export interface RawFile {
  id: number;
  name: string;
  bytes: number;
  sha256: string;
}

/** What may be stored wrongly, each for itself. */
export const BROKEN_KINDS = [
  "settings",
  "site",
  "design",
  "bill",
  "checklist",
  "specimen",
  "run",
  "layer",
  "plan",
  "calibration",
  "instrument",
  "climate",
  "unavailable",
  "material",
] as const;
export type BrokenKind = (typeof BROKEN_KINDS)[number];

/** A stored part that cannot be read: it is left out, and everything else is shown. */
export interface BrokenPart {
  kind: BrokenKind;
  id: number | string;
  /** The experiment it belongs to; null for what all share. */
  experimentId: number | null;
  name: string;
  why: string;
  /** It can be read, but computing with it failed. */
  computed?: true;
}

/** What was deleted and can still be brought back. */
export interface DeletedThing {
  kind: "experiment" | "run";
  id: number;
  experimentId: number;
  name: string;
  deletedAt: number;
  /** When it goes for good. */
  goesAt: number;
}

export type DeviceKind = "logger" | "rig" | "browser";

/** What sends readings, and what its stream holds. */
/** Frames kept apart from a device's stream, because its clock seems to have been reset. Times as stamped, and as their arrival says. */
export interface HeldFrames {
  frames: number;
  firstMs: number;
  lastMs: number;
  firstArrivedMs: number;
  lastArrivedMs: number;
}

export interface DeviceRow {
  id: number;
  name: string;
  kind: DeviceKind;
  /** Its clock is a simulated bench's. */
  simulated: boolean;
  tokenEnd: string;
  createdAt: number;
  revokedAt: number | null;
  seenAt: number | null;
  /** When readings of it were last taken, by Bravel's clock. */
  heardAt: number | null;
  /** By how much its clock seemed slow when it was last heard of, ms, and since when by about as much. */
  lagMs: number | null;
  lagSinceMs: number | null;
  lastFault: string | null;
  lastFaultAt: number | null;
  streamId: number;
  frames: number;
  /** Readings kept beside another one of the same instant and channel, which stands. */
  second: number;
  held: HeldFrames | null;
  /** Times of its first and newest frame. */
  startMs: number | null;
  endMs: number | null;
  channels: string[];
}
