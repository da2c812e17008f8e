import { rigSettingsSchema, type RigSettings } from "../../src/core/experiment/schema/rig";

/** A clear autumn day on the demo's slope, each 10 s; boxes and speed are the test's. */
export const rigSettings = (own: Pick<RigSettings, "lanes" | "speed"> & Partial<RigSettings>): RigSettings =>
  rigSettingsSchema.parse({
    seed: 3,
    site: { latitude: 46.31, longitude: 9.05, altitudeM: 1120, zone: "Europe/Zurich" },
    plane: { tilt: 55, azimuth: 180 },
    startMs: Date.UTC(2026, 9, 12, 9),
    hours: [7, 19],
    stepS: 10,
    weather: { cloudiness: 0, meanAmbientC: 10, meanWind: 1.5 },
    plenum: [],
    accuracy: { probeK: 0.3, flowShare: 0.03, sunShare: 0.02 },
    faults: [],
    ...own,
  });
