import { hour, type Hour, type PlanningDay } from "./method";

/** From the first useful light to the last. */
export const wholeDay = ({ spans }: PlanningDay): Hour[] =>
  spans.length ? [hour("measure", spans[0].fromMs, spans[spans.length - 1].toMs, { windows: 1 })] : [];
