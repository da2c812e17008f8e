import type { Knex } from "knex";
import { z } from "zod";
import { shiftedTimes, type TimeShift } from "../../core/log/shiftedTimes";
import type { RunLayer } from "../../core/experiment/layers";
import type { LayerDetail, LayerKind } from "../../core/experiment/schema/layer";
import type { Experiment, StoredRun } from "../../core/experiment/types";
import { findExperiment } from "../../data/experiment/experiments";
import { journalOf, recordChange } from "../../data/journal";
import { json } from "../../data/json";
import { readChannels } from "../../data/reading/readings";
import { findEvents, moveEvents, pointEventsAt } from "../../data/run/events";
import { insertLayer, switchOff } from "../../data/run/layers";
import { markRunDeleted, rawFileOf } from "../../data/run/runs";
import { transact } from "../../data/transact";
import { analyse } from "../analysis/analyse";
import { verdictView, type VerdictView } from "../judge/verdictView";
import { command, done, GONE, refused } from "../web/command";
import { ImportRefused, type FullRequest } from "./importRequest";

/** A file as it is read now. */
export interface ReadAnew {
  fileId: number;
  streamId: number;
  times: Float64Array;
  /** Channel number by header. */
  numbers: ReadonlyMap<string, number>;
}

/** An old stream beside the new one of its file. */
interface Twin {
  streamId: number;
  numbers: ReadonlyMap<number, number>;
  shift: TimeShift;
}

/** What every import lays over a run by itself: the new reading has its own. */
const OF_THE_IMPORT = new Set(["as imported", "swap told by a column of the log"]);

/** What reading a run again may change. */
export async function verdictBefore(knex: Knex, { target, replaces }: FullRequest): Promise<VerdictView | null> {
  if (replaces === null || target.kind !== "existing") return null;
  const analysis = await analyse(knex, target.experimentId);
  if (!analysis) return null;
  const { judgement, experiment } = analysis;
  return verdictView(judgement, experiment.runs.length, experiment.settings.smallestDifference);
}

/** The run that is to be read again. @throws ImportRefused when it is not there, or nothing of it was read from a file */
export async function runToReadAgain(trx: Knex, experimentId: number, runId: number): Promise<StoredRun> {
  const run = (await findExperiment(trx, experimentId))?.runs.find((r) => r.id === runId);
  if (!run || run.live || run.setup.byHand) throw new ImportRefused({ kind: "againGone" });
  return run;
}

/**
 * Lets a run that was read anew take the place of the one before: layers and events go over to it, times that were chosen on the
 * readings move with them, and the run before is put away with all it holds, so that it can be taken back.
 * @param was the verdict before
 */
export async function takePlaceOf(
  trx: Knex,
  experiment: Experiment,
  before: StoredRun,
  now: { runId: number; number: number; files: readonly ReadAnew[] },
  was: VerdictView | null,
): Promise<void> {
  const twins = await twinsOf(trx, before, now.files);
  const [first] = twins.values();
  const pressed = (await findEvents(trx, [before.id])).get(before.id) ?? [];
  // A swap pressed at the bench has the bench's time; what was chosen on the readings has theirs.
  const byEvent = new Set(pressed.flatMap((e) => e.layerId ?? []));
  const layers: [number, number][] = [];
  for (const layer of before.layers) {
    if (OF_THE_IMPORT.has(layer.reason)) continue;
    const moved = carried(layer, twins, byEvent.has(layer.id) ? (ms) => ms : (first?.shift ?? ((ms) => ms)));
    if (!moved) continue;
    const id = await insertLayer(trx, now.runId, {
      kind: layer.kind,
      detail: moved,
      reason: layer.reason,
      ...(layer.kind === "calibration" ? { calibrationId: layer.calibrationId } : {}),
    });
    if (!layer.on) await switchOff(trx, id);
    layers.push([layer.id, id]);
  }
  for (const [from, to] of layers) await pointEventsAt(trx, before.id, from, to);
  await moveEvents(trx, before.id, now.runId);
  await markRunDeleted(trx, experiment.id, before.id, true);
  const noted: Noted = { run: now.number, runId: now.runId, from: before.number, fromId: before.id, layers, was };
  await recordChange(trx, experiment.id, READ_AGAIN, noted);
}

const READ_AGAIN = "run read again";

