import { z } from "zod";
import { twoPointCorrection } from "../../core/calibration/twoPoint";
import { instrumentSchema } from "../../core/experiment/schema/calibration";
import { flowLayerSchema } from "../../core/experiment/schema/layer";
import { insertCalibration, markCalibrationDeleted } from "../../data/calibration/calibrations";
import { markInstrumentDeleted, saveInstrument } from "../../data/instrument/instruments";
import { applyCalibration, applyFlow } from "../../data/run/layers";
import { bathRequestSchema } from "./calibrations";
import { heavy } from "../heavy/heavy";
import { command, done, refused } from "../web/command";
import { lineSchema } from "../../core/text/line";

const id = z.number().int().positive();
const everything = () => "everything" as const;
const touches = (experiment: number) => ({ experiment });

export const keepCalibration = command({
  right: "hand",
  input: z.tuple([lineSchema().min(1, "give the calibration a name").max(120), bathRequestSchema]),
  async run(knex, name, request) {
    const kept = await heavy(knex).keepBath(name, request);
    return kept ? done(kept) : refused("This bath does not give a calibration. Look at what is marked.");
  },
  touches: everything,
});

const twoPointSchema = z.object({
  label: lineSchema().min(1, "say which probe").max(60),
  iceC: z.number(),
  boilC: z.number(),
  pressurePa: z.number().min(50000).max(110000),
  standardK: z.number().min(0.001).max(2),
});

/** Ice and boiling water at the local pressure. */
export const keepTwoPoint = command({
  right: "hand",
  input: z.tuple([twoPointSchema]),
  async run(knex, input) {
    const { label, iceC, boilC, pressurePa, standardK } = input;
    const atMs = Date.now();
    try {
      const correction = twoPointCorrection(iceC, boilC, pressurePa, standardK, atMs);
      const made = await insertCalibration(knex, {
        name: `${label}, ice and boiling water`,
        rawFileId: null,
        settings: input,
        atMs,
        result: {
          kind: "twoPoint",
          referenceStandardK: 0,
          probes: [{ key: label, correction, lagS: null, residualSdK: 0, outlier: false }],
          spanC: correction.range,
          spreadBeforeK: Math.abs(iceC),
          spreadAfterK: 0,
        },
      });
      return done({ id: made });
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      return refused(`${error.message}. Check what was typed; nothing was kept.`);
    }
  },
  touches: everything,
});

export const applyToRuns = command({
  right: "hand",
  input: z.tuple([
    id,
    z.object({
      calibrationId: id,
      runIds: z.array(id).min(1).max(400),
      probes: z.record(z.string().max(60), z.string().max(60)),
      reason: lineSchema().max(300),
    }),
  ]),
  run: async (knex, experimentId, input) =>
    (await applyCalibration(knex, experimentId, { ...input, reason: input.reason || "calibrated" }))
      ? done()
      : refused("This calibration or run is no longer there. Reload the page."),
  touches,
});

export const applyFlowFactor = command({
  right: "hand",
  input: z.tuple([
    id,
    z.object({ runIds: z.array(id).min(1).max(400), detail: flowLayerSchema, reason: lineSchema().max(300) }),
  ]),
  run: async (knex, experimentId, input) =>
    (await applyFlow(knex, experimentId, input)) ? done() : refused("A run is no longer there. Reload the page."),
  touches,
});

export const removeCalibration = command({
  input: z.tuple([id, z.boolean()]),
  run: async (knex, calibrationId, deleted) =>
    (await markCalibrationDeleted(knex, calibrationId, deleted))
      ? done()
      : refused("This calibration is no longer there. Reload the page."),
  touches: everything,
});

export const keepInstrument = command({
  right: "hand",
  input: z.tuple([id.nullable(), instrumentSchema]),
  async run(knex, instrumentId, instrument) {
    const kept = await saveInstrument(knex, instrumentId, instrument);
    if (kept === null)
      return refused(
        `The label "${instrument.label}" is taken. Give each instrument a label of its own, and stick it on.`,
      );
    return done({ id: kept });
  },
  touches: everything,
});

export const removeInstrument = command({
  input: z.tuple([id, z.boolean()]),
  run: async (knex, instrumentId, deleted) =>
    (await markInstrumentDeleted(knex, instrumentId, deleted))
      ? done()
      : refused("This instrument is no longer in the register. Reload the page."),
  touches: everything,
});
