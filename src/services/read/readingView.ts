import type { HandReading } from "../../core/analysis/handReading";
import { figure, type FigureView } from "../page/figureView";

/** A row read by hand, with its heat. */
export interface ReadingView {
  run: string;
  lane: string;
  startMs: number;
  inlet: FigureView;
  outlet: FigureView;
  rise: FigureView;
  massFlow: FigureView;
  heat: FigureView;
  /** null without a sun reading. */
  efficiency: FigureView | null;
}

export const readingView = (r: HandReading): ReadingView => ({
  run: r.run,
  lane: r.lane,
  startMs: r.startMs,
  inlet: figure(r.inlet, "temperature"),
  outlet: figure(r.outlet, "temperature"),
  rise: figure(r.rise, "temperatureDifference"),
  massFlow: figure(r.massFlow, "massFlow"),
  heat: figure(r.heat, "power"),
  efficiency: r.efficiency && figure(r.efficiency, "fraction"),
});
