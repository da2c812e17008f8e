import type { Knex } from "knex";
import { z } from "zod";
import { eventSchema, type EventDetail, type StatedEvent } from "../../core/experiment/schema/event";
import { instantSchema } from "../../core/experiment/schema/bounds";
import { foldLayers } from "../../core/experiment/layers";
import { standsAfter } from "../../core/experiment/swaps";
import { CHANNEL_KINDS, LANE_KINDS } from "../../core/log/channel";
import { QUANTITIES } from "../../core/quantity/quantities";
import type { StoredRun } from "../../core/experiment/types";
import { actor } from "../../data/actor";
import { findExperiment } from "../../data/experiment/experiments";
import { recordChange } from "../../data/journal";
import { acknowledge } from "../../data/run/alarms";
import { changeEvent, eventKeptAt, findEvent, insertEvent, markEventDeleted } from "../../data/run/events";
import { insertLayer, markLayersRemoved } from "../../data/run/layers";
import { listDevices } from "../../data/device/devices";
import { findRig } from "../../data/rig/rigs";
import { rivalRuns, type FedRun } from "../../data/run/live";
import { setLive, setLiveUnit } from "../../data/run/runs";
import { transact } from "../../data/transact";
import { command, done, GONE, refused, type Outcome } from "../web/command";

const id = z.number().int().positive();
const touchesExperiment = (experiment: number) => ({ experiment });
/** The bench's clock when it was pressed: of a simulated bench it is not the server's. */
const at = instantSchema;

async function liveRun(knex: Knex, experimentId: number, runId: number): Promise<StoredRun | undefined> {
  return (await findExperiment(knex, experimentId))?.runs.find((r) => r.id === runId && r.live);
}

/** Readings go on being kept; from now on they count for nothing, until the run goes on. */
export const pauseRun = command({
  right: "hand",
  input: z.tuple([id, id, at]),
  async run(knex, experimentId, runId, atMs) {
    const run = await liveRun(knex, experimentId, runId);
    if (!run) return GONE;
    if (run.live!.endedAt !== null) return refused("This run has ended. Nothing was changed.");
    if (run.live!.pausedAt !== null) return refused("This run is paused already.");
    await transact(knex, async (trx) => {
      await setLive(trx, experimentId, runId, { pausedAt: Math.max(atMs, run.live!.startedAt) });
      await recordChange(trx, experimentId, "run paused", { run: run.number, atMs });
    });
    return done();
  },
  touches: touchesExperiment,
});

/** What was measured meanwhile is set aside, as a layer that can be taken off. */
async function closePause(trx: Knex, run: StoredRun, untilMs: number): Promise<void> {
  const { pausedAt } = run.live!;
  if (pausedAt === null || untilMs <= pausedAt) return;
  await insertLayer(trx, run.id, {
    kind: "exclusion",
    detail: { lane: null, fromMs: pausedAt, toMs: untilMs },
    reason: "paused",
  });
}

export const resumeRun = command({
  right: "hand",
  input: z.tuple([id, id, at]),
  async run(knex, experimentId, runId, atMs) {
    const run = await liveRun(knex, experimentId, runId);
    if (!run) return GONE;
    if (run.live!.pausedAt === null) return refused("This run is not paused.");
    await transact(knex, async (trx) => {
      await closePause(trx, run, atMs);
      await setLive(trx, experimentId, runId, { pausedAt: null });
      await recordChange(trx, experimentId, "run went on", { run: run.number, atMs });
    });
    return done();
  },
  touches: touchesExperiment,
});

/** From here on readings belong to the device alone. Ended too early, it can be opened again: nothing was lost. */
export const endRun = command({
  right: "hand",
  input: z.tuple([id, id, at]),
  async run(knex, experimentId, runId, atMs) {
    const run = await liveRun(knex, experimentId, runId);
    if (!run) return GONE;
    if (run.live!.endedAt !== null) return refused("This run has ended already.");
    await transact(knex, (trx) => endLiveRun(trx, { experimentId, runId }, atMs));
    return done();
  },
  touches: touchesExperiment,
});

/** Ends an open run as part of what else is done; a run that is gone or over stays as it is. */
export async function endLiveRun(
  trx: Knex,
  { experimentId, runId }: { experimentId: number; runId: number },
  atMs: number,
): Promise<void> {
  const run = await liveRun(trx, experimentId, runId);
  if (!run || run.live!.endedAt !== null) return;
  const endedAt = Math.max(atMs, run.live!.startedAt + 1);
  await closePause(trx, run, endedAt);
  await setLive(trx, experimentId, runId, { endedAt, pausedAt: null });
  await recordChange(trx, experimentId, "run ended", { run: run.number, endedAt });
}

