import type { RunLayer } from "../core/experiment/layers";
import type { LayerKind } from "../core/experiment/schema/layer";
import { cleanWords } from "./judge";
import { clock } from "./times";

export const LAYER_WORDS: Record<LayerKind, string> = {
  cleaning: "Cleaning",
  clock: "Clock",
  assignment: "Who stood where",
  calibration: "Calibration",
  flow: "Flow factor",
  exclusion: "Set aside",
};

/** How much a clock was slow or fast: `2 min 5 s slow`. */
export function offsetWords(offsetMs: number): string {
  const seconds = Math.round(Math.abs(offsetMs) / 1000);
  const parts = [
    [Math.floor(seconds / 3600), "h"],
    [Math.floor((seconds % 3600) / 60), "min"],
    [seconds % 60, "s"],
  ] as const;
  const text = parts.flatMap(([n, unit]) => (n ? [`${n} ${unit}`] : [])).join(" ");
  return `${text || "0 s"} ${offsetMs < 0 ? "fast" : "slow"}`;
}

/** What a layer says, in a line. @param streams file names by stream */
export function layerText(layer: RunLayer, zone: string, streams: ReadonlyMap<number, string>): string {
  switch (layer.kind) {
    case "cleaning":
      return layer.detail.keep.length
        ? `faults left out, except ${layer.detail.keep.map(cleanWords).join(", ")}`
        : "faults of instruments left out";
    case "clock":
      return `${streams.get(layer.detail.streamId) ?? "a logger"} was ${offsetWords(layer.detail.offsetMs)}${layer.detail.standardMs ? `, ± ${Math.round((2 * layer.detail.standardMs) / 1000)} s` : ""}`;
    case "assignment": {
      const { stands, mounts } = layer.detail;
      const from = stands.find((s) => s.fromMs !== null)?.fromMs ?? mounts.find((m) => m.fromMs !== null)?.fromMs;
      const who = stands.map((s) => `${s.station}: ${s.lane ?? "nobody"}`).join(", ");
      const since = from === null || from === undefined ? "" : `from ${clock(from, zone)} `;
      return `${since}${who || `${mounts.length} channels to other instruments or places`}`;
    }
    case "calibration":
      return `${layer.name}, ${Object.keys(layer.detail.probes).length} probes`;
    case "flow":
      return `meter ${layer.detail.meter}: true ÷ shown ${layer.detail.factor.toFixed(3)} ± ${layer.detail.limit.toFixed(3)}`;
    case "exclusion": {
      const { lane, fromMs, toMs } = layer.detail;
      return `${clock(fromMs, zone)} to ${clock(toMs, zone)}, ${lane ? `lane ${lane}` : "all lanes"}`;
    }
  }
}
