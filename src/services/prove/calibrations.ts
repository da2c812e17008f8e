import type { Knex } from "knex";
import { z } from "zod";
import { bathOptionsSchema, type StoredCalibration } from "../../core/experiment/schema/calibration";
import { calibrateBath, type BathCalibration, type BathResult } from "../../core/calibration/bath";
import type { BathOptions } from "../../core/calibration/bathOptions";
import { CHANNEL_KINDS } from "../../core/log/channel";
import type { LogSettings } from "../../core/log/logData";
import { isZone } from "../../core/log/zone";
import { fromLimit } from "../../core/uncertainty/uncertain";
import { findFile } from "../../data/file/files";
import { insertCalibration } from "../../data/calibration/calibrations";
import { inspectFile, type InspectProblem } from "../import/imports";
import { readStoredLog } from "../import/storedLog";

export interface BathColumn {
  index: number;
  header: string;
  /** Units a temperature can have; °C unless the header says otherwise. */
  unit: "°C" | "°F" | "K";
  used: boolean;
  /** False where the header names no unit: °C until a person says. */
  said?: boolean;
}

export type BathFile =
  | { ok: true; fileId: number; name: string; columns: BathColumn[] }
  | { ok: false; name: string; problem: InspectProblem };

const UNITS = ["°C", "°F", "K"] as const;

/** A bath's log and how it is to be read and calibrated. */
export const bathRequestSchema = z.object({
  fileId: z.number().int().positive(),
  zone: z.string().max(64),
  options: bathOptionsSchema,
  columns: z
    .array(
      z.object({
        index: z.number().int().min(0),
        header: z.string().max(255),
        unit: z.enum(UNITS),
        used: z.boolean(),
      }),
    )
    .max(200),
});

/** Looks at a bath's log: which columns may be probes. */
export async function inspectBath(knex: Knex, fileId: number): Promise<BathFile | null> {
  const inspection = await inspectFile(knex, fileId);
  if (!inspection) return null;
  const { layout, file } = inspection;
  if (!layout) return { ok: false, name: file.name, problem: inspection.problem! };
  const data = layout.columns.filter((c) => !layout.timeColumns.includes(c.index));
  const isTemperature = (c: (typeof data)[number]) =>
    c.kind
      ? CHANNEL_KINDS[c.kind].quantity === "temperature"
      : UNITS.includes(c.unit as "°C") || /°|temp|probe|t\d/i.test(c.header);
  const any = data.some(isTemperature);
  return {
    ok: true,
    fileId,
    name: file.name,
    columns: data.map((c) => ({
      index: c.index,
      header: c.header,
      unit: (UNITS.includes(c.unit as "°C") ? c.unit : "°C") as "°C",
      said: UNITS.includes(c.unit as "°C"),
      used: any ? isTemperature(c) : c.kind === null,
    })),
  };
}

/** `1-in (°C)` and `Probe 3 [F]` are the labels 1-in and Probe 3. */
export const probeLabel = (header: string): string =>
  header
    .replace(/\s*[([][^)\]]*[)\]]\s*$/, "")
    .trim()
    .slice(0, 60) || header.slice(0, 60);

export interface BathRequest {
  fileId: number;
  zone: string;
  columns: readonly BathColumn[];
  options: BathOptions;
}

/** Reads the log and calibrates. null when the file is gone. */
export async function runBath(knex: Knex, request: BathRequest): Promise<BathCalibration | null> {
  const inspection = await inspectFile(knex, request.fileId);
  const file = await findFile(knex, request.fileId);
  if (!inspection?.layout || !file || !isZone(request.zone)) return null;
  const used = request.columns.filter((c) => c.used);
  const { timeFormat } = inspection.layout;
  // A stopwatch's log has no date: the day it came in stands for it.
  const stated = timeFormat.kind === "elapsed" ? timeFormat.startMs : 0;
  const startMs = Number.isFinite(stated) ? stated : Date.now();
  const settings: LogSettings = {
    ...inspection.layout,
    timeFormat: timeFormat.kind === "elapsed" ? { ...timeFormat, startMs } : timeFormat,
    zone: request.zone,
    columns: inspection.layout.columns.map((c) => {
      const probe = used.find((u) => u.index === c.index);
      return probe
        ? { index: c.index, header: c.header, kind: "ambient", lane: null, unit: probe.unit }
        : { ...c, kind: null, lane: null };
    }),
  };
  const data = await readStoredLog(knex, file, settings, () => undefined, new AbortController().signal);
  const channels = data.channels
    .filter((c) => c.use.kind !== null)
    .map((c) => ({ key: probeLabel(c.use.header), times: data.times, values: c.values }));
  return calibrateBath(channels, request.options);
}

/** What is kept of a bath's result. */
export function toStored(result: BathResult, options: BathOptions): StoredCalibration {
  return {
    kind: "bath",
    referenceStandardK: fromLimit(options.referenceLimitK),
    spanC: result.spanC,
    spreadBeforeK: result.spreadBeforeK,
    spreadAfterK: result.spreadAfterK,
    probes: result.probes
      .filter((p) => !p.leftOut && Number.isFinite(p.correction.standardOffsetK))
      .map((p) => ({
        key: p.key,
        correction: p.correction,
        lagS: p.lagS,
        residualSdK: p.residualSdK,
        outlier: p.outlier,
      })),
  };
}

/** Calibrates again and keeps the result under a name. */
export async function keepBath(knex: Knex, name: string, request: BathRequest): Promise<{ id: number } | null> {
  const calibration = await runBath(knex, request);
  if (!calibration?.ok) return null;
  const { result } = calibration;
  const id = await insertCalibration(knex, {
    name,
    rawFileId: request.fileId,
    settings: { options: request.options, columns: request.columns, zone: request.zone },
    result: toStored(result, request.options),
    atMs: result.timesMs[result.timesMs.length >> 1],
  });
  return { id };
}
