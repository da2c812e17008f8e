import type { DoubtFinder } from "./doubt";

export interface ModelledSun {
  kind: "modelledSun";
  runs: string[];
  effect: null;
}

/** No sun sensor: a modelled clear sky stood in, which sees no clouds. */
export const modelledSun: DoubtFinder<ModelledSun> = {
  grave: true,
  find: ({ modelledSun: runs }) => (runs.length ? [{ kind: "modelledSun", runs: [...runs], effect: null }] : []),
};
