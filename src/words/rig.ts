import type { RigFaultKind } from "../core/experiment/schema/rig";

/** What can be made to go wrong on the simulated bench, and what it does. */
export const FAULT_WORDS: Record<RigFaultKind, [name: string, about: string]> = {
  fanStop: ["Fan stops", "no flow: the box heats up"],
  fanSag: ["Fan sags", "less flow, unnoticed"],
  probeStuck: ["Outlet probe sticks", "one value, for good"],
  probeLost: ["Outlet probe lost", "the logger writes −127"],
  shade: ["Shade on the box", "half of the light"],
  leak: ["Leak", "outside air in the outlet"],
  cloud: ["Cloud", "over the whole bench"],
  loggerOff: ["No network", "readings wait, and come later"],
  lostMessages: ["Messages get lost", "half of them, for good"],
  resends: ["Messages come twice", "half of them"],
  lateClock: ["Clock 90 s slow", "of the logger"],
  counterReset: ["Counter starts anew", "of a water meter"],
};

/** Faults of the whole bench or its logger; the others are one lane's. */
export const BENCH_FAULTS: ReadonlySet<RigFaultKind> = new Set([
  "cloud",
  "loggerOff",
  "lostMessages",
  "resends",
  "lateClock",
]);
