import { findExperiment } from "@/data/experiment/experiments";
import { applyCalibration, applyFlow, markLayersRemoved } from "@/data/run/layers";
import { insertCalibration, listCalibrations, markCalibrationDeleted } from "@/data/calibration/calibrations";
import { standardUncertainty } from "@/core/uncertainty/uncertain";
import { readChannels } from "@/data/reading/readings";
import { analyse } from "@/services/analysis/analyse";
import { importRun } from "@/services/import/imports";
import { testDatabase } from "../../../scripts/testing/database";
import { twoBoxes } from "../../../scripts/testing/twoBoxes";

const knex = testDatabase("calibrations");
const never = new AbortController().signal;
const request = (lanes?: string) => twoBoxes(knex, lanes);

describe("calibrations and layers", () => {
  let experimentId: number;
  const correction = (offsetK: number) => ({
    t0C: 40,
    offsetK,
    slope: 0,
    standardOffsetK: 0.02,
    standardSlope: 0,
    covariance: 0,
    range: [15, 65] as [number, number],
    atMs: Date.UTC(2026, 9, 4),
  });
  beforeAll(async () => {
    ({ experimentId } = await importRun(knex, await request(), () => undefined, never));
  }, 60000);
  const rise = async () => (await analyse(knex, experimentId))!.reduction.points.find((p) => p.lane === "A")!.rise;

  test("a calibration laid over a run moves rise and its ±, raw readings stay; taken off, all is as before", async () => {
    const before = await rise();
    const raw = await readChannels(knex, (await findExperiment(knex, experimentId))!.runs[0].streams[0].id, [1]);
    const id = await insertCalibration(knex, {
      name: "pot",
      rawFileId: null,
      settings: {},
      atMs: Date.UTC(2026, 9, 4),
      result: {
        kind: "bath",
        referenceStandardK: 0.3,
        spanC: [15, 65],
        spreadBeforeK: 0.2,
        spreadAfterK: 0.03,
        probes: [
          { key: "1-in", correction: correction(0.1), lagS: 12, residualSdK: 0.02, outlier: false },
          { key: "1-out", correction: correction(-0.15), lagS: null, residualSdK: 0.02, outlier: false },
        ],
      },
    });
    const run = (await findExperiment(knex, experimentId))!.runs[0];
    const probes = { "1-in": "1-in", "1-out": "1-out" };
    expect(
      await applyCalibration(knex, experimentId, { calibrationId: id, runIds: [run.id], probes, reason: "pot" }),
    ).toBe(true);
    expect(
      await applyCalibration(knex, experimentId, { calibrationId: id, runIds: [run.id], probes, reason: "again" }),
    ).toBe(true);
    const layered = (await findExperiment(knex, experimentId))!.runs[0];
    expect(layered.layers.filter((l) => l.kind === "calibration")).toHaveLength(1);
    const after = await rise();
    expect(after.value - before.value).toBeCloseTo(0.25, 6);
    expect(Math.abs(after.parts.get("probe:1-out")!.standard)).toBeLessThan(
      0.3 * Math.abs(before.parts.get("probe:1-out")!.standard),
    );
    expect(standardUncertainty(after)).toBeLessThan(standardUncertainty(before));
    expect(
      [...after.parts.keys()].some((k) => k.startsWith("reference:") && Math.abs(after.parts.get(k)!.standard) > 1e-9),
    ).toBe(false);
    expect(await readChannels(knex, layered.streams[0].id, [1])).toEqual(raw);
    await markLayersRemoved(
      knex,
      experimentId,
      layered.layers.filter((l) => l.kind === "calibration").map((l) => l.id),
      true,
    );
    expect((await rise()).value).toBe(before.value);
    await markLayersRemoved(
      knex,
      experimentId,
      layered.layers.filter((l) => l.kind === "calibration").map((l) => l.id),
      false,
    );
    await markCalibrationDeleted(knex, id, true);
    expect((await rise()).value).toBe(before.value);
    expect((await listCalibrations(knex)).some((c) => c.id === id)).toBe(false);
    expect(
      await applyCalibration(knex, experimentId, { calibrationId: id, runIds: [run.id], probes, reason: "" }),
    ).toBe(false);
    expect(
      await applyCalibration(knex, experimentId, { calibrationId: 999999, runIds: [run.id], probes, reason: "" }),
    ).toBe(false);
  }, 60000);
  test("a traversed factor replaces the one said at import, one a meter", async () => {
    const flow = async () =>
      (await analyse(knex, experimentId))!.reduction.points.find((p) => p.lane === "A")!.massFlow.value;
    const before = await flow();
    const run = (await findExperiment(knex, experimentId))!.runs[0];
    const old = run.places[0].setup.flow;
    if (old.kind !== "speed") throw new Error("the bench logs speed");
    for (const factor of [0.5, old.profileFactor * 0.9])
      expect(
        await applyFlow(knex, experimentId, {
          runIds: [run.id],
          detail: { meter: "1", method: "traverse", factor, limit: 0.01 },
          reason: "traverse",
        }),
      ).toBe(true);
    expect((await flow()) / before).toBeCloseTo(0.9, 6);
    const layers = (await findExperiment(knex, experimentId))!.runs[0].layers.filter((l) => l.kind === "flow");
    expect(layers).toHaveLength(1);
    await markLayersRemoved(
      knex,
      experimentId,
      layers.map((l) => l.id),
      true,
    );
    expect(await flow()).toBe(before);
  }, 60000);
});
