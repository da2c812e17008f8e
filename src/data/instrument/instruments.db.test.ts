import {
  instrumentHistory,
  listInstruments,
  markInstrumentDeleted,
  saveInstrument,
} from "@/data/instrument/instruments";
import { instrumentSchema } from "@/core/experiment/schema/calibration";
import { listSpots, recordSpot } from "@/data/spot/spots";
import { testDatabase } from "../../../scripts/testing/database";
import { importTwoBoxes } from "../../../scripts/testing/twoBoxes";

const knex = testDatabase("instruments");

describe("register and spot readings", () => {
  let experimentId: number;
  beforeAll(async () => {
    experimentId = await importTwoBoxes(knex);
  }, 60000);
  test("instruments: labels are unique, changes are remembered; spot readings stay with the experiment", async () => {
    const probe = instrumentSchema.parse({
      label: "P1",
      kind: "probe",
      limitFixed: 0.5,
      limitShare: 0,
      resolution: 0.1,
      lagS: 15,
      range: [-40, 125],
      calibrateEveryDays: 180,
      retired: false,
      note: "",
    });
    const id = (await saveInstrument(knex, null, probe))!;
    expect(await saveInstrument(knex, null, probe)).toBeNull();
    expect(await saveInstrument(knex, id, { ...probe, retired: true })).toBe(id);
    expect((await instrumentHistory(knex, id)).map((h) => h.action)).toEqual([
      "instrument changed",
      "instrument added",
    ]);
    await markInstrumentDeleted(knex, id, true);
    expect((await listInstruments(knex)).some((i) => i.id === id)).toBe(false);
    expect(await recordSpot(knex, experimentId, { text: "20 in, 41 out", values: { heatW: 800 } })).toBe(true);
    expect((await listSpots(knex, experimentId))[0]).toMatchObject({ run: 1, text: "20 in, 41 out" });
    expect(await recordSpot(knex, 999999, { text: "x", values: {} })).toBe(false);
  });
});
