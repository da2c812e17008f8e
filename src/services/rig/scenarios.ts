import type { RigSettings } from "../../core/experiment/schema/rig";

export interface Scenario {
  name: string;
  about: string;
  weather: RigSettings["weather"];
  plenum: RigSettings["plenum"];
  loop: { kind: "outside" } | { kind: "plenum" };
  thermostat: boolean;
  driven: "set" | "drawing";
}

const CLEAR = { cloudiness: 0.05, meanAmbientC: 11, meanWind: 1.4 };

/** Benches that ship: each is one thing a person wants to see happen. */
export const SCENARIOS = {
  clear: {
    name: "A clear day, inlets at outside air",
    about: "equal flows, the commonest bench there is",
    weather: CLEAR,
    plenum: [],
    loop: { kind: "outside" },
    thermostat: false,
    driven: "set",
  },
  warmed: {
    name: "A clear day with a warmed inlet",
    about: "the plenum climbs by the hour, so that curves come of one day",
    weather: CLEAR,
    plenum: [
      { fromHour: 0, aboveAmbientK: 2 },
      { fromHour: 11, aboveAmbientK: 14 },
      { fromHour: 13, aboveAmbientK: 28 },
      { fromHour: 15, aboveAmbientK: 8 },
    ],
    loop: { kind: "plenum" },
    thermostat: false,
    driven: "set",
  },
  broken: {
    name: "Broken clouds and gusts",
    about: "steady windows are rare",
    weather: { cloudiness: 0.5, meanAmbientC: 8, meanWind: 3.5 },
    plenum: [],
    loop: { kind: "outside" },
    thermostat: false,
    driven: "set",
  },
  ownDrive: {
    name: "Each box with its own fan, panel or draught",
    about: "flow follows the sun",
    weather: CLEAR,
    plenum: [],
    loop: { kind: "outside" },
    thermostat: false,
    driven: "drawing",
  },
  thermostat: {
    name: "Fans on thermostats",
    about: "on above 35 °C of the absorber, off below 25 °C",
    weather: { cloudiness: 0.3, meanAmbientC: 4, meanWind: 2.5 },
    plenum: [],
    loop: { kind: "outside" },
    thermostat: true,
    driven: "set",
  },
} as const satisfies Record<string, Scenario>;
