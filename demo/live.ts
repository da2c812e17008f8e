import type { Knex } from "knex";
import type { Design } from "../src/core/collector/design";
import { standardSettings } from "../src/core/experiment/standardSettings";
import { LiveRig, RIG_DUCT_M, RIG_PROFILE } from "../src/core/rig/liveRig";
import { insertDevice } from "../src/data/device/devices";
import { saveRig } from "../src/data/rig/rigs";
import { appendFrames } from "../src/data/reading/tail";
import { importRun, inspectFile } from "../src/services/import/imports";
import type { ImportRequest } from "../src/services/import/importRequest";
import { offerDevice } from "../src/services/device/offer";
import { settingsFor } from "../src/services/rig/rig";
import { cans, corrugated, mesh } from "./designs";
import { BENCH_PLANE, SITE } from "./tansyRidge";

/** The experiment that is running when the demo starts, fed by the simulated rig. */
export const LIVE = {
  key: "live-bench",
  name: "On the bench now",
  question: "Which absorber gives most heat from outside air?",
};

/** A clear autumn morning; the bench goes on from where it is loaded. */
const DAY = Date.UTC(2026, 9, 14, 6);
const MORNING_HOURS = 5;
const PACE = 10;
/** Boxes on the bench. */
type Box = { letter: string; variantKey: string; variantName: string; design: Design };
export const BOXES: readonly Box[] = [
  { letter: "A", variantKey: "corrugated", variantName: "Corrugated sheet", design: corrugated },
  { letter: "B", variantKey: "mesh", variantName: "Mesh layers", design: mesh },
  { letter: "C", variantKey: "cans", variantName: "Columns of cans", design: cans },
];

/** The morning comes through the device's stream and the run begins at the door everybody uses. */
export async function loadLive(knex: Knex, siteId: number, boxes: readonly Box[] = BOXES): Promise<void> {
  const settings = settingsFor(SITE, boxes, "clear", PACE, DAY);
  const known = await knex("device as d").join("stream as s", "s.device_id", "d.id").where("d.kind", "rig");
  if (known.length) return;
  const { id, streamId } = await insertDevice(knex, { name: "Simulated rig", kind: "rig", simulated: true });
  const rig = new LiveRig(settings);
  const frames = Array.from({ length: (MORNING_HOURS * 3600) / settings.stepS }, () => rig.step());
  await appendFrames(knex, streamId, frames);
  const offered = await offerDevice.run(knex, id);
  if (!offered.ok) throw new Error(offered.error);
  const inspection = await inspectFile(knex, offered.fileId);
  if (!inspection?.layout) throw new Error("the rig's readings were not understood");
  const { layout } = inspection;
  const request: ImportRequest = {
    target: {
      kind: "new",
      name: LIVE.name,
      question: LIVE.question,
      settings: standardSettings("air"),
      site: { kind: "known", id: siteId },
    },
    newLanes: boxes.map((b) => ({ ...b, asBuilt: { grossAreaM2: b.design.grossWidthM * b.design.grossLengthM } })),
    run: {
      note: "Fed by the simulated rig.",
      setup: {
        plane: BENCH_PLANE,
        sunSensor: { key: "sun", limitShare: 0.02, mounting: "plane" },
        ambientProbe: { key: "ambient", limitK: 0.3, resolutionK: 0.01 },
        pressurePa: null,
        relativeHumidity: 0.5,
      },
      lanes: boxes.map(({ letter }, i) => laneRequest(letter, i + 1)),
    },
    files: [
      {
        fileId: offered.fileId,
        settings: {
          ...layout,
          timeFormat: { kind: "calendar", order: "ymd" },
          zone: SITE.zone,
          columns: layout.columns.map(({ index, header, kind, lane, unit }) => ({ index, header, kind, lane, unit })),
          answers: { oddDates: "right" },
        },
        live: { streamId },
      },
    ],
    liveFromMs: offered.firstMs,
  };
  const { experimentId } = await importRun(knex, request, () => undefined, new AbortController().signal);
  await knex("experiment").where({ id: experimentId }).update({ demo_key: LIVE.key });
  await saveRig(knex, { settings, running: true, anew: true });
}

function laneRequest(letter: string, station: number): ImportRequest["run"]["lanes"][number] {
  const probe = (end: string) => ({ key: `${station}-${end}`, limitK: 0.3, resolutionK: 0.01 });
  return {
    letter,
    station,
    setup: {
      areaLimitShare: 0.003,
      inletProbe: probe("in"),
      outletProbe: probe("out"),
      flow: {
        kind: "speed",
        duct: { kind: "round", diameterM: RIG_DUCT_M },
        ductLimitM: 0.0005,
        profileFactor: RIG_PROFILE,
        profileLimit: 0.02,
        meter: { key: String(station), at: "outlet", limitShare: 0.03, limitFixed: 0 },
      },
      fanShare: 0,
      b0Limit: 0.06,
    },
  };
}
