import { Readable } from "node:stream";
import type { Knex } from "knex";
import { laneLogCsv, weatherLogCsv } from "../../demo/logFiles";
import { designFromOutline } from "../../src/core/collector/outline";
import { standardRules } from "../../src/core/log/windows";
import { simulateBench } from "../../src/core/rig/bench";
import { storeFile } from "../../src/data/file/files";
import { importRun, inspectFile } from "../../src/services/import/imports";
import { type ImportRequest } from "../../src/services/import/importRequest";
import { testBench } from "./bench";

/** Keeps a file's bytes as an upload would. */
export const keepFile = (knex: Knex, name: string, content: string | Uint8Array, bytes = 1 << 28) =>
  storeFile(knex, name, Readable.from([Buffer.from(content as string)]), { bytes, stallMs: 10_000 });

/** Two boxes of air side by side, two clear days, one a little better: what tests of the database import. */
export const [run] = simulateBench(testBench());
export const LANES = laneLogCsv(run.log, "Europe/Zurich");
export const WEATHER = weatherLogCsv(run.log);

/** A request to import those two days as a new experiment, its files kept already. */
export async function twoBoxes(knex: Knex, laneText = LANES): Promise<ImportRequest> {
  const files = await Promise.all([keepFile(knex, "lanes.csv", laneText), keepFile(knex, "weather.csv", WEATHER)]);
  const settings = await Promise.all(
    files.map(async (f) => ({ ...(await inspectFile(knex, f.id))!.layout!, zone: "Europe/Zurich" })),
  );
  const design = designFromOutline({ absorber: "flat", fluid: { kind: "air" }, covers: 1, grossAreaM2: 2 });
  return {
    target: {
      kind: "new",
      name: "Two boxes",
      question: "Which?",
      site: { kind: "new", name: "Terrace", latitude: 46.31, longitude: 9.05, altitudeM: 1120, zone: "Europe/Zurich" },
      settings: {
        rules: standardRules("air"),
        basis: "mean",
        areaBasis: "gross",
        operatingPoint: { irradianceWm2: 850, ambientC: 6, inletC: 20, flowPerArea: 0.02 },
        smallestDifference: 15,
        stationShare: 0.004,
      },
    },
    newLanes: ["A", "B"].map((letter) => ({ letter, variantKey: letter, variantName: `Box ${letter}`, design })),
    run: {
      note: "",
      setup: {
        plane: { tilt: 55, azimuth: 180 },
        sunSensor: run.setup.sunSensor,
        ambientProbe: run.setup.ambientProbe,
        pressurePa: null,
        relativeHumidity: 0.5,
      },
      lanes: run.setup.lanes.map(
        ({
          lane,
          station,
          fluid,
          areaLimitShare,
          inletProbe,
          outletProbe,
          flow,
          fanShare,
          timeConstantS,
          b0,
          b0Limit,
        }) => ({
          letter: lane,
          station,
          setup: { fluid, areaLimitShare, inletProbe, outletProbe, flow, fanShare, timeConstantS, b0, b0Limit },
        }),
      ),
    },
    files: files.map((f, i) => ({ fileId: f.id, settings: settings[i] })),
  };
}

/** The experiment made of them. */
export async function importTwoBoxes(knex: Knex): Promise<number> {
  const { experimentId } = await importRun(knex, await twoBoxes(knex), () => undefined, new AbortController().signal);
  return experimentId;
}
