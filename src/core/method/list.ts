import { allDay } from "./allDay";
import { batch } from "./batch";
import { calibration } from "./calibration";
import { dynamic } from "./dynamic";
import { leakSmoke } from "./leakSmoke";
import type { Method } from "./method";
import { mirrorOnOff } from "./mirrorOnOff";
import { offNormal } from "./offNormal";
import { stagnation } from "./stagnation";
import { steady } from "./steady";
import { timeConstant } from "./timeConstant";

/** Every test method, in the order people are offered them. */
export const METHODS = {
  steady,
  dynamic,
  allDay,
  batch,
  stagnation,
  timeConstant,
  offNormal,
  mirrorOnOff,
  leakSmoke,
  calibration,
} satisfies Record<string, Method>;
export type MethodName = keyof typeof METHODS;
export const METHOD_NAMES = Object.keys(METHODS) as [MethodName, ...MethodName[]];

export const methodOf = (name: MethodName): Method => METHODS[name];
