import { designFromOutline } from "../src/core/collector/outline";
import { standardSettings } from "../src/core/experiment/standardSettings";
import type { LogSettings } from "../src/core/log/logData";
import type { ImportRequest } from "../src/services/import/importRequest";

/** A request to import one invented log as a new experiment: a lane for each letter, all alike. */
export function benchRequest(file: {
  fileId: number;
  settings: LogSettings;
  letters: readonly string[];
  zone: string;
  longitude: number;
  flow: "mass" | "volume";
  /** What of an invented sun and rise physics would not allow. */
  accepted?: string[];
}): ImportRequest {
  const { letters, flow, zone, longitude } = file;
  const probe = { key: "p", limitK: 0.5, resolutionK: 0.1 };
  const design = designFromOutline({ absorber: "flat", fluid: { kind: "air" }, covers: 1, grossAreaM2: 2 });
  return {
    target: {
      kind: "new",
      name: "bench",
      question: "",
      site: { kind: "new", name: "bench", latitude: 46, longitude, altitudeM: 400, zone },
      settings: standardSettings("air"),
    },
    newLanes: letters.map((letter) => ({ letter, variantKey: letter, variantName: letter, design })),
    run: {
      note: "",
      setup: {
        plane: { tilt: 45, azimuth: 180 },
        sunSensor: { key: "s", limitShare: 0.05, mounting: "plane" },
        ambientProbe: probe,
        pressurePa: null,
        relativeHumidity: 0.5,
      },
      lanes: letters.map((letter, i) => ({
        letter,
        station: i + 1,
        setup: {
          fluid: null,
          areaLimitShare: 0.01,
          inletProbe: probe,
          outletProbe: probe,
          flow: { kind: flow, meter: { key: String(i), at: "outlet", limitShare: 0.05, limitFixed: 0 } },
          fanShare: 0,
          timeConstantS: 300,
          b0: 0.1,
          b0Limit: 0.03,
        },
      })),
    },
    files: [{ fileId: file.fileId, settings: file.settings }],
    accepted: file.accepted ?? [],
  };
}
