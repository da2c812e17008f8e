import { measuredLanes, type DoubtFinder } from "./doubt";

export interface Stratified {
  kind: "stratified";
  lane: string;
  /** By how much the probes of one stream stand from their mean, standard, K, against the lane's rise. */
  spreadK: number;
  riseK: number;
  effect: null;
}

/** Share of the rise from which on an unmixed stream is named. */
const MUCH = 0.05;

/** Several probes stand in one outlet and show different temperatures: the stream is in layers, and their mean is not its mean. */
export const stratified: DoubtFinder<Stratified> = {
  find: ({ points }) =>
    measuredLanes(points).flatMap((lane): Stratified[] => {
      const own = points.filter((p) => p.lane === lane);
      const spreads = own.flatMap((p) =>
        [...p.outlet.parts.values()].flatMap(({ source, standard }) =>
          source.kind === "probe" && source.probe.endsWith("/spread") ? [Math.abs(standard)] : [],
        ),
      );
      if (spreads.length === 0) return [];
      const spreadK = Math.max(...spreads);
      const riseK = own.reduce((s, p) => s + p.rise.value, 0) / own.length;
      return spreadK > MUCH * Math.abs(riseK) ? [{ kind: "stratified", lane, spreadK, riseK, effect: null }] : [];
    }),
};