export const reopenRun = command({
  right: "hand",
  input: z.tuple([id, id]),
  async run(knex, experimentId, runId) {
    const run = await liveRun(knex, experimentId, runId);
    if (!run) return GONE;
    if (run.live!.endedAt === null) return refused("This run goes on already.");
    const since = await readingsOfOthers(knex, run);
    if (since) return refused(since);
    await transact(knex, async (trx) => {
      await setLive(trx, experimentId, runId, { endedAt: null });
      await recordChange(trx, experimentId, "run opened again", { run: run.number });
    });
    return done();
  },
  touches: touchesExperiment,
});

/** The run that reads a device's collectors since this one ended. */
export async function takenBy(knex: Knex, run: StoredRun, streamId: number): Promise<FedRun | undefined> {
  const endedAt = run.live!.endedAt!;
  return (await rivalRuns(knex, run.id, streamId, LANE_KINDS)).find((r) => (r.endedAt ?? Infinity) > endedAt);
}

/** Why a run cannot go on: what its devices have sent since belongs to something else. */
async function readingsOfOthers(knex: Knex, run: StoredRun): Promise<string | null> {
  const endedAt = run.live!.endedAt!;
  const rig = await findRig(knex);
  const devices = await listDevices(knex);
  for (const { id: streamId } of run.streams.filter((s) => s.live)) {
    const other = await takenBy(knex, run, streamId);
    if (other)
      return `Since it ended, run ${other.number} of “${other.experiment}” has taken what this device sends. Start a new run under Devices. Nothing was changed.`;
    const simulated = devices.find((d) => d.streamId === streamId)?.kind === "rig";
    if (simulated && rig && rig.settings.startMs >= endedAt)
      return "Since it ended, the simulated bench was set up anew: other boxes stand on it. Start a new run under Devices. Nothing was changed.";
  }
  return null;
}

/** From now on the run rests outside of the plan's hours and ends with the last of them; or a person begins and ends it. */
export const followThePlan = command({
  right: "hand",
  input: z.tuple([id, id, z.boolean(), at]),
  async run(knex, experimentId, runId, follow, atMs) {
    const experiment = await findExperiment(knex, experimentId);
    const run = experiment?.runs.find((r) => r.id === runId && r.live);
    if (!experiment || !run) return GONE;
    if (run.live!.endedAt !== null) return refused("This run has ended. Open it again first.");
    if (follow && experiment.plannedDays === null)
      return refused("This experiment has no plan. Keep one under Plan, then the run can follow it.");
    await transact(knex, async (trx) => {
      await setLive(trx, experimentId, runId, { planSeenAt: follow ? Math.max(atMs, run.live!.startedAt) : null });
      await recordChange(trx, experimentId, follow ? "run follows the plan" : "run by hand", { run: run.number });
    });
    return done();
  },
  touches: touchesExperiment,
});

/** A channel's unit for one live run, said anew: its readings, kept as sent, are read by it from the first to the last. */
export const changeUnit = command({
  right: "hand",
  input: z.tuple([id, id, id, id, z.string().max(24)]),
  async run(knex, experimentId, runId, streamId, channelNo, unit) {
    const run = await liveRun(knex, experimentId, runId);
    const channel = run?.streams
      .find((s) => s.id === streamId && s.live)
      ?.channels.find((c) => c.channelNo === channelNo);
    if (!run || !channel?.kind) return GONE;
    const units: readonly { symbol: string }[] = QUANTITIES[CHANNEL_KINDS[channel.kind].quantity].units;
    if (!units.some((u) => u.symbol === unit)) return refused(`“${unit}” is no unit of this channel.`);
    await transact(knex, async (trx) => {
      await setLiveUnit(trx, { runId, streamId, channelNo }, unit);
      await recordChange(trx, experimentId, "unit of a channel changed", {
        run: run.number,
        channel: channel.name,
        from: channel.unit,
        to: unit,
      });
    });
    return done();
  },
  touches: touchesExperiment,
});

/** Why a swap cannot be. Thrown inside a transaction, so that nothing of the event is kept: sent again it is refused again. */
class SwapRefused extends Error {}

/** An outcome, or the swap's refusal in its own words. */
const orRefused = <T extends object>(work: Promise<Outcome<T>>): Promise<Outcome<T>> =>
  work.catch((error: unknown) => {
    if (error instanceof SwapRefused) return refused(error.message);
    throw error;
  });

/** The layer that a swap lays over the run; null for any other event. @throws SwapRefused */
async function swapLayer(trx: Knex, run: StoredRun, event: StatedEvent): Promise<number | null> {
  if (event.kind !== "swap" || !event.lanes) return null;
  const [a, b] = event.lanes;
  if (a === b) throw new SwapRefused("A box does not change places with itself.");
  const stands = standsAfter(foldLayers(run.layers).arrangements, { atMs: event.atMs, lanes: event.lanes });
  if (!stands) throw new SwapRefused(`${a} and ${b} do not both stand on the bench then. Nothing was changed.`);
  return insertLayer(trx, run.id, {
    kind: "assignment",
    detail: { mounts: [], stands },
    reason: event.text || "swapped at the bench",
  });
}

