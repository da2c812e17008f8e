import type { Correction } from "@/core/calibration/correction";
import type { EventKind } from "@/core/log/eventKind";
import type { ChannelKind } from "@/core/log/channel";

export interface TraceSet {
  fromMs: number;
  toMs: number;
  buckets: number;
  perBucket: number;
  events: { atMs: number; kind: EventKind; lane: string | null }[];
  traces: {
    name: string;
    kind: ChannelKind;
    lane: string | null;
    mean: Float32Array;
    out: Float32Array;
    /** What a calibration takes off its readings. */
    correction: Pick<Correction, "t0C" | "offsetK" | "slope"> | null;
  }[];
}

/** Undoes the binary packing of the traces' route. */
export function unpackTraces(buffer: ArrayBuffer): TraceSet {
  const headLength = new DataView(buffer).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, headLength))) as Omit<
    TraceSet,
    "traces"
  > & { traces: Omit<TraceSet["traces"][number], "mean" | "out">[] };
  let at = 4 + headLength;
  const take = () => {
    const array = new Float32Array(buffer, at, head.buckets);
    at += head.buckets * 4;
    return array;
  };
  return { ...head, traces: head.traces.map((t) => ({ ...t, mean: take(), out: take() })) };
}
