import { expose } from "comlink";
import type { Design } from "../core/collector/design";
import { flowAdvice, type FlowAdvice } from "../core/collector/flowAdvice";
import type { Operating } from "../core/collector/predict";
import { studyDesign, type Study } from "../core/collector/study";
import { designProblems } from "../core/collector/validate";

/** The collector model off the page's thread: figures move while the person types. */
const api = {
  study: (design: Design, op: Operating, lowestC: number): Study => studyDesign(design, op, lowestC),
  advice: (design: Design, op: Operating, electricityWeight: number): FlowAdvice | null => (designProblems(design).length ? null : flowAdvice(design, op, electricityWeight)),
};

export type CollectorApi = typeof api;

expose(api);