/** Marks an event on a run. Sent again it is there once. A swap splits the run into arrangements. */
export const markEvent = command({
  right: "hand",
  input: z.tuple([id, id, eventSchema]),
  async run(knex, experimentId, runId, event) {
    const run = (await findExperiment(knex, experimentId))?.runs.find((r) => r.id === runId);
    if (!run) return GONE;
    if (event.kind === "swap" && !event.lanes) return refused("Say which two boxes changed places.");
    if (event.kind === "spot" && !event.spot) return refused("Say what was read, and how much it was.");
    return orRefused(
      transact(knex, async (trx) => {
        const { key, atMs, kind, ...said } = event;
        const detail: EventDetail = { ...said, layerId: null };
        const kept = await insertEvent(trx, runId, { key, atMs, kind }, detail);
        if (!kept.fresh) return done({ id: kept.id });
        const layer = await swapLayer(trx, run, event);
        if (layer !== null) await changeEvent(trx, kept.id, atMs, { ...detail, layerId: layer });
        await recordChange(trx, experimentId, "event marked", { run: run.number, kind, atMs });
        return done({ id: kept.id });
      }),
    );
  },
  touches: touchesExperiment,
});

/** Corrects when an event was, and what was said of it. */
export const editEvent = command({
  right: "hand",
  input: z.tuple([
    id,
    id,
    z.object({
      eventId: id,
      atMs: instantSchema,
      text: z.string().trim().max(500),
      photoId: id.nullable().optional(),
    }),
  ]),
  async run(knex, experimentId, runId, { eventId, atMs, text, photoId }) {
    const run = (await findExperiment(knex, experimentId))?.runs.find((r) => r.id === runId);
    const event = run && (await findEvent(knex, runId, eventId));
    if (!run || !event) return GONE;
    return orRefused(
      transact(knex, async (trx) => {
        let { layerId } = event;
        if (event.kind === "swap" && event.lanes && atMs !== event.atMs) {
          if (layerId !== null) await markLayersRemoved(trx, experimentId, [layerId], true);
          const without = { ...run, layers: run.layers.filter((l) => l.id !== layerId) };
          const layer = await swapLayer(trx, without, { ...event, atMs, text });
          layerId = layer;
        }
        const { id: _i, key: _k, atMs: _a, kind: _n, ...detail } = event;
        await changeEvent(trx, eventId, atMs, {
          ...detail,
          text,
          layerId,
          ...(photoId === undefined ? {} : { photoId }),
        });
        await recordChange(trx, experimentId, "event corrected", { run: run.number, eventId, atMs });
        return done();
      }),
    );
  },
  touches: touchesExperiment,
});

/** For so long a bench hand may take back what was pressed by mistake; later it is the owner's, as all deleting is. */
const TAKEN_BACK_MS = 15 * 60_000;

/** Takes an event off the run, or puts it back; the layer of a swap goes and comes with it. */
export const deleteEvent = command({
  right: "hand",
  input: z.tuple([id, id, id, z.boolean()]),
  async run(knex, experimentId, runId, eventId, deleted) {
    const run = (await findExperiment(knex, experimentId))?.runs.find((r) => r.id === runId);
    if (!run) return GONE;
    if (actor().role === "hand" && Date.now() - (await eventKeptAt(knex, runId, eventId)) > TAKEN_BACK_MS)
      return refused(
        "A bench hand takes an event back within 15 minutes; after that the owner does. Nothing was changed.",
      );
    return transact(knex, async (trx) => {
      const event = deleted ? await findEvent(trx, runId, eventId) : null;
      if (deleted && !event) return GONE;
      await markEventDeleted(trx, eventId, deleted);
      const layerId = (event ?? (await findEvent(trx, runId, eventId)))?.layerId ?? null;
      if (layerId !== null) await markLayersRemoved(trx, experimentId, [layerId], deleted);
      await recordChange(trx, experimentId, deleted ? "event deleted" : "event restored", { eventId });
      return done();
    });
  },
  touches: touchesExperiment,
});

export const acknowledgeAlarm = command({
  right: "hand",
  input: z.tuple([id, id, id, at]),
  async run(knex, experimentId, runId, alarmId, atMs) {
    const run = await liveRun(knex, experimentId, runId);
    if (!run || !(await acknowledge(knex, runId, alarmId, atMs))) return GONE;
    await recordChange(knex, experimentId, "alarm acknowledged", { run: run.number, alarmId });
    return done();
  },
  touches: () => "nothing",
});
