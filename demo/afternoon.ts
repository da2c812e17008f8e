import type { ImportRequest } from "../src/services/import/importRequest";
import { CORRUGATED, simulateBench } from "../src/core/rig/bench";
import { standardSettings } from "../src/core/experiment/standardSettings";
import { toWall } from "../src/core/log/zone";
import { cans, corrugated } from "./designs";
import { BENCH_PLANE, CANS, SITE, TAPED } from "./tansyRidge";

/** One thermometer, one vane, two boxes and a notebook: read by hand, A B B A, from one till half past two. */
export const AFTERNOON = {
  key: "afternoon",
  name: "The afternoon test",
  question: "Two boxes, one thermometer, one vane: which gives more heat?",
};

/** What the one thermometer and the one vane are off by: nobody at the bench knows. */
const THERMOMETER_K = -0.7;
const VANE = 1.06;
const ROWS = 10;
const MINUTES = 7;

/** The box behind the smaller fan blows hotter, and gives less. */
function simulated() {
  const [run] = simulateBench({
    seed: 20261103,
    stepS: 10,
    hours: [11, 16],
    accuracy: { probeK: 0, speedShare: 0, profileLimit: 0.03, sunShare: 0, ambientK: 0, stationShare: 0.004 },
    inletProgram: [{ fromHour: 0, aboveAmbientK: 0 }],
    specimens: [
      { lane: "A", variant: "corrugated", collector: CORRUGATED, areaM2: 2, massFlowKgPerS: 0.046 },
      { lane: "B", variant: "cans", collector: CANS, areaM2: 2, massFlowKgPerS: 0.029 },
    ],
    runs: [
      {
        run: "1",
        stations: { A: 1, B: 2 },
        days: [{ dateMs: Date.UTC(2026, 10, 3, 10), cloudiness: 0.04, meanAmbientC: 6, meanWind: 1.2 }],
      },
    ],
  });
  return run.log;
}

/** The notebook as a file, as the sheet writes it. */
export function afternoonSheet(): string {
  const log = simulated();
  const start = Date.UTC(2026, 10, 3, 12);
  const lines = Array.from({ length: ROWS }, (_, i) => {
    const lane = "ABBA"[i % 4];
    const ms = start + i * MINUTES * 60000;
    const at = log.times.findIndex((t) => t >= ms);
    const read = log.lanes.get(lane)!;
    const temperature = (column: Float64Array) => (column[at] + THERMOMETER_K).toFixed(1);
    const clock = new Date(toWall(ms, SITE.zone)).toISOString().slice(0, 19).replace("T", " ");
    const cells = [temperature(read.inlet), temperature(read.outlet), (VANE * read.speed[at]).toFixed(1)];
    return [clock, ...(lane === "A" ? [...cells, "", "", ""] : ["", "", "", ...cells])].join(",");
  });
  return `${["time,A in (°C),A out (°C),A flow (m/s),B in (°C),B out (°C),B flow (m/s)", ...lines].join("\n")}\n`;
}

/** The request a filled-in sheet sends. @param site as importRun takes it */
export function afternoonRequest(
  fileId: number,
  site: Extract<ImportRequest["target"], { kind: "new" }>["site"],
): ImportRequest {
  const probe = { key: "thermometer", limitK: 1, resolutionK: 0.1 };
  const lane = (letter: string, station: number) => ({
    letter,
    station,
    setup: {
      areaLimitShare: 0.01,
      inletProbe: probe,
      outletProbe: probe,
      flow: {
        kind: "speed" as const,
        duct: { kind: "round" as const, diameterM: 0.125 },
        ductLimitM: 0.001,
        profileFactor: 0.86,
        profileLimit: 0.06,
        meter: { key: "carried", at: "outlet" as const, limitShare: 0.1, limitFixed: 0 },
      },
      fanShare: 0,
      b0Limit: 0.06,
    },
  });
  const column = (index: number, header: string, kind: "inlet" | "outlet" | "speed" | null, own: string | null) => ({
    index,
    header,
    kind,
    lane: own,
    unit: kind && (kind === "speed" ? "m/s" : "°C"),
  });
  return {
    target: {
      kind: "new",
      name: AFTERNOON.name,
      question: AFTERNOON.question,
      settings: standardSettings("air"),
      site,
    },
    newLanes: [
      { letter: "A", variantKey: "corrugated", variantName: "Corrugated sheet", design: corrugated, asBuilt: TAPED },
      { letter: "B", variantKey: "cans", variantName: "Columns of cans", design: cans, asBuilt: TAPED },
    ],
    run: {
      note: "Read by hand; B hangs on the small fan.",
      setup: {
        plane: BENCH_PLANE,
        sunSensor: { key: "sun", limitShare: 0.1, mounting: "plane" },
        ambientProbe: { key: "thermometer", limitK: 1.5, resolutionK: 0.1 },
        pressurePa: null,
        relativeHumidity: 0.5,
        byHand: true,
      },
      lanes: [lane("A", 1), lane("B", 2)],
    },
    files: [
      {
        fileId,
        settings: {
          delimiter: ",",
          decimal: ".",
          headerRow: 0,
          firstDataRow: 1,
          timeColumns: [0],
          timeFormat: { kind: "calendar", order: "ymd" },
          zone: SITE.zone,
          columns: [
            column(0, "time", null, null),
            ...["A", "B"].flatMap((l, i) => [
              column(1 + 3 * i, `${l} in (°C)`, "inlet", l),
              column(2 + 3 * i, `${l} out (°C)`, "outlet", l),
              column(3 + 3 * i, `${l} flow (m/s)`, "speed", l),
            ]),
          ],
          answers: { oddDates: "right" },
        },
      },
    ],
  };
}