/** What the journal holds of it. @property layers each carried one's old and new number @property was the verdict before */
interface Noted {
  run: number;
  runId: number;
  from: number;
  fromId: number;
  layers: [number, number][];
  was: VerdictView | null;
}

export interface Reading extends Pick<Noted, "run" | "runId" | "from" | "was"> {
  atMs: number;
}

async function lastNoted(knex: Knex, experiment: Experiment): Promise<(Noted & { atMs: number }) | null> {
  const [entry] = await journalOf(knex, experiment.id, 1, undefined, READ_AGAIN);
  if (!entry) return null;
  const noted = json<Noted>(entry.detail);
  return experiment.runs.some((r) => r.id === noted.runId) ? { ...noted, atMs: entry.atMs } : null;
}

/** The newest run that took another's place, and the verdict before; null where none did, or it was taken back. */
export async function lastReading(knex: Knex, experiment: Experiment): Promise<Reading | null> {
  const noted = await lastNoted(knex, experiment);
  return noted && { run: noted.run, runId: noted.runId, from: noted.from, was: noted.was, atMs: noted.atMs };
}

/** The run before comes back with its layers and events, as it was; the new reading is put away. */
export const takeReadingBack = command({
  input: z.tuple([z.number().int().positive()]),
  async run(knex, experimentId) {
    const experiment = await findExperiment(knex, experimentId);
    const noted = experiment && (await lastNoted(knex, experiment));
    if (!experiment || !noted) return GONE;
    const since = experiment.runs.find((r) => r.id === noted.runId)!.layers.some((l) => l.createdAt > noted.atMs);
    if (since)
      return refused(
        `Layers were added to run ${noted.run} since, and run ${noted.from} does not have them. Remove them under Run first, then take the reading back. Nothing was changed.`,
      );
    await transact(knex, async (trx) => {
      for (const [from, to] of noted.layers) await pointEventsAt(trx, noted.runId, to, from);
      await moveEvents(trx, noted.runId, noted.fromId);
      await markRunDeleted(trx, experimentId, noted.runId, true);
      await markRunDeleted(trx, experimentId, noted.fromId, false);
      await recordChange(trx, experimentId, "reading taken back", { run: noted.run, from: noted.from });
    });
    return done();
  },
  touches: (experiment) => ({ experiment }),
});

async function twinsOf(trx: Knex, before: StoredRun, files: readonly ReadAnew[]): Promise<Map<number, Twin>> {
  const twins = new Map<number, Twin>();
  for (const old of before.streams) {
    const fileId = await rawFileOf(trx, old.id);
    const file = files.find((f) => f.fileId === fileId);
    if (!file) continue;
    const times = (await readChannels(trx, old.id, [0])).get(0)!;
    const numbers = old.channels.flatMap(({ channelNo, name }) => {
      const next = file.numbers.get(name);
      return next === undefined ? [] : [[channelNo, next] as const];
    });
    twins.set(old.id, {
      streamId: file.streamId,
      numbers: new Map(numbers),
      shift: shiftedTimes(times, file.times),
    });
  }
  return twins;
}

/** A layer as it lies over the new reading; null where nothing of it is left there. */
function carried(layer: RunLayer, twins: ReadonlyMap<number, Twin>, shift: TimeShift): LayerDetail<LayerKind> | null {
  const at = (ms: number | null) => (ms === null ? null : shift(ms));
  switch (layer.kind) {
    case "clock": {
      const twin = twins.get(layer.detail.streamId);
      return twin ? { ...layer.detail, streamId: twin.streamId } : null;
    }
    case "exclusion":
      return { ...layer.detail, fromMs: shift(layer.detail.fromMs), toMs: shift(layer.detail.toMs) };
    case "assignment": {
      const stands = layer.detail.stands.map((s) => ({ ...s, fromMs: at(s.fromMs), untilMs: at(s.untilMs) }));
      // Where a column measures from the beginning on, the mapping says anew; that it was moved later stays.
      const mounts = layer.detail.mounts.flatMap((m) => {
        const twin = twins.get(m.streamId);
        const channelNo = twin?.numbers.get(m.channelNo);
        if (!twin || channelNo === undefined || m.fromMs === null) return [];
        return [{ ...m, streamId: twin.streamId, channelNo, fromMs: at(m.fromMs), untilMs: at(m.untilMs) }];
      });
      return stands.length || mounts.length ? { stands, mounts } : null;
    }
    default:
      return layer.detail;
  }
}
