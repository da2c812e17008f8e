import { useMemo } from "react";
import {
  flowEvidence,
  middleOf,
  sampledLog,
  sunniestRows,
  type FlowEvidence,
  type LaneAbout,
} from "@/core/analysis/evidence";
import { ductArea } from "@/core/flow/duct";
import { standardPressure } from "@/core/fluids/moistAir";
import { columnUnit, type LogSettings } from "@/core/log/logData";
import type { Inspection } from "@/services/import/imports";
import { toSi } from "@/core/quantity/quantities";
import type { FileDraft } from "./draft";
import { WIDE, type LaneDraft } from "./laneDraft";

export interface Evidence {
  /** Three of the sunniest rows as they stand in the file. */
  rows: string[][];
  /** Middle of a column in the sunniest rows, in the file's own unit. */
  middle(index: number): number;
  /** A lane's flow in every unit. */
  flow(lane: string): FlowEvidence[];
}

/** What lies outside of one file. */
export interface Around {
  /** null: nobody has said where the bench stands, and air is not weighed at a guess. */
  altitudeM: number | null;
  /** Sun of the sunniest rows, by whichever file has it, W/m²; null where none has. */
  sunWm2: number | null;
}

/** Sun of the sunniest rows of the files together. */
export function sunOf(files: readonly FileDraft[]): number | null {
  for (const { inspection, settings } of files) {
    const column = settings?.columns.find((c) => c.kind === "irradiance");
    const unit = column && columnUnit("irradiance", column);
    if (!settings || !column || !unit) continue;
    const sample = sampledLog(inspection.sample ?? [], settings.decimal);
    const read = middleOf(sample, column.index, sunniestRows(sample, settings));
    if (!Number.isNaN(read)) return toSi(read, unit);
  }
  return null;
}

/** Glass and coating let no more through than this (typical value); the import tries the drawn box itself. */
const OPTICAL_LIMIT = 0.9;

/** What the file's own readings say about how it is mapped so far. */
export function useEvidence(
  inspection: Inspection,
  settings: LogSettings,
  lanes: Readonly<Record<string, LaneDraft>>,
  { altitudeM, sunWm2 }: Around,
): Evidence {
  const sample = useMemo(
    () => sampledLog(inspection.sample ?? [], settings.decimal),
    [inspection.sample, settings.decimal],
  );
  return useMemo(() => {
    const sunny = sunniestRows(sample, settings);
    const pressurePa = altitudeM === null ? null : standardPressure(Math.min(6000, Math.max(-430, altitudeM)));
    return {
      rows: sunny.slice(0, 3).map((i) => sample.rows[i]),
      middle: (index) => middleOf(sample, index, sunny),
      flow: (lane) =>
        lanes[lane] && pressurePa !== null
          ? flowEvidence(sample, settings, lane, { ...about(lanes[lane], pressurePa), sunWm2 })
          : [],
    };
  }, [sample, settings, lanes, altitudeM, sunWm2]);
}

function about(lane: LaneDraft, pressurePa: number): Omit<LaneAbout, "sunWm2"> {
  const { ductKind, diameterM, widthM, heightM } = lane;
  const section =
    ductKind === "round"
      ? diameterM && ductArea({ kind: "round", diameterM })
      : widthM && heightM && ductArea({ kind: "rectangular", widthM, heightM });
  return {
    fluid: lane.fluid,
    areaM2: lane.grossAreaM2,
    ductM2: section ? section * (lane.profileFactor ?? WIDE.profileFactor) : null,
    opticalLimit: OPTICAL_LIMIT,
    pressurePa,
  };
}
