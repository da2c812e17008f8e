import type { BenchAccuracy } from "../../src/core/rig/bench";
import type { Kind } from "./benches";

const CHEAP: BenchAccuracy = {
  probeK: 0.5,
  speedShare: 0.05,
  profileLimit: 0.05,
  sunShare: 0.05,
  ambientK: 0.5,
  stationShare: 0.005,
};
const GOOD: BenchAccuracy = { ...CHEAP, probeK: 0.15, speedShare: 0.015, profileLimit: 0.01, sunShare: 0.03 };
const OUTSIDE = [{ fromHour: 0, aboveAmbientK: 0 }];
const STEPS = [
  { fromHour: 0, aboveAmbientK: 2 },
  { fromHour: 12, aboveAmbientK: 12 },
  { fromHour: 13.6, aboveAmbientK: 22 },
];
export const KINDS: Kind[] = [
  {
    name: "hobby logger, outside air, no sun sensor, places kept",
    accuracy: CHEAP,
    inlets: OUTSIDE,
    swapped: false,
    logged: (c) => c.kind !== "irradiance" && c.kind !== "humidity",
  },
  {
    name: "the same, places exchanged",
    accuracy: CHEAP,
    inlets: OUTSIDE,
    swapped: true,
    logged: (c) => c.kind !== "irradiance" && c.kind !== "humidity",
  },
  { name: "the same with a sun sensor", accuracy: CHEAP, inlets: OUTSIDE, swapped: true, logged: () => true },
  {
    name: "water, cheap probes, loop warmed by the day, places exchanged",
    accuracy: { ...CHEAP, probeK: 0.2 },
    inlets: [
      { fromHour: 0, aboveAmbientK: 6 },
      { fromHour: 12, aboveAmbientK: 9 },
    ],
    swapped: true,
    water: true,
    logged: (c) => c.kind !== "irradiance" && c.kind !== "humidity",
  },
  {
    name: "water, a proper loop: inlet steps, places exchanged",
    accuracy: { ...GOOD, probeK: 0.05 },
    inlets: STEPS,
    swapped: true,
    water: true,
    logged: () => true,
  },
  {
    name: "two tanks of 120 litres on loops, nothing but their temperatures, sun and outside",
    accuracy: { ...CHEAP, probeK: 0.2 },
    inlets: OUTSIDE,
    swapped: false,
    water: true,
    tank: true,
    logged: (c) => ["tank", "irradiance", "ambient"].includes(c.kind),
  },
  {
    name: "two tanks as above, one of them 20 K warmer to begin with",
    accuracy: { ...CHEAP, probeK: 0.2 },
    inlets: OUTSIDE,
    swapped: false,
    water: true,
    tank: true,
    warmerK: 20,
    logged: (c) => ["tank", "irradiance", "ambient"].includes(c.kind),
  },
  {
    name: "a proper bench: inlet steps, places exchanged",
    accuracy: GOOD,
    inlets: STEPS,
    swapped: true,
    logged: () => true,
  },
  {
    name: "one place: A and B by turns on eight days, sun sensor",
    accuracy: { ...CHEAP, probeK: 0.3, speedShare: 0.03, profileLimit: 0.03 },
    inlets: OUTSIDE,
    swapped: false,
    order: "ABABABAB",
    cloudiness: 0.12,
    logged: () => true,
  },
  {
    name: "a mirror turned up and down by turns",
    accuracy: CHEAP,
    inlets: OUTSIDE,
    swapped: false,
    turned: true,
    cloudiness: 0.1,
    logged: () => true,
  },
  {
    name: "the sun sensor lies flat, places exchanged",
    accuracy: CHEAP,
    inlets: OUTSIDE,
    swapped: true,
    flat: true,
    logged: () => true,
  },
  {
    name: "flow stepped: the second run at half of it, places exchanged",
    accuracy: GOOD,
    inlets: STEPS,
    swapped: true,
    secondFlow: 0.5,
    logged: () => true,
  },
  {
    name: "broken cloud, inlet steps, places exchanged",
    accuracy: GOOD,
    inlets: STEPS,
    swapped: true,
    cloudiness: 0.75,
    logged: () => true,
  },
];
