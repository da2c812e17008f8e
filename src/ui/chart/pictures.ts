import type { Chart as ChartJs } from "chart.js";
import { configuration, token } from "./configuration";
import type { ChartSpec } from "./model";

/** A drawn chart as a file. */
export interface Pictures {
  /** As a data address. */
  png(): string;
  svg(): Promise<string>;
}

export const picturesOf = (chart: ChartJs<"line">, spec: ChartSpec, range: [number, number] | null): Pictures => ({
  png() {
    const copy = document.createElement("canvas");
    copy.width = chart.width * 2;
    copy.height = chart.height * 2;
    const ctx = copy.getContext("2d")!;
    ctx.fillStyle = token("--ground");
    ctx.fillRect(0, 0, copy.width, copy.height);
    ctx.drawImage(chart.canvas, 0, 0, copy.width, copy.height);
    return copy.toDataURL("image/png");
  },
  async svg() {
    const { chartSvg } = await import("./svg");
    const { width, height } = chart;
    const again = configuration(spec, range, () => undefined);
    return chartSvg(again, { width, height, ground: token("--ground") });
  },
});
