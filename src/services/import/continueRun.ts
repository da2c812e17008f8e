import type { Knex } from "knex";
import { z } from "zod";
import { foldLayers } from "../../core/experiment/layers";
import type { Mount } from "../../core/experiment/schema/layer";
import type { LogData } from "../../core/log/logData";
import { grownFrom } from "../../data/file/before";
import { findFile, runsWithFile } from "../../data/file/files";
import { recordChange } from "../../data/journal";
import { writeBlocks } from "../../data/reading/readings";
import { findLayers, insertLayer } from "../../data/run/layers";
import { holdRun, insertStream, readAs } from "../../data/run/runs";
import { transact } from "../../data/transact";
import { command, done, refused } from "../web/command";
import { readStoredLog } from "./storedLog";

/** A logger's file that has grown: its new rows go on where its run ended, mapped and mounted as before; what is there already is not taken twice. */
export const continueRun = command({
  right: "hand",
  input: z.tuple([z.number().int().positive()]),
  async run(knex, fileId) {
    const file = await findFile(knex, fileId);
    if (!file) return refused("The file is no longer kept. Drop it again.");
    const before = await grownFrom(knex, file);
    if (!before) return refused("This file does not begin with one that was imported. Import it as a run of its own.");
    const { runId, settings } = await readAs(knex, before.streamId);
    const data = await readStoredLog(knex, file, settings, () => undefined, new AbortController().signal);
    const added = after(data, before.untilMs);
    if (added.times.length === 0)
      return refused("The file has grown, but by no row that could be read. Nothing was added.");
    const kept = await transact(knex, async (trx) => {
      // Pressed twice, the second waits here for the first, and finds its file.
      await holdRun(trx, runId);
      if ((await runsWithFile(trx, file.sha256)).length) return false;
      const streamId = await insertStream(trx, {
        runId,
        rawFileId: file.id,
        name: file.name,
        times: added.times,
        settings,
        summary: data.summary,
        channels: added.channels.map((c, i) => ({
          channelNo: i + 1,
          name: c.use.header.slice(0, 255),
          kind: c.use.kind,
          unit: c.use.unit,
        })),
        problems: data.problems,
      });
      const values = added.channels.map((c, i) => ({ channelNo: i + 1, values: c.values }));
      await writeBlocks(trx, streamId, added.times, values, () => undefined);
      await carryOver(trx, runId, before.streamId, streamId);
      await recordChange(trx, before.experimentId, "run continued", { run: before.run, rows: added.times.length });
      return true;
    });
    if (!kept) return refused("These very readings are in already. Nothing was added.");
    const { experimentId, run } = before;
    return done({ experimentId, run, rows: added.times.length });
  },
  touches: () => "everything",
});

/** Rows later than what is kept already. */
function after({ times, channels }: LogData, untilMs: number): Pick<LogData, "times" | "channels"> {
  const from = times.findIndex((t) => t > untilMs);
  if (from < 0) return { times: new Float64Array(), channels };
  return { times: times.slice(from), channels: channels.map((c) => ({ ...c, values: c.values.slice(from) })) };
}

/** The new rows are measured where and by what the old were, and their logger's clock is the same. */
async function carryOver(trx: Knex.Transaction, runId: number, from: number, to: number): Promise<void> {
  const layers = (await findLayers(trx, [runId])).get(runId) ?? [];
  const { mounts, clocks } = foldLayers(layers);
  const own: Mount[] = mounts.filter((m) => m.streamId === from).map((m) => ({ ...m, streamId: to }));
  const reason = "the same logger wrote on";
  await insertLayer(trx, runId, { kind: "assignment", detail: { mounts: own, stands: [] }, reason });
  const offsetMs = clocks.get(from) ?? 0;
  if (offsetMs !== 0) await insertLayer(trx, runId, { kind: "clock", detail: { streamId: to, offsetMs }, reason });
}
